// Bringing in marks: words to set, or files.

import { once } from "../../controls/lib/once.js";
import { context } from "../context.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("markDialog", () => ({
    trouble: "",

    init() { context.openMark = () => this.$root.showModal(); },

    finish(answer) {
      this.trouble = answer.ok ? "" : answer.message;
      if (answer.ok) this.$root.close();
    },

    letter: once(async function letter() {
      const words = this.$root.querySelector("textarea");
      const answer = await context.session.addLettering(words.value);
      this.finish(answer);
      if (answer.ok) words.value = "";
    }),

    async bringIn({ target }) {
      if (target.files.length) this.finish(await context.session.bringIn(target.files));
      target.value = "";
    },

    close() { this.$root.close(); },
  }));
});
