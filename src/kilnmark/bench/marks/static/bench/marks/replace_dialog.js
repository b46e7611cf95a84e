// Other art in a mark's place: one that was brought in before, a file, or words; here, or wherever the old one is shown.

import { hear } from "../events.js";
import { get, post } from "../../kilnmark/api.js";
import { store } from "../store.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("replaceDialog", () => ({
    trouble: "",
    mark: "",
    everywhere: false,
    shared: false,
    art: null,

    init() {
      hear("replace-wanted", ({ mark }) => this.open(mark));
    },

    get list() {
      return this.$root.querySelector("[data-choices]");
    },
    get uses() {
      return this.$root.querySelector("[data-uses]");
    },
    get ready() {
      return this.art !== null;
    },
    get notReady() {
      return this.art === null;
    },

    async open(mark) {
      const { session } = store;
      Object.assign(this, { mark, trouble: "", everywhere: false, art: null });
      this.shared = Boolean(session.mark(mark)?.art.hash);
      this.$root.querySelector("[value=here]").checked = true;
      this.$root.querySelector("textarea").value = session.mark(mark)?.art.text ?? "";
      this.uses.replaceChildren();
      const [choices, uses] = await Promise.all([
        get(this.$root.dataset.choices),
        this.shared ? get(`${session.base}uses/?mark=${mark}`) : null,
      ]);
      this.list.innerHTML = choices.ok ? choices.data : "";
      if (uses?.ok) this.uses.innerHTML = uses.data;
      this.$root.showModal();
    },

    take(art, button) {
      this.art = art;
      for (const one of this.list.querySelectorAll("[aria-pressed]"))
        one.setAttribute("aria-pressed", "false");
      button?.setAttribute("aria-pressed", "true");
    },

    chosen({ target }) {
      const button = target.closest("[data-artwork]");
      if (button) this.take(JSON.parse(button.dataset.art), button);
    },

    // Words are set as the mark's own are, or begin plainly.
    worded({ target }) {
      const text = target.value;
      if (!text.trim()) return void (this.art = null);
      const old = store.session.mark(this.mark).art;
      const plain = {
        kind: "lettering",
        size: { value: Math.max(8, Math.round(store.page.height * 0.12)), unit: "px" },
      };
      this.take({ ...(old.kind === "lettering" ? old : plain), text });
    },

    async upload({ target: input }) {
      if (!input.files.length) return;
      this.trouble = "Bringing it in…";
      const form = new FormData();
      form.append("file", input.files[0]);
      const answer = await post(this.$root.dataset.upload, form);
      input.value = "";
      this.trouble = answer.ok ? "" : answer.message;
      if (!answer.ok) return;
      this.list.innerHTML = answer.data;
      this.list.querySelector("[data-newest]")?.click();
    },

    where({ target }) {
      this.everywhere = target.value === "everywhere";
    },

    async replace() {
      const { session } = store;
      const fit = this.$root.querySelector("[name=replace-fit]:checked").value;
      const { mark, art } = this;
      const answer = await (this.everywhere
        ? session.replaceEverywhere(mark, art, fit)
        : session.change([{ op: "replace_art", mark, art, fit }], "Art replaced", {
            reload: true,
          }));
      this.trouble = answer.ok ? "" : answer.message;
      if (answer.ok) this.$root.close();
    },

    close() {
      this.$root.close();
    },
  }));
});
