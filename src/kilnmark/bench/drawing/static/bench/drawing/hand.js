// The hand's part of the sheet: whether it draws, with which tip, and what is done to the strokes that are there.

import { post } from "../../kilnmark/api.js";
import { hear, say } from "../events.js";
import { store } from "../store.js";
import { LINE, brush, hold, takeTip } from "./brush.js";
import { scrapeEdges } from "./scrape.js";

const HANDFUL = 12;
const FREE = "Drag it to move it, its handles to bend it.";
const CURVED =
  "Drag it to move it, its points to bend it. Press twice to add a point, or on one for a corner.";

const shownMm = (value) => (value < 1 ? value.toFixed(2) : value.toFixed(1));

document.addEventListener("alpine:init", () => {
  window.Alpine.data("hand", () => ({
    drawing: "false",
    choosing: "false",
    letGo: true, // no stroke is held
    heldSays: "",
    ends: null, // of its own: what is not named here would be written on the bench

    init() {
      this.ends = [
        hear("drawing-told", (told) => this.tell(told)),
        hear("stroke-held", (told) => this.showHeld(told)),
        hear("brush-moved", () => this.show()),
        hear("sheet-loaded", () => this.showAll()),
      ];
      const { held, choosing } = store.drawing ?? {};
      this.tell({ path: held ? JSON.stringify(held.path) : "", choosing });
      this.showAll();
    },
    destroy() {
      for (const end of this.ends) end();
      if (this.isHere && !this.$root.isConnected) store.drawing.stop();
    },

    tell({ path, choosing }) {
      const here = path === JSON.stringify(this.held.path);
      this.drawing = String(here && !choosing);
      this.choosing = String(Boolean(here && choosing));
    },
    get isHere() {
      return this.drawing === "true" || this.choosing === "true";
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
    chooseOne() {
      if (this.choosing === "true") return void store.drawing.stop();
      store.drawing.start(this.held, { choosing: true });
      store.drawing.pad.focus({ preventScroll: true });
    },

    showAll() {
      this.show();
      if (this.choosing === "true") this.showHeld(store.drawing.hold.toldOf);
    },

    // What is in the hand, on its controls.
    show() {
      for (const input of this.$root.querySelectorAll("[data-brush]")) {
        const { brush: name, factor = 1 } = input.dataset;
        const value = brush[name];
        if (name === "tip") input.checked = input.value === (brush.line ? LINE : value);
        else if (input.type === "radio") input.checked = input.value === String(value);
        else if (input.type === "checkbox")
          input.checked = input.dataset.on ? value === input.dataset.on : Boolean(value);
        else if (document.activeElement !== input || input.type === "range")
          input.value = name.endsWith("Mm") ? shownMm(value) : Math.round(value * factor);
      }
      for (const one of this.$root.querySelectorAll("[data-only]"))
        one.hidden = (one.dataset.only === "rough") !== Boolean(brush.tip);
    },

    // A control of the hand. data-brush : which value, data-factor : the shown value is so many times it.
    take({ target }) {
      const { brush: name, factor = 1, told, on, off } = target.dataset;
      if (target.dataset.stroke) return void this.changeHeld(target);
      if (!name) return;
      if (name === "tip") takeTip(target.value, JSON.parse(told));
      else if (name === "way") hold({ way: target.value });
      else if (target.type === "radio") hold({ [name]: target.value === "true" });
      else if (target.type === "checkbox")
        hold({ [name]: on ? (target.checked ? on : off) : target.checked });
      else if (Number.isFinite(target.valueAsNumber) && target.value !== "")
        hold({ [name]: Math.min(Math.max(target.valueAsNumber, target.min), target.max) / factor });
      this.begin();
      say("brush-moved");
    },

    scrape({ currentTarget }) {
      this.begin();
      scrapeEdges(store.drawing, currentTarget.dataset.side);
    },
    scratches() {
      this.begin();
      store.drawing.ways.scratch.several(HANDFUL);
    },

    takeBack() {
      this.change([{ op: "take_back_stroke", path: this.held.path, number: -1 }], "Taken back");
    },

    // The stroke that is held, on its controls.
    showHeld({ stroke, number, of }) {
      this.letGo = !stroke || !this.isHere;
      if (this.letGo) return;
      this.heldSays = `Stroke ${number + 1} of ${of}. ${stroke.curved ? CURVED : FREE}`;
      for (const input of this.$root.querySelectorAll("[data-stroke]")) {
        const { stroke: name, factor = 1 } = input.dataset;
        if (input.type === "checkbox") input.checked = stroke[name] === "flat";
        else if (document.activeElement !== input || input.type === "range")
          input.value = shownMm(store.drawing.inMm(stroke[name] * factor));
      }
    },
    // A slider is stored when it is let go.
    changeHeld({ type, dataset, checked, valueAsNumber, min, max }) {
      const { hold: way } = store.drawing;
      const { stroke: name, factor = 1 } = dataset;
      if (type === "checkbox") way.change({ [name]: checked ? "flat" : "round" });
      else if (Number.isFinite(valueAsNumber)) {
        const mm = Math.min(Math.max(valueAsNumber, min), max);
        way.vary({ [name]: store.drawing.ofMm(mm) / factor });
      }
    },
    stepBack() {
      store.drawing.hold.step(-1);
    },
    stepOn() {
      store.drawing.hold.step(1);
    },
    takeAway() {
      store.drawing.hold.takeAway();
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
