// Signing in again in place, when a session has ended: what waits to be saved goes on.

import { hear, say } from "../events.js";
import { post } from "../../kilnmark/api.js";
import { store } from "../store.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("signInDialog", () => ({
    trouble: "",

    init() {
      hear("sign-in-wanted", () => this.$root.showModal());
    },

    async signIn({ target: form }) {
      const answer = await post(this.$root.dataset.signIn, new FormData(form));
      this.trouble = answer.ok ? "" : answer.signedOut ? "Try once more." : answer.message;
      if (!answer.ok) return;
      form.querySelector("[name=password]").value = "";
      this.$root.close();
      say("signed-in");
      store.session.again();
    },

    close() {
      this.$root.close();
    },
  }));
});
