// What was done: all states as pictures, grouped by sitting; one goes back to any of them.

import { hear } from "../events.js";
import { get } from "../../kilnmark/api.js";
import { store } from "../store.js";
import { moveIn } from "../walls/wall.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("past", () => ({
    trouble: "",

    init() {
      hear("past-wanted", () => this.open());
    },

    get list() {
      return this.$root.querySelector("[data-choices]");
    },

    async open() {
      this.trouble = "";
      this.$root.showModal();
      const answer = await get(`${store.session.base}history/`);
      this.trouble = answer.ok ? "" : answer.message;
      this.list.innerHTML = answer.ok ? answer.data : "";
      (this.list.querySelector("[aria-current]") ?? this.list.querySelector("button"))?.focus();
    },

    keyed(event) {
      moveIn(this.list, event, "[data-restore]");
    },

    take({ target }) {
      const card = target.closest("[data-restore]");
      if (!card) return;
      this.$root.close();
      if (!card.hasAttribute("aria-current")) store.session.restore(card.dataset.restore);
    },

    close() {
      this.$root.close();
    },
  }));
});
