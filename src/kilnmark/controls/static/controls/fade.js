// A fade of the form: held on the piece by its ends and middle, or turned round.

import { placedByHand } from "./lib/placed_by_hand.js";
import { withParts } from "./lib/with_parts.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("fade", () =>
    withParts(placedByHand(), {
      reverse({
        currentTarget: {
          dataset: { start, end },
        },
      }) {
        const path = JSON.parse(this.$root.dataset.path);
        const edits = [
          ["start", end],
          ["end", start],
        ].map(([name, value]) => ({ op: "set", path: [...path, name], value: Number(value) }));
        this.$dispatch("control-change", { edits, label: "Fade reversed", reload: true });
      },
    }),
  );
});
