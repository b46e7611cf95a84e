// A blend range: one trapezoid over the tones of the pixels concerned. Its four edges and its middle are dragged, moved by arrow
// keys, or typed from 0 to 255.

const NAMES = ["hidden_below", "shown_from", "shown_to", "hidden_above"];
const SHOULDER = 20 / 255;
const TALL = 64;
const LEAST = 0.002; // of the pixels: with fewer nothing lands
const clamp = (value, least, most) => Math.min(Math.max(value, least), most);

document.addEventListener("alpine:init", () => {
  window.Alpine.data("range", () => ({
    // of its own: what is not named here would be written on the bench
    values: {},
    path: [],
    counts: [],
    hover: null,

    init() {
      this.refresh();
      this.hover = ({ detail }) => this.hovered(detail.at);
      window.addEventListener("tone-under", this.hover);
    },
    destroy() {
      window.removeEventListener("tone-under", this.hover);
    },

    refresh() {
      const { dataset } = this.$root;
      this.path = JSON.parse(dataset.path);
      this.values = Object.fromEntries(NAMES.map((name) => [name, Number(dataset[name])]));
      this.show();
      this.$dispatch("tones-wanted", {
        ...dataset,
        give: (counts) => {
          this.counts = counts;
          this.plot();
          this.tell();
        },
      });
    },

    part(name) {
      return this.$root.querySelector(name);
    },

    drag(event) {
      const edge = event.currentTarget;
      const { left, width } = this.part(".range-plot").getBoundingClientRect();
      edge.setPointerCapture(event.pointerId);
      edge.focus();
      const start = { ...this.values };
      const from = (event.clientX - left) / width;
      const follow = (moved) =>
        this.move(edge.dataset.edge, start, (moved.clientX - left) / width - from);
      edge.addEventListener("pointermove", follow);
      edge.addEventListener(
        "lostpointercapture",
        () => {
          edge.removeEventListener("pointermove", follow);
          this.commit();
        },
        { once: true },
      );
    },

    nudge(event) {
      const way = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
      if (!way || event.altKey) return;
      event.preventDefault();
      this.move(
        event.currentTarget.dataset.edge,
        { ...this.values },
        (way * (event.shiftKey ? 10 : 1)) / 255,
      );
      this.commit({ keys: true });
    },

    // The middle moves all four, as far as there is room; ends at 0 or 255 stay there.
    move(edge, start, by) {
      if (edge !== "middle") return void this.put(edge, start[edge] + by);
      const free = NAMES.filter((name) => start[name] > 0 && start[name] < 1);
      const room = free.map((name) => start[name]);
      const way = clamp(by, -Math.min(1, ...room), 1 - Math.max(0, ...room));
      this.set({ ...start, ...Object.fromEntries(free.map((name) => [name, start[name] + way])) });
    },

    put(name, value, typing = null) {
      const at = NAMES.indexOf(name);
      const least = at ? this.values[NAMES[at - 1]] : 0;
      const most = at < 3 ? this.values[NAMES[at + 1]] : 1;
      this.set({ ...this.values, [name]: clamp(value, least, most) }, typing);
    },

    set(values, typing = null) {
      this.values = Object.fromEntries(
        NAMES.map((name) => [name, Math.round(values[name] * 10000) / 10000]),
      );
      this.show(typing);
      this.$dispatch("control-draft", { edits: this.edits });
    },

    typed({ target }) {
      if (target.value !== "") this.put(target.dataset.number, target.value / 255, target);
    },
    commit(more = {}) {
      this.show();
      this.$dispatch("control-change", {
        edits: this.edits,
        label: "Blend range",
        reload: true,
        ...more,
      });
    },

    get edits() {
      return NAMES.map((name) => ({
        op: "set",
        path: [...this.path, name],
        value: this.values[name],
      }));
    },

    // Round the tone that is clicked on the piece, with soft shoulders.
    pick() {
      this.$dispatch("tone-picked", { ...this.$root.dataset, give: (tone) => this.around(tone) });
    },

    around(tone) {
      const around = {
        hidden_below: tone - 2 * SHOULDER,
        shown_from: tone - SHOULDER,
        shown_to: tone + SHOULDER,
        hidden_above: tone + 2 * SHOULDER,
      };
      this.set(Object.fromEntries(NAMES.map((name) => [name, clamp(around[name], 0, 1)])));
      this.commit();
    },

    // Shoulders of at least 20 levels, as far as there is room.
    soften() {
      const { hidden_below: a, shown_from: b, shown_to: c, hidden_above: d } = this.values;
      const low = b > 0 ? Math.min(a, Math.max(b - SHOULDER, 0)) : 0;
      const high = c < 1 ? Math.max(d, Math.min(c + SHOULDER, 1)) : 1;
      this.set({ hidden_below: low, shown_from: b, shown_to: c, hidden_above: high });
      this.commit();
    },

    // The tone in the middle of those that there are.
    takeThere() {
      let sum = 0;
      const middle = this.counts.findIndex((count) => (sum += count) >= 0.5);
      this.around(Math.max(middle, 0) / 255);
    },

    remedy({ currentTarget }) {
      this[currentTarget.dataset.act]();
    },

    hovered(at) {
      if (!at || !this.$root.offsetParent) return void this.mark(null);
      this.$dispatch("tone-wanted", { ...this.$root.dataset, at, give: (tone) => this.mark(tone) });
    },

    mark(tone) {
      const line = this.part("[data-tone]");
      line.hidden = tone === null;
      if (tone !== null) line.style.left = `${tone * 100}%`;
    },

    show(typing = null) {
      const { hidden_below: a, shown_from: b, shown_to: c, hidden_above: d } = this.values;
      const points = [
        [a, TALL],
        [b, 3],
        [c, 3],
        [d, TALL],
      ];
      if (a === 0 && b === 0) points[0] = [0, TALL];
      this.part("[data-shown]").setAttribute(
        "points",
        points.map(([x, y]) => `${x * 256},${y}`).join(" "),
      );
      for (const edge of this.$root.querySelectorAll("[data-edge]")) {
        const { edge: name } = edge.dataset;
        const at = name === "middle" ? (b + c) / 2 : this.values[name];
        edge.style.left = `${at * 100}%`;
        edge.setAttribute("aria-valuenow", Math.round(at * 255));
      }
      for (const input of this.$root.querySelectorAll("[data-number]"))
        if (input !== typing) input.value = Math.round(this.values[input.dataset.number] * 255);
      this.tell();
    },

    plot() {
      const roots = this.counts.map(Math.sqrt);
      const most = [...roots].sort((p, q) => p - q).at(-6) || Math.max(...roots) || 1;
      const line = roots
        .map(
          (root, tone) => `L${tone} ${(TALL - Math.min(root / most, 1) * (TALL - 4)).toFixed(1)}`,
        )
        .join(" ");
      this.part("[data-tones]").setAttribute("d", `M0 ${TALL} ${line} L256 ${TALL}Z`);
    },

    // A hard edge, or a range through which nothing lands, said in words, with what can be done.
    tell() {
      const [words, act, remedy] = this.fault() ?? ["", "", ""];
      const button = this.part("[data-remedy]");
      this.part("[data-range-told]").textContent = words;
      Object.assign(button, { hidden: !words, textContent: remedy });
      button.dataset.act = act;
    },

    fault() {
      const { hidden_below: a, shown_from: b, shown_to: c, hidden_above: d } = this.values;
      if (this.counts.length && this.lands < LEAST)
        return [`Nothing lands: ${this.missing()}.`, "takeThere", "Take the tones that are there"];
      const hard = (b > 0 && b - a < 2 / 255) || (c < 1 && d - c < 2 / 255);
      return hard ? ["A hard edge looks cut out: soften it.", "soften", "Soften it"] : null;
    },

    get lands() {
      const { hidden_below: a, shown_from: b, shown_to: c, hidden_above: d } = this.values;
      const weight = (t) =>
        Math.min(
          t >= b ? 1 : (t - a) / Math.max(b - a, 1e-6),
          t <= c ? 1 : (d - t) / Math.max(d - c, 1e-6),
        );
      const through = this.counts.reduce(
        (sum, count, n) => sum + count * Math.max(weight(n / 255), 0),
        0,
      );
      return this.$root.dataset.outside === "true" ? 1 - through : through;
    },

    missing() {
      const { of, reads, outside } = this.$root.dataset;
      const whose = {
        own: "no pixel of it",
        input: "no pixel that it lands on",
        beneath: "no pixel beneath",
      }[of];
      const mean = this.counts.reduce((sum, count, n) => sum + (count * n) / 255, 0);
      if (outside === "true") return `${whose} has any other tones`;
      const above = mean < this.values.shown_from;
      const words = {
        luminance: ["dark", "light"],
        lightness: ["dark", "light"],
        saturation: ["grey", "colourful"],
      }[reads];
      return words
        ? `${whose} is that ${words[Number(above)]}`
        : `${whose} has ${above ? "so much" : "so little"} ${reads}`;
    },
  }));
});
