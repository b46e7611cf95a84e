// Bringing in marks: words to set, or files.

import { hear } from "../events.js";
import { once } from "../../controls/lib/once.js";
import { store } from "../store.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("markDialog", () => ({
    trouble: "",

    init() {
      hear("mark-wanted", () => this.$root.showModal());
    },

    finish(answer) {
      this.trouble = answer.ok ? "" : answer.message;
      if (answer.ok) this.$root.close();
    },

    // The field is empty at once: what nobody answers waits in the line, and other words can be set meanwhile.
    letter: once(function letter() {
      const field = this.$root.querySelector("textarea");
      const { value } = field;
      field.value = "";
      store.session.addLettering(value).then((answer) => {
        this.finish(answer);
        if (!answer.ok) field.value ||= value;
      });
    }),

    // Art that needs neither words nor a file.
    begin: once(function begin({ target }) {
      const button = target.closest("[data-begin]");
      if (!button) return;
      const edits = JSON.parse(button.dataset.begin);
      const answer = store.session.change(edits, "Mark added", { added: true });
      return answer.then((one) => this.finish(one));
    }),

    async bringIn({ target }) {
      if (target.files.length) this.finish(await store.session.bringIn(target.files));
      target.value = "";
    },

    close() {
      this.$root.close();
    },
  }));
});
