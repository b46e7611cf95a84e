// A curve that words stand on: its points are dragged on the piece; here there come to be more of them, or fewer.

import { placedByHand } from "./lib/placed_by_hand.js";
import { withParts } from "./lib/with_parts.js";

const MOST = 40;
const middle = (a, b) => [(a[0] + b[0]) / 2, (a[1] + b[1]) / 2];

document.addEventListener("alpine:init", () => {
  window.Alpine.data("curve", () =>
    withParts(placedByHand(), {
      get points() {
        return JSON.parse(this.$root.dataset.points);
      },
      // One between each two that are there.
      more() {
        const { points } = this;
        if (points.length * 2 - 1 > MOST) return;
        this.put(points.flatMap((one, n) => (n ? [middle(points[n - 1], one), one] : [one])));
      },
      // Every second one, and both ends.
      fewer() {
        const { points } = this;
        if (points.length < 3) return;
        this.put(points.filter((_, n) => !(n % 2) || n === points.length - 1));
      },
      put(value) {
        const edits = [{ op: "set", path: JSON.parse(this.$root.dataset.path), value }];
        this.$dispatch("control-change", { edits, label: "Curve", reload: true });
      },
    }),
  );
});
