// The colour that holds something in or out: one bar divided as the art is, or a place of the piece.

import { bar, hexOf } from "./lib/bars.js";

const apart = (a, b) =>
  [1, 3, 5].reduce(
    (sum, n) => sum + Math.abs(parseInt(a.slice(n, n + 2), 16) - parseInt(b.slice(n, n + 2), 16)),
    0,
  );

document.addEventListener("alpine:init", () => {
  window.Alpine.data("areaColour", () => ({
    colours: [], // of its own: what is not named here would be written on the bench

    init() {
      this.refresh();
    },

    refresh() {
      this.show();
      this.$dispatch("art-colours-wanted", {
        part: this.$root.dataset.part,
        give: ({ colours }) => {
          this.colours = colours;
          this.show();
        },
      });
    },

    get colour() {
      return this.$root.dataset.colour;
    },

    // The one that is held, or the nearest to it.
    get chosen() {
      const far = this.colours.map(([colour]) => apart(colour, this.colour));
      return far.length && Math.min(...far) < 24 ? far.indexOf(Math.min(...far)) : -1;
    },

    show() {
      const { colours } = this;
      this.$root.querySelector("[data-hex]").value = this.colour;
      this.$root.querySelector("[data-area-told]").textContent =
        colours.length && this.chosen < 0
          ? "The art has next to none of this colour: take one of these."
          : "";
      const shares = colours.map(([colour, share]) => ({ colour, share }));
      const name = (n) =>
        `${colours[n][0]}, ${Math.max(1, Math.round(colours[n][1] * 100))} % of the art`;
      bar(this.$root.querySelector("[data-bar]"), shares, {
        chosen: this.chosen,
        name,
        onchoose: (n) => this.put(colours[n][0]),
      });
    },

    typed({ target }) {
      const found = hexOf(target.value);
      if (found) this.put(found);
      else this.show();
    },

    // Of edges that mix two colours the nearer one is meant.
    pick() {
      this.$dispatch("art-colour-picked", {
        part: this.$root.dataset.part,
        give: ({ at, colours }) => {
          if (!at) return;
          const [nearest] = [...colours].sort((a, b) => apart(a[0], at) - apart(b[0], at));
          this.put(nearest && apart(nearest[0], at) < 60 ? nearest[0] : at);
        },
      });
    },

    put(colour) {
      this.$dispatch("control-change", {
        edits: [{ op: "set", path: JSON.parse(this.$root.dataset.path), value: colour }],
        label: "Colour it is held by",
        reload: true,
      });
    },
  }));
});
