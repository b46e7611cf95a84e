// Signing in again in place, when a session has ended: what waits to be saved goes on.

import { post } from "../api.js";
import { context } from "../context.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("signInDialog", () => ({
    trouble: "",

    init() {
      context.openSignIn = () => this.$root.showModal();
    },

    async signIn({ target: form }) {
      const answer = await post(this.$root.dataset.signIn, new FormData(form));
      this.trouble = answer.ok ? "" : answer.signedOut ? "Try once more." : answer.message;
      if (!answer.ok) return;
      form.querySelector("[name=password]").value = "";
      this.$root.close();
      context.session.say("signed-in");
      context.session.again();
    },

    close() {
      this.$root.close();
    },
  }));
});
