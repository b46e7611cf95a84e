// The axes of a variable font: one slider each, one value of the document for all of them.

import { formatNumber } from "./lib/numbers.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("axes", () => ({
    read({ target }) {
      const { axis, axisNumber } = target.dataset;
      const tag = axis ?? axisNumber;
      const value = Number(target.value);
      if (!tag || target.value === "" || Number.isNaN(value)) return null;
      const twin = this.$root.querySelector(
        axis ? `[data-axis-number="${tag}"]` : `[data-axis="${tag}"]`,
      );
      twin.value = axis ? formatNumber(value) : value;
      const value_ = { ...this.value, [tag]: value };
      this.$root.dataset.value = JSON.stringify(value_);
      return [{ op: "set", path: JSON.parse(this.$root.dataset.path), value: value_ }];
    },
    get value() {
      const found = JSON.parse(this.$root.dataset.value);
      return Array.isArray(found) ? {} : found;
    },
    moved(event) {
      const edits = this.read(event);
      if (edits) this.$dispatch("control-draft", { edits });
    },
    settled(event) {
      const edits = this.read(event);
      if (edits) this.$dispatch("control-change", { edits, label: "Axes" });
    },
  }));
});
