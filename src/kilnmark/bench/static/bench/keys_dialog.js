// The page of keys.

import { hear } from "./events.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("keysDialog", () => ({
    init() {
      hear("keys-wanted", () => this.$root.showModal());
    },
    close() {
      this.$root.close();
    },
  }));
});
