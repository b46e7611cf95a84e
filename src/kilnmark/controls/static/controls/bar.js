// A drawing's colours as one bar in their proportions; the chosen one is replaced.

import { bar, hexOf } from "./lib/bars.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("colourBar", () => ({
    colours: [],
    changed: {},
    chosen: -1,
    told: "",

    init() {
      this.$root.addEventListener("colour-given", ({ detail }) => this.put(detail.colour));
      this.refresh();
    },

    refresh() {
      const { colours, changed } = this.$root.dataset;
      this.colours = JSON.parse(colours).map(([old, share]) => ({ old, share }));
      this.changed = JSON.parse(changed);
      this.show();
    },

    get some() {
      return this.chosen >= 0;
    },
    get none() {
      return this.chosen < 0;
    },
    get old() {
      return this.colours[this.chosen]?.old;
    },
    get isNew() {
      return this.old in this.changed;
    },

    shown(n) {
      return this.changed[this.colours[n].old] ?? this.colours[n].old;
    },

    show() {
      const shares = this.colours.map(({ share }, n) => ({ colour: this.shown(n), share }));
      const name = (n) =>
        `${this.shown(n)}, ${Math.max(1, Math.round(this.colours[n].share * 100))} %: replace it`;
      bar(this.$root.querySelector("[data-bar]"), shares, {
        chosen: this.chosen,
        name,
        onchoose: (n) => this.choose(n),
      });
      if (this.none) return;
      const [hex, well] = ["[data-new]", "[data-well]"].map((which) =>
        this.$root.querySelector(which),
      );
      hex.value = well.value = this.shown(this.chosen);
      this.told = this.isNew
        ? `was ${this.old}`
        : `${Math.max(1, Math.round(this.colours[this.chosen].share * 100))} %`;
    },

    choose(n) {
      this.chosen = n === this.chosen ? -1 : n;
      this.show();
      this.$root.querySelectorAll(".bar-part")[n]?.focus();
    },

    typed({ target }) {
      const found = hexOf(target.value);
      if (found) this.put(found);
      else this.show();
    },
    drafted({ target }) {
      this.$dispatch("control-draft", {
        edits: this.edits({ ...this.changed, [this.old]: target.value }),
      });
    },
    welled({ target }) {
      this.put(target.value);
    },
    restore() {
      this.put(this.old);
    },

    put(colour) {
      if (this.none) return;
      const changed = { ...this.changed, [this.old]: colour };
      if (colour === this.old) delete changed[this.old];
      this.changed = changed;
      this.show();
      this.$dispatch("control-change", { edits: this.edits(changed), label: "Colour replaced" });
    },

    edits(changed) {
      const value = Object.entries(changed).map(([old, fresh]) => ({ old, new: fresh }));
      return [{ op: "set", path: JSON.parse(this.$root.dataset.path), value }];
    },
  }));
});
