// One value of a form: an input, perhaps with a twin that shows it as a number, and a unit. Moving it is a draft, letting go
// a change; both are told to whatever form it stands in, as `control-draft` and `control-change`.

import { fromPx, lengthPx } from "./lib/layout.js";
import { formatNumber } from "./lib/numbers.js";
import { newVisit } from "./lib/visits.js";

const MOVES = [
  "ArrowUp",
  "ArrowDown",
  "ArrowLeft",
  "ArrowRight",
  "PageUp",
  "PageDown",
  "Home",
  "End",
];
const SELECTOR = "input[data-path], textarea[data-path], select[data-path]";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("control", () => ({
    // The input that carries the path.
    get carrier() {
      return this.$root.querySelector(SELECTOR);
    },
    get twin() {
      return this.$root.querySelector("[data-twin]");
    },
    get unit() {
      return this.$root.querySelector("[data-unit]");
    },

    // Keys on a slider or a number, pressed or held: one change when they rest. Of words, one for as long as one is in them.
    keyed: false,
    visit: "",

    init() {
      this.$root.addEventListener("keydown", ({ key }) => {
        this.keyed = MOVES.includes(key);
      });
      this.$root.addEventListener("pointerdown", () => {
        this.keyed = false;
      });
      this.$root.addEventListener("focusin", () => {
        this.visit = newVisit();
      });
    },

    moved(event) {
      const input = event.target;
      if (input.matches("select, [type=checkbox]")) return;
      if (input.matches("textarea")) return void this.settled(event);
      const typed = input === this.twin;
      if (typed) this.carrier.value = input.value;
      else this.show(this.carrier.value);
      const edit = this.edit(typed ? input.value : this.carrier.value);
      if (edit) this.$dispatch("control-draft", { edits: [edit] });
    },

    tryAll({
      currentTarget: {
        dataset: { kind, path, title },
      },
    }) {
      this.$dispatch("tryouts-wanted", { kind, path, title });
    },

    // A colour of the piece was chosen.
    given({ detail }) {
      this.carrier.value = detail.colour;
      this.show(detail.colour);
      this.settled({ target: this.carrier });
    },

    settled(event) {
      if (event.target === this.unit) this.changeUnit();
      const edit = this.edit(event.target === this.twin ? this.twin.value : this.carrier.value);
      const { title, reload } = this.carrier.dataset;
      const goesOn = this.keyed &&
        event.target.matches("[type=range], [type=number]") && { keys: true };
      const words = event.target.matches("textarea") && { visit: this.visit };
      this.$dispatch("control-change", {
        edits: edit ? [edit] : [],
        label: title || "Changed",
        reload: reload !== undefined,
        ...goesOn,
        ...words,
      });
    },

    edit(value) {
      const { cast, factor, path } = this.carrier.dataset;
      const edit = (found) => ({ op: "set", path: JSON.parse(path), value: found });
      if (cast === "bool") return edit(this.carrier.checked);
      if (cast === "text") return edit(value);
      if (cast === "edges") return { ...this.edges(value), path: JSON.parse(path) };
      if (value === "" || Number.isNaN(Number(value))) return null;
      if (cast === "length") return edit({ value: Number(value), unit: this.unit.value });
      return edit(Number(value) / Number(factor || 1));
    },

    // What lies beyond a texture may be something that prepares it.
    edges(value) {
      const laid = value === "endless" && { piece: Number(this.carrier.dataset.piece) };
      return { op: "set_edges", edges: value, ...laid };
    },

    show(value) {
      if (this.twin)
        this.twin.value = this.carrier.dataset.cast === "text" ? value : formatNumber(value);
    },

    // The same length in another unit. What % is of, and the ppi, stand on the form.
    changeUnit() {
      const { carrier, unit } = this;
      const { ppi, unitPx } = this.$root.closest("[data-unit-px]").dataset;
      const turn = (value, from) =>
        fromPx(lengthPx({ value: Number(value), unit: from }, ppi, unitPx), unit.value, ppi, unitPx)
          .value;
      const value = turn(carrier.value, unit.dataset.was); // before other ends cut it
      if (carrier.type === "range") {
        carrier.min = turn(carrier.dataset.least, "px");
        carrier.max = turn(carrier.dataset.most, "px");
      }
      carrier.value = value;
      this.show(value);
      unit.dataset.was = unit.value;
    },
  }));
});
