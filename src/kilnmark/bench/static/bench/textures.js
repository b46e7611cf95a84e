// Choosing a texture from the shelf, or bringing one in.

import { get, post } from "./api.js";

export class TextureDialog {
  constructor(dialog, urls) {
    Object.assign(this, { dialog, urls });
    this.list = dialog.querySelector("[data-choices]");
    this.trouble = dialog.querySelector("[data-texture-trouble]");
    this.list.addEventListener("click", (event) => this.chosen(event.target.closest("[data-texture]")));
    dialog.querySelector("[data-texture-file]").addEventListener("change", (event) => this.upload(event.target));
  }

  // Resolves to {hash, edges}, or null when nothing was chosen.
  async choose() {
    this.trouble.textContent = "";
    const answer = await get(this.urls.choices);
    this.list.innerHTML = answer.ok ? answer.data : "";
    this.dialog.returnValue = "";
    this.picked = null;
    this.dialog.showModal();
    return new Promise((done) => this.dialog.addEventListener("close", () => done(this.picked), { once: true }));
  }

  chosen(button) {
    if (!button) return;
    this.picked = { hash: button.dataset.texture, edges: button.dataset.edges };
    this.dialog.close();
  }

  async upload(input) {
    if (!input.files.length) return;
    this.trouble.textContent = "Bringing it in…";
    const form = new FormData();
    form.append("file", input.files[0]);
    const answer = await post(this.urls.upload, form);
    input.value = "";
    this.trouble.textContent = answer.message;
    if (!answer.ok) return;
    this.list.innerHTML = answer.data;
    this.list.querySelector("[data-newest]")?.focus();
  }
}
