// A texture's place: as numbers, or by hand on the piece itself.

import { placedByHand } from "./lib/placed_by_hand.js";
import { withParts } from "./lib/with_parts.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("placement", () =>
    withParts(placedByHand(), {
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
