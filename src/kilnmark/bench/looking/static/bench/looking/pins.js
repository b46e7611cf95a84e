// Pinned versions: the piece as it stands under a name, and back to one as one more state that can be undone.

import { get, post } from "../../kilnmark/api.js";
import { once } from "../../controls/lib/once.js";
import { morph } from "../../controls/lib/morph.js";
import { hear, say } from "../events.js";
import { store } from "../store.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("pins", () => ({
    trouble: "",

    init() {
      hear("pins-wanted", () => this.open());
    },

    get list() {
      return this.$root.querySelector("[data-list]");
    },

    async open() {
      this.trouble = "";
      this.$root.showModal();
      this.show(await get(this.$root.dataset.pins));
    },

    // What is the same stays the same element: a hand may be on it already.
    show(answer) {
      if (answer.ok) morph(this.list, answer.data);
      this.trouble = answer.ok ? "" : answer.message;
    },

    pin: once(async function pin() {
      const name = this.$root.querySelector("[data-pin-name]");
      const { session } = store;
      session.flush();
      if (session.queue.length)
        return void Object.assign(this, {
          trouble: "A change is still on its way. Pin again in a moment.",
        });
      this.show(
        await post(`${this.$root.dataset.pins}pin/`, {
          version: session.version,
          name: name.value,
        }),
      );
      name.value = "";
    }),

    async act({ target }) {
      const button = target.closest("button");
      if (button?.dataset.unpin) this.show(await post(button.dataset.unpin, {}));
      if (!button?.dataset.restore) return;
      this.$root.close();
      store.session.restore(button.dataset.restore);
    },

    past() {
      this.$root.close();
      say("past-wanted");
    },

    compare() {
      this.$root.close();
      say("compare-wanted");
    },

    close() {
      this.$root.close();
    },
  }));
});
