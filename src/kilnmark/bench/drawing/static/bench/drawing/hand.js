// The hand's part of the sheet: whether it draws, with which tip, and what is done to the strokes that are there.

import { post } from "../../kilnmark/api.js";
import { hear, say } from "../events.js";
import { store } from "../store.js";
import { LINE, brush, hold, takeTip } from "./brush.js";
import { pointAtStroke } from "./pointing.js";

const HANDFUL = 12;

const shownMm = (value) => (value < 1 ? value.toFixed(2) : value.toFixed(1));

document.addEventListener("alpine:init", () => {
  window.Alpine.data("hand", () => ({
    drawing: "false",
    ends: null, // of its own: what is not named here would be written on the bench

    init() {
      this.ends = [
        hear("drawing-told", ({ path }) => {
          this.drawing = String(path === JSON.stringify(this.held.path));
        }),
        hear("brush-moved", () => this.show()),
        hear("sheet-loaded", () => this.show()),
      ];
      const { held } = store.drawing ?? {};
      this.drawing = String(
        Boolean(held) && JSON.stringify(held.path) === JSON.stringify(this.held.path),
      );
      this.show();
    },
    destroy() {
      for (const end of this.ends) end();
      if (this.drawing === "true" && !this.$root.isConnected) store.drawing.stop();
    },

    get held() {
      const { path, of, part, bends } = this.$root.dataset;
      return { path: JSON.parse(path), name: of, part, bends: bends === "true" };
    },

    toggle() {
      if (this.drawing === "true") store.drawing.stop();
      else {
        store.drawing.start(this.held);
        store.drawing.pad.focus({ preventScroll: true });
      }
    },
    begin() {
      if (this.drawing !== "true") store.drawing.start(this.held);
    },

    // What is in the hand, on its controls.
    show() {
      for (const input of this.$root.querySelectorAll("[data-brush]")) {
        const { brush: name, factor = 1 } = input.dataset;
        const value = brush[name];
        if (name === "tip") input.checked = input.value === (brush.line ? LINE : value);
        else if (input.type === "radio") input.checked = input.value === String(value);
        else if (input.type === "checkbox") input.checked = Boolean(value);
        else if (document.activeElement !== input || input.type === "range")
          input.value = name.endsWith("Mm") ? shownMm(value) : Math.round(value * factor);
      }
      for (const one of this.$root.querySelectorAll("[data-only]"))
        one.hidden = (one.dataset.only === "rough") !== Boolean(brush.tip);
    },

    // A control of the hand. data-brush : which value, data-factor : the shown value is so many times it.
    take({ target }) {
      const { brush: name, factor = 1, told } = target.dataset;
      if (!name) return;
      if (name === "tip") takeTip(target.value, JSON.parse(told));
      else if (target.type === "radio") hold({ [name]: target.value === "true" });
      else if (target.type === "checkbox") hold({ [name]: target.checked });
      else if (Number.isFinite(target.valueAsNumber) && target.value !== "")
        hold({ [name]: Math.min(Math.max(target.valueAsNumber, target.min), target.max) / factor });
      this.begin();
      say("brush-moved");
    },

    scrape({ currentTarget }) {
      this.begin();
      store.drawing.scrape(currentTarget.dataset.side);
    },
    scratches() {
      this.begin();
      store.drawing.scratches(HANDFUL);
    },

    takeBack() {
      this.change([{ op: "take_back_stroke", path: this.held.path, number: -1 }], "Taken back");
    },
    async takeOneBack() {
      const { held } = this;
      store.drawing.stop();
      const number = await pointAtStroke(held);
      if (number !== null)
        this.change([{ op: "take_back_stroke", path: held.path, number }], "Taken back");
    },
    invert() {
      this.change([{ op: "invert_strokes", path: this.held.path }], "Inverted");
    },
    // Strokes under a name, laid after those that are there, or thrown into the bin.
    async keepSet() {
      const field = this.$root.querySelector("[data-set-name]");
      const { path } = this.held;
      await this.told(post(`${store.session.base}sets/`, { path, name: field.value }));
      field.value = "";
    },
    laySet({ currentTarget }) {
      const { edit, files } = currentTarget.dataset;
      const made = JSON.parse(edit);
      this.change([{ ...made, value: [...made.value, ...JSON.parse(files)] }], "Kept strokes laid");
    },
    throwSet({ currentTarget }) {
      this.told(post(currentTarget.dataset.url, {}));
    },
    async told(answering) {
      const answer = await answering;
      if (answer.ok) say("sheet-changed");
      else say("trouble-told", { message: answer.message });
    },

    edit({ currentTarget }) {
      this.change([JSON.parse(currentTarget.dataset.edit)], currentTarget.dataset.label);
    },
    change(edits, label) {
      store.session.change(edits, `${label}, by hand`, { reload: true });
    },
  }));
});
