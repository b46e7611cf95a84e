// The piece's own colours beside a colour that is asked for, and picking one from the piece. What is chosen is told as
// `colour-given` to the control it stands in.

import { bar } from "./lib/bars.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("pieceColours", () => ({
    init() {
      this.show();
    },

    show() {
      const told = { colours: [] };
      this.$dispatch("piece-colours-wanted", told);
      const shares = told.colours.map((colour) => ({ colour, share: 1 }));
      const give = (n) => this.give(told.colours[n]);
      bar(this.$root.querySelector("[data-bar]"), shares, {
        chosen: -2,
        name: (n) => `Take ${told.colours[n]}`,
        onchoose: give,
      });
    },

    pick() {
      this.$dispatch("colour-wanted", { give: (colour) => this.give(colour) });
    },

    give(colour) {
      this.$dispatch("colour-given", { colour });
    },
  }));
});
