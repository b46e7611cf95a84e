// The stops of a gradient along a line: dragged, moved by arrow keys, added by a click beside them.

import { hexOf } from "./lib/bars.js";

const MOST = 12;

// Two hex digits of a share.
const byte = (share = 1) =>
  Math.round(share * 255)
    .toString(16)
    .padStart(2, "0");

document.addEventListener("alpine:init", () => {
  window.Alpine.data("gradient", () => ({
    stops: [],
    chosen: 0,
    dragged: false,

    init() {
      this.$root.addEventListener("colour-given", ({ detail }) => this.paint(detail.colour));
      this.refresh();
    },

    refresh() {
      this.stops = JSON.parse(this.$root.dataset.stops);
      this.chosen = Math.min(this.chosen, this.stops.length - 1);
      this.show();
    },

    get few() {
      return this.stops.length < 3;
    },
    get stop() {
      return this.stops[this.chosen];
    },

    show() {
      const inOrder = [...this.stops].sort((a, b) => a.at - b.at);
      this.$root.querySelector("[data-ramp]").style.backgroundImage =
        `linear-gradient(90deg, ${inOrder.map(({ colour, alpha, at }) => `${colour}${byte(alpha)} ${at * 100}%`).join(", ")}), var(--hatching)`;
      this.points();
      const [hex, well, at, alpha] = ["[data-new]", "[data-well]", "[data-at]", "[data-alpha]"].map(
        (which) => this.$root.querySelector(which),
      );
      hex.value = well.value = this.stop.colour;
      at.value = Math.round(this.stop.at * 100);
      alpha.value = Math.round((this.stop.alpha ?? 1) * 100);
    },

    points() {
      const root = this.$root.querySelector("[data-points]");
      const focused = root.contains(document.activeElement);
      root.replaceChildren(
        ...this.stops.map((stop, n) => {
          const point = document.createElement("button");
          Object.assign(point, { type: "button", className: "stop", title: stop.colour });
          Object.assign(point.style, { left: `${stop.at * 100}%`, backgroundColor: stop.colour });
          const facts = {
            role: "slider",
            "aria-label": `Stop ${n + 1}, ${stop.colour}`,
            "aria-valuemin": 0,
            "aria-valuemax": 100,
            "aria-valuenow": Math.round(stop.at * 100),
            "aria-current": String(n === this.chosen),
          };
          for (const [name, value] of Object.entries(facts)) point.setAttribute(name, value);
          point.addEventListener("pointerdown", (event) => this.drag(event, n));
          point.addEventListener("keydown", (event) => this.nudge(event, n));
          point.addEventListener("focus", () => n !== this.chosen && this.choose(n));
          point.addEventListener("click", (event) => event.stopPropagation());
          return point;
        }),
      );
      if (focused) root.children[this.chosen]?.focus();
    },

    choose(n) {
      this.chosen = n;
      this.show();
    },

    drag(event, n) {
      event.preventDefault();
      this.choose(n);
      const plot = this.$root.querySelector("[data-plot]");
      plot.setPointerCapture(event.pointerId);
      const follow = (moved) => {
        const { left, width } = plot.getBoundingClientRect();
        this.dragged = true;
        this.move(Math.min(Math.max((moved.clientX - left) / width, 0), 1));
      };
      this.dragged = false;
      plot.addEventListener("pointermove", follow);
      plot.addEventListener(
        "lostpointercapture",
        () => {
          plot.removeEventListener("pointermove", follow);
          if (this.dragged) this.commit();
        },
        { once: true },
      );
    },

    nudge(event, n) {
      const way = { ArrowLeft: -1, ArrowDown: -1, ArrowRight: 1, ArrowUp: 1 }[event.key];
      if (event.key === "Delete" && !this.few) {
        event.stopPropagation();
        return void this.remove();
      }
      if (!way || event.altKey) return;
      event.preventDefault();
      this.chosen = n;
      this.move(Math.min(Math.max(this.stop.at + way * (event.shiftKey ? 0.1 : 0.01), 0), 1));
      this.commit({ keys: true });
    },

    move(at) {
      this.stops[this.chosen] = { ...this.stop, at: Math.round(at * 1000) / 1000 };
      this.show();
      this.$dispatch("control-draft", { edits: this.edits });
    },

    add(event) {
      if (this.dragged) return void (this.dragged = false);
      if (this.stops.length >= MOST) return;
      const { left, width } = event.currentTarget.getBoundingClientRect();
      const at = Math.round(((event.clientX - left) / width) * 1000) / 1000;
      const nearest = [...this.stops].sort((a, b) => Math.abs(a.at - at) - Math.abs(b.at - at))[0];
      this.stops.push({ ...nearest, at });
      this.choose(this.stops.length - 1);
      this.commit();
    },

    remove() {
      if (this.few) return;
      this.stops.splice(this.chosen, 1);
      this.choose(Math.max(0, this.chosen - 1));
      this.commit();
    },

    typed({ target }) {
      const found = hexOf(target.value);
      if (found) this.paint(found);
      else this.show();
    },
    drafted({ target }) {
      this.stops[this.chosen] = { ...this.stop, colour: target.value };
      this.$dispatch("control-draft", { edits: this.edits });
    },
    welled({ target }) {
      this.paint(target.value);
    },
    placed({ target }) {
      if (target.value === "") return;
      this.move(Math.min(Math.max(target.value / 100, 0), 1));
      this.commit();
    },

    covered({ target }) {
      if (target.value === "") return;
      const alpha = Math.min(Math.max(target.value / 100, 0), 1);
      this.stops[this.chosen] = { ...this.stop, alpha };
      this.show();
      this.commit();
    },

    paint(colour) {
      this.stops[this.chosen] = { ...this.stop, colour };
      this.show();
      this.commit();
    },

    get edits() {
      return [
        {
          op: "set",
          path: JSON.parse(this.$root.dataset.path),
          value: this.stops.map((stop) => ({ ...stop })),
        },
      ];
    },

    commit(more = {}) {
      this.$dispatch("control-change", { edits: this.edits, label: "Gradient", ...more });
    },
  }));
});
