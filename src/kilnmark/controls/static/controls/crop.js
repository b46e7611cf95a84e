// A rectangle of the picture: its edges are dragged, moved by arrow keys, and stand as numbers.

import { showSource } from "./lib/source.js";

const LEAST = 0.01;
const SIDES = { left: ["x", 0], top: ["y", 0], right: ["x", 1], bottom: ["y", 1] };
const OPPOSITE = { left: "right", right: "left", top: "bottom", bottom: "top" };

document.addEventListener("alpine:init", () => {
  window.Alpine.data("crop", () => ({
    values: {},

    init() {
      this.refresh();
    },

    refresh() {
      const { path, of, left, top, right, bottom } = this.$root.dataset;
      this.values = { left: +left, top: +top, right: +right, bottom: +bottom };
      this.show();
      showSource(this.$root.querySelector("[data-source]"), { path, of });
    },

    drag(event) {
      const edge = event.currentTarget;
      const { side } = edge.dataset;
      const [axis] = SIDES[side];
      edge.setPointerCapture(event.pointerId);
      edge.focus();
      const follow = (moved) => {
        const box = this.$root.querySelector("[data-frame]").getBoundingClientRect();
        this.put(
          side,
          axis === "x"
            ? (moved.clientX - box.left) / box.width
            : (moved.clientY - box.top) / box.height,
        );
      };
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
      const way = { ArrowLeft: -1, ArrowUp: -1, ArrowRight: 1, ArrowDown: 1 }[event.key];
      if (!way || event.altKey) return;
      event.preventDefault();
      const { side } = event.currentTarget.dataset;
      this.put(side, this.values[side] + way * (event.shiftKey ? 0.05 : 0.005));
      this.commit({ keys: true });
    },

    typed({ target }) {
      if (target.value !== "") this.put(target.dataset.number, target.value / 100, target);
    },

    put(side, value, typing = null) {
      const other = this.values[OPPOSITE[side]];
      const [least, most] = SIDES[side][1] ? [other + LEAST, 1] : [0, other - LEAST];
      this.values[side] = Math.round(Math.min(Math.max(value, least), most) * 10000) / 10000;
      this.show(typing);
      this.$dispatch("control-draft", { edits: this.edits });
    },

    commit(more = {}) {
      this.$dispatch("control-change", {
        edits: this.edits,
        label: "Cropped",
        reload: true,
        ...more,
      });
    },

    get edits() {
      const path = JSON.parse(this.$root.dataset.path);
      const { chain, id } = { chain: path.slice(0, -1), id: path.at(-1) };
      return [{ op: "set_operation", path: chain, operation: id, settings: { ...this.values } }];
    },

    show(typing = null) {
      const { left, top, right, bottom } = this.values;
      Object.assign(this.$root.querySelector("[data-rest]").style, {
        left: `${left * 100}%`,
        top: `${top * 100}%`,
        width: `${(right - left) * 100}%`,
        height: `${(bottom - top) * 100}%`,
      });
      for (const edge of this.$root.querySelectorAll("[data-side]")) {
        const { side } = edge.dataset;
        const [axis] = SIDES[side];
        edge.style[axis === "x" ? "left" : "top"] = `${this.values[side] * 100}%`;
        edge.setAttribute("aria-valuenow", (this.values[side] * 100).toFixed(1));
      }
      for (const input of this.$root.querySelectorAll("[data-number]")) {
        if (input !== typing)
          input.value = Number((this.values[input.dataset.number] * 100).toFixed(1));
      }
    },
  }));
});
