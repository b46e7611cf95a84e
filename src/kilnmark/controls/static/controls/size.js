// A size in px of a texture, shown in px or in mm at the ppi of what it is for. It is stored in px.

import { formatNumber } from "./lib/numbers.js";

let shownIn = "px"; // for all sizes of the page

document.addEventListener("alpine:init", () => {
  window.Alpine.data("size", () => ({
    value: 0,

    init() {
      this.refresh();
    },

    refresh() {
      this.value = Number(this.$root.dataset.value);
      this.part("unit").value = shownIn;
      this.show();
    },

    part(name) {
      return this.$root.querySelector(`[data-${name}]`);
    },
    get pxEach() {
      return this.part("unit").value === "mm"
        ? Number(this.$root.closest("[data-ppi]").dataset.ppi) / 25.4
        : 1;
    },
    get edits() {
      return [{ op: "set", path: JSON.parse(this.$root.dataset.path), value: this.value }];
    },

    slid() {
      this.put(Number(this.part("slider").value));
    },
    typed() {
      if (this.part("number").value !== "")
        this.put(Math.round(Number(this.part("number").value) * this.pxEach * 1000) / 1000, true);
    },

    put(value, typing = false) {
      this.value = value;
      this.show(typing);
      this.$dispatch("control-draft", { edits: this.edits });
    },

    settled() {
      this.$dispatch("control-change", { edits: this.edits, label: this.$root.dataset.title });
    },

    changeUnit() {
      shownIn = this.part("unit").value;
      this.show();
    },

    show(typing = false) {
      this.part("slider").value = this.value;
      if (!typing) this.part("number").value = formatNumber(this.value / this.pxEach);
    },
  }));
});
