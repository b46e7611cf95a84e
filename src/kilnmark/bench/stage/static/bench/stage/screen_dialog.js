// The screen is measured once: a bar is made as long as 100 mm of a ruler that lies on it.

import { hear, say } from "../events.js";
import { measure, measured, USUAL } from "./screen.js";

const LONG_MM = 100;

document.addEventListener("alpine:init", () => {
  window.Alpine.data("screenDialog", () => ({
    long: LONG_MM * USUAL, // of its own: what is not named here would be written on the bench

    init() {
      hear("screen-wanted", () => this.open());
    },

    open() {
      this.$root.showModal();
      this.put(LONG_MM * (measured() ?? USUAL));
    },

    put(long) {
      this.long = long;
      this.$root.querySelector("[data-bar]").style.width = `${long}px`;
      this.$root.querySelector("[data-long]").value = long;
    },

    moved({ target }) {
      this.put(Number(target.value));
    },

    take() {
      measure(this.long / LONG_MM);
      this.$root.close();
      say("screen-measured");
    },

    close() {
      this.$root.close();
    },
  }));
});
