// Choosing a texture from the shelf, or bringing one in.

import { get, post } from "../api.js";
import { context } from "../context.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("textureDialog", () => ({
    trouble: "",

    init() { context.chooseTexture = () => this.choose(); },

    get list() { return this.$root.querySelector("[data-choices]"); },

    // Resolves to {hash, edges}, or null when nothing was chosen.
    async choose() {
      this.trouble = "";
      const answer = await get(this.$root.dataset.choices);
      this.list.innerHTML = answer.ok ? answer.data : "";
      this.picked = null;
      this.$root.showModal();
      return new Promise((done) => this.$root.addEventListener("close", () => done(this.picked), { once: true }));
    },

    chosen(event) {
      const button = event.target.closest("[data-texture]");
      if (!button) return;
      this.picked = { hash: button.dataset.texture, edges: button.dataset.edges };
      this.$root.close();
    },

    async upload({ target: input }) {
      if (!input.files.length) return;
      this.trouble = "Bringing it in…";
      const form = new FormData();
      form.append("file", input.files[0]);
      const answer = await post(this.$root.dataset.upload, form);
      input.value = "";
      this.trouble = answer.message;
      if (!answer.ok) return;
      this.list.innerHTML = answer.data;
      this.list.querySelector("[data-newest]")?.focus();
    },

    close() { this.$root.close(); },
  }));
});
