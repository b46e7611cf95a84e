// What is read of a worn mark: asked for once the sheet stands, and anew when the piece has changed.

import { hear } from "../events.js";
import { morph } from "../../controls/lib/morph.js";
import { get } from "../../kilnmark/api.js";
import { store } from "../store.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("readings", () => ({
    asked: 0,
    ended: null, // of its own: what is not named here would be written on the bench

    init() {
      this.ended = hear("piece-told", () => this.load());
      this.load();
    },

    destroy() {
      this.ended();
    },

    async load() {
      const { part, step } = this.$root.dataset;
      this.asked += 1;
      const mine = this.asked;
      if (store.session.queue.length) return;
      const answer = await get(
        `${store.session.base}readings/?${new URLSearchParams({ part, step })}`,
      );
      if (mine !== this.asked || !this.$root.isConnected) return;
      if (answer.ok) morph(this.$root, answer.data.trim()); // a button that has the focus keeps it
      this.$root.dataset.read = ""; // until then room is kept for them: nothing below moves under the pointer
    },
  }));
});
