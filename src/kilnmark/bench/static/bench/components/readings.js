// What is read of a worn mark: asked for once the sheet stands, and anew when the piece has changed.

import { get } from "../api.js";
import { context } from "../context.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("readings", () => ({
    asked: 0,
    again: null, // of its own: what is not named here would be written on the bench

    init() {
      this.again = () => this.load();
      context.session.addEventListener("told", this.again);
      this.load();
    },

    destroy() {
      context.session.removeEventListener("told", this.again);
    },

    async load() {
      const { part, step } = this.$root.dataset;
      this.asked += 1;
      const mine = this.asked;
      if (context.session.queue.length) return;
      const answer = await get(
        `${context.session.base}readings/?${new URLSearchParams({ part, step })}`,
      );
      if (mine !== this.asked || !this.$root.isConnected) return;
      if (answer.ok) this.$root.innerHTML = answer.data.trim();
      this.$root.dataset.read = ""; // until then room is kept for them: nothing below moves under the pointer
    },
  }));
});
