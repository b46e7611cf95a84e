// Black point, middle and white point over a histogram, with the ramp from hidden to shown below.

const clamp = (value, least, most) => Math.min(Math.max(value, least), most);

document.addEventListener("alpine:init", () => {
  window.Alpine.data("levels", () => ({
    init() {
      this.refresh();
    },

    // What the server last said.
    refresh() {
      const { black, gamma, white, invert, path } = this.$root.dataset;
      this.path = JSON.parse(path);
      this.values = { black: clamp(+black, 0, 1), gamma: +gamma, white: clamp(+white, 0, 1) };
      this.inverted = invert === "true";
      this.solved = "solved" in this.$root.dataset;
      if (this.solved)
        this.$root.querySelector("[data-solved-told]").textContent = this.$root.dataset.solved;
      this.show();
    },

    drag(event) {
      const point = event.currentTarget;
      const name = point.dataset.point;
      const plot = this.$root.querySelector(".levels-plot");
      point.setPointerCapture(event.pointerId);
      point.focus();
      const follow = (moved) => {
        const { left, width } = plot.getBoundingClientRect();
        this.put(name, this.fromTone(name, clamp((moved.clientX - left) / width, 0, 1)));
      };
      point.addEventListener("pointermove", follow);
      point.addEventListener(
        "lostpointercapture",
        () => {
          point.removeEventListener("pointermove", follow);
          this.commit();
        },
        { once: true },
      );
    },

    nudge(event) {
      const { point: name } = event.currentTarget.dataset;
      const way = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
      if (!way || event.altKey) return;
      event.preventDefault();
      const step = (event.shiftKey ? 10 : 1) * way;
      this.put(
        name,
        name === "gamma" ? this.values.gamma * 1.03 ** step : this.values[name] + step / 255,
      );
      this.commit({ keys: true });
    },

    typed(event) {
      const input = event.target;
      const name = input.dataset.number;
      if (input.value !== "") this.put(name, input.value / (name === "gamma" ? 1 : 255), input);
    },

    // The middle is where half shows: black + (white - black) * 0.5 ** gamma.
    fromTone(name, tone) {
      if (name !== "gamma") return tone;
      const { black, white } = this.values;
      const share = clamp((tone - black) / Math.max(white - black, 1e-3), 0.001, 0.93);
      return Math.log(share) / Math.log(0.5);
    },

    put(name, value, typing = null) {
      const { black, white } = this.values;
      const bounds = { black: [0, white], white: [black, 1], gamma: [0.1, 10] }[name];
      this.values[name] = Math.round(clamp(value, ...bounds) * 10000) / 10000;
      this.show(typing);
      this.$dispatch("control-draft", { edits: this.edits });
    },

    // A solved point that is moved by hand is no longer solved: the aim goes off, and the sheet says so.
    commit(more = {}) {
      this.show();
      this.$dispatch("control-change", {
        edits: this.edits,
        label: "Black and white points",
        reload: this.solved,
        ...more,
      });
    },

    get edits() {
      const points = Object.entries(this.values).map(([key, value]) => ({
        op: "set",
        path: [...this.path, key],
        value,
      }));
      return this.solved
        ? [{ op: "set", path: [...this.path, "aim"], value: false }, ...points]
        : points;
    },

    show(typing = null) {
      const { black, gamma, white } = this.values;
      const tones = { black, white, gamma: black + (white - black) * 0.5 ** gamma };
      for (const point of this.$root.querySelectorAll("[data-point]")) {
        const name = point.dataset.point;
        point.style.left = `${tones[name] * 100}%`;
        point.setAttribute(
          "aria-valuenow",
          name === "gamma" ? gamma.toFixed(2) : Math.round(tones[name] * 255),
        );
      }
      for (const input of this.$root.querySelectorAll("[data-number]")) {
        const name = input.dataset.number;
        if (input !== typing)
          input.value = name === "gamma" ? gamma.toFixed(2) : Math.round(this.values[name] * 255);
      }
      this.$root.querySelector("[data-low-label]").textContent = this.inverted
        ? "shown to"
        : "hidden to";
      this.$root.querySelector("[data-high-label]").textContent = this.inverted
        ? "hidden from"
        : "shown from";
      this.ramp();
    },

    ramp() {
      const context = this.$root.querySelector(".ramp").getContext("2d");
      const image = context.createImageData(256, 1);
      const { black, gamma, white } = this.values;
      for (let tone = 0; tone < 256; tone += 1) {
        const t = clamp((tone / 255 - black) / Math.max(white - black, 1e-6), 0, 1) ** (1 / gamma);
        const shown = 255 * (this.inverted ? 1 - t : t);
        image.data.set([shown, shown, shown, 255], tone * 4);
      }
      context.putImageData(image, 0, 0);
    },
  }));
});
