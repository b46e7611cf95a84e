// Pools of light: one more, one doubled for more of it, one less. Where they lie is dragged on the piece.

import { placedByHand } from "./lib/placed_by_hand.js";
import { withParts } from "./lib/with_parts.js";

const MOST = 40;
const NEW = {
  ellipse: { form: "ellipse" },
  stroke: { form: "stroke", points: [[-0.4, 0.1], [0, -0.1], [0.4, 0.1]] },
}; // prettier-ignore
const newId = () => crypto.getRandomValues(new Uint32Array(1))[0].toString(16).padStart(8, "0");

document.addEventListener("alpine:init", () => {
  window.Alpine.data("pools", () =>
    withParts(placedByHand(), {
      get now() {
        return JSON.parse(this.$root.dataset.pools);
      },
      add({
        currentTarget: {
          dataset: { form },
        },
      }) {
        this.put([...this.now, { id: newId(), ...NEW[form] }], "Pool added");
      },
      double({
        currentTarget: {
          dataset: { pool },
        },
      }) {
        const more = (one) => (one.id === pool ? [one, { ...one, id: newId() }] : [one]);
        this.put(this.now.flatMap(more), "Pool doubled");
      },
      remove({
        currentTarget: {
          dataset: { pool },
        },
      }) {
        this.put(
          this.now.filter((one) => one.id !== pool),
          "Pool removed",
        );
      },
      put(value, label) {
        if (value.length > MOST) return;
        const edits = [{ op: "set", path: JSON.parse(this.$root.dataset.path), value }];
        this.$dispatch("control-change", { edits, label, reload: true });
      },
    }),
  );
});
