// Bringing in marks: words to set, or files.

import { context } from "../context.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("markDialog", () => ({
    trouble: "",

    init() { context.openMark = () => this.$root.showModal(); },

    finish(answer) {
      this.trouble = answer.ok ? "" : answer.message;
      if (answer.ok) this.$root.close();
    },

    async letter() {
      const words = this.$root.querySelector("textarea");
      this.finish(await context.session.addLettering(words.value));
      words.value = "";
    },

    async bringIn({ target }) {
      if (target.files.length) this.finish(await context.session.bringIn(target.files));
      target.value = "";
    },

    close() { this.$root.close(); },
  }));
});
