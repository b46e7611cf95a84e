// One ramp from hidden to shown, by two to five pins over a histogram. Each is dragged, moved by arrow keys, or typed:
// the tone at which it stands, and how much is shown there.

const clamp = (value, least, most) => Math.min(Math.max(value, least), most);
const MOST = 5;

document.addEventListener("alpine:init", () => {
  window.Alpine.data("ramp", () => ({
    path: [],
    pins: [], // of its own: what is not named here would be written around it

    init() {
      this.refresh();
    },

    refresh() {
      this.path = JSON.parse(this.$root.dataset.path);
      this.pins = JSON.parse(this.$root.dataset.pins);
      this.build();
    },

    part(name) {
      return this.$root.querySelector(`[data-${name}]`);
    },
    get edits() {
      return [{ op: "set", path: this.path, value: this.pins.map((pin) => ({ ...pin })) }];
    },

    build() {
      this.part("points").replaceChildren(...this.pins.map((_, n) => this.point(n)));
      this.part("list").replaceChildren(...this.pins.map((_, n) => this.row(n)));
      this.part("add-pin").hidden = this.pins.length >= MOST;
      this.show();
    },

    point(n) {
      const point = document.createElement("button");
      Object.assign(point, { type: "button", className: "point" });
      point.setAttribute("role", "slider");
      point.setAttribute("aria-label", `Pin ${n + 1}`);
      point.setAttribute("aria-valuemin", "0");
      point.setAttribute("aria-valuemax", "255");
      point.addEventListener("pointerdown", (event) => this.drag(event, n));
      point.addEventListener("keydown", (event) => this.nudge(event, n));
      return point;
    },

    row(n) {
      const item = document.createElement("li");
      const field = (name, label, factor, unit) => {
        const holder = document.createElement("label");
        const input = Object.assign(document.createElement("input"), {
          type: "number",
          className: "number",
          min: 0,
          max: factor,
          step: 1,
        });
        input.dataset[name] = n;
        input.setAttribute("aria-label", `Pin ${n + 1}, ${label}`);
        input.addEventListener(
          "input",
          () => input.value !== "" && this.put(n, { [name]: Number(input.value) / factor }, input),
        );
        input.addEventListener("change", () => this.commit());
        holder.append(`${label} `, input, unit);
        return holder;
      };
      item.append(field("at", "tone", 255, ""), field("shown", "shown", 100, " %"));
      if (this.pins.length > 2) {
        const away = Object.assign(document.createElement("button"), {
          type: "button",
          className: "link",
          textContent: "remove",
        });
        away.setAttribute("aria-label", `Remove pin ${n + 1}`);
        away.addEventListener("click", () =>
          this.change(this.pins.filter((_, other) => other !== n)),
        );
        item.append(away);
      }
      return item;
    },

    add() {
      const gaps = this.pins.slice(1).map((pin, n) => pin.at - this.pins[n].at);
      const n = gaps.indexOf(Math.max(...gaps));
      const [near, far] = [this.pins[n], this.pins[n + 1]];
      this.change(
        this.pins.toSpliced(n + 1, 0, {
          at: (near.at + far.at) / 2,
          shown: (near.shown + far.shown) / 2,
        }),
      );
    },

    change(pins) {
      this.pins = pins;
      this.build();
      this.commit();
    },

    drag(event, n) {
      const point = event.currentTarget;
      point.setPointerCapture(event.pointerId);
      point.focus();
      const follow = (moved) => {
        const { left, width } = this.$root.querySelector(".levels-plot").getBoundingClientRect();
        this.put(n, { at: clamp((moved.clientX - left) / width, 0, 1) });
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

    nudge(event, n) {
      const way = {
        ArrowLeft: ["at", -1],
        ArrowRight: ["at", 1],
        ArrowDown: ["shown", -1],
        ArrowUp: ["shown", 1],
      }[event.key];
      if (!way || event.altKey) return;
      event.preventDefault();
      const step = (event.shiftKey ? 10 : 1) * way[1];
      this.put(n, { [way[0]]: this.pins[n][way[0]] + step / (way[0] === "at" ? 255 : 100) });
      this.commit({ keys: true });
    },

    put(n, values, typing = null) {
      const pin = { ...this.pins[n], ...values };
      pin.at = clamp(pin.at, this.pins[n - 1]?.at ?? 0, this.pins[n + 1]?.at ?? 1);
      pin.shown = clamp(pin.shown, 0, 1);
      this.pins[n] = pin;
      this.show(typing);
      this.$dispatch("control-draft", { edits: this.edits });
    },

    commit(more = {}) {
      this.$dispatch("control-change", { edits: this.edits, label: "Ramp", ...more });
    },

    show(typing = null) {
      [...this.part("points").children].forEach((point, n) => {
        const { at, shown } = this.pins[n];
        point.style.left = `${at * 100}%`;
        point.setAttribute("aria-valuenow", Math.round(at * 255));
        point.setAttribute(
          "aria-valuetext",
          `tone ${Math.round(at * 255)}, ${Math.round(shown * 100)} % shown`,
        );
      });
      for (const input of this.part("list").querySelectorAll("input")) {
        const name = "at" in input.dataset ? "at" : "shown";
        if (input !== typing)
          input.value = Math.round(
            this.pins[input.dataset[name]][name] * (name === "at" ? 255 : 100),
          );
      }
      this.paint();
    },

    paint() {
      const context = this.$root.querySelector("canvas.ramp").getContext("2d");
      const image = context.createImageData(256, 1);
      for (let tone = 0; tone < 256; tone += 1) {
        const shown = 255 * this.at(tone / 255);
        image.data.set([shown, shown, shown, 255], tone * 4);
      }
      context.putImageData(image, 0, 0);
    },

    at(tone) {
      const n = this.pins.findIndex((pin) => pin.at > tone);
      if (n === 0) return this.pins[0].shown;
      if (n < 0) return this.pins.at(-1).shown;
      const [near, far] = [this.pins[n - 1], this.pins[n]];
      return (
        near.shown +
        ((tone - near.at) / Math.max(far.at - near.at, 1e-6)) * (far.shown - near.shown)
      );
    },
  }));
});
