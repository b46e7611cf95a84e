// A texture's place: as numbers, or by hand on the piece itself.

import { placedByHand } from "./lib/placed_by_hand.js";
import { withParts } from "./lib/with_parts.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("placement", () =>
    withParts(placedByHand(), {
      // A line that was set by hand lies by itself again.
      release() {
        const path = JSON.parse(this.$root.dataset.path);
        const edits = [{ op: "set", path, value: null }];
        this.$dispatch("control-change", {
          edits,
          label: "Gradient laid by its angle",
          reload: true,
        });
      },
      tryAll({
        currentTarget: {
          dataset: { kind, path, title },
        },
      }) {
        this.$dispatch("tryouts-wanted", { kind, path, title });
      },
    }),
  );
});
