// Background colours, picked on the picture: each click takes one more out; a click on one in the bar leaves it in again.

import { bar, hexOf } from "./lib/bars.js";
import { colourAt, showSource } from "./lib/source.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("picked", () => ({
    colours: [],
    seen: "",

    init() {
      this.refresh();
    },

    refresh() {
      const { path, of, colours } = this.$root.dataset;
      this.colours = colours ? colours.split(" ") : [];
      this.show();
      showSource(this.$root.querySelector("[data-source]"), { path, of });
    },

    show() {
      const shares = this.colours.map((colour) => ({ colour, share: 1 }));
      const name = (n) => `Background ${this.colours[n]}: leave it in`;
      bar(this.$root.querySelector("[data-bar]"), shares, {
        name,
        onchoose: (n) => this.put(this.colours.filter((_, other) => other !== n)),
      });
    },

    pick(event) {
      const canvas = event.currentTarget;
      const { width } = canvas.getBoundingClientRect();
      const found = colourAt(
        canvas,
        (event.offsetX * canvas.width) / width,
        (event.offsetY * canvas.width) / width,
      );
      if (found) this.add(found);
    },

    typed({ target }) {
      const found = hexOf(target.value);
      target.value = "";
      if (found) this.add(found);
    },

    add(colour) {
      if (!this.colours.includes(colour)) this.put([...this.colours, colour].slice(-8));
    },

    put(colours) {
      this.colours = colours;
      this.show();
      const edits = [{ op: "set", path: JSON.parse(this.$root.dataset.path), value: colours }];
      this.$dispatch("control-change", { edits, label: "Background picked" });
    },
  }));
});
