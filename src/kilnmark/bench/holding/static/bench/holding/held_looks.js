// The buttons that show what a landing holds back.

import { hear, say } from "../events.js";
import { store } from "../store.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("heldLooks", () => ({
    look: "",
    ended: null,

    init() {
      this.look = store.heldBack.look;
      this.ended = hear("held-told", ({ look }) => {
        this.look = look;
      });
    },
    destroy() {
      this.ended();
    },

    get hatched() {
      return String(this.look === "hatched");
    },
    get greyed() {
      return String(this.look === "grey");
    },
    show({ currentTarget }) {
      say("held-wanted", { look: currentTarget.dataset.look });
    },
  }));
});
