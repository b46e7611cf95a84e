// A region of the form: drawn on the piece, moved there by hand, or told in numbers.

import { placedByHand } from "./lib/placed_by_hand.js";
import { withParts } from "./lib/with_parts.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("region", () =>
    withParts(placedByHand(), {
      get path() {
        return JSON.parse(this.$root.dataset.path);
      },
      draw() {
        this.$dispatch("region-wanted", { path: this.path });
      },
      drawFreehand() {
        this.$dispatch("region-wanted", { path: this.path, freehand: true });
      },
      remove() {
        if (this.pressed === "true") this.$dispatch("placement-wanted", { path: null });
        this.$dispatch("control-change", {
          edits: [{ op: "set", path: this.path, value: null }],
          label: "Region removed",
          reload: true,
        });
      },
    }),
  );
});
