// Choosing a texture from the shelf: each shown on the chosen mark, or as a bare square; or bringing one in.

import { hear } from "../events.js";
import { get, post } from "../../kilnmark/api.js";
import { store } from "../store.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("textureDialog", () => ({
    trouble: "",
    bare: "false",

    init() {
      hear("texture-wanted", ({ path }) => this.wanted(path));
    },

    get list() {
      return this.$root.querySelector("[data-choices]");
    },

    async wanted(path) {
      const ref = await this.choose(path);
      if (ref) store.session.change([this.edit(ref)], "Texture chosen", { reload: true });
    },

    // Resolves to a reference as documents have it, or null when nothing was chosen. path : where it will lie.
    async choose(path) {
      Object.assign(this, { trouble: "", path, picked: null });
      const answer = await get(this.$root.dataset.choices);
      this.fill(answer.ok ? answer.data : "");
      this.$root.querySelector("[data-texture-search]").value = "";
      this.$root.showModal();
      this.mark();
      return new Promise((done) =>
        this.$root.addEventListener("close", () => done(this.picked), { once: true }),
      );
    },

    fill(html) {
      this.list.innerHTML = html;
      this.tryAll();
    },

    // The present one is marked, and has the focus.
    mark() {
      const { path, session } = { path: this.path, session: store.session };
      const now = path.at(-1) === "fill" ? session.at(path)?.texture : session.at(path);
      const same = (button) => {
        const ref = JSON.parse(button.dataset.ref);
        return ref.hash === now?.hash && (ref.prep ?? "") === (now?.prep ?? "");
      };
      const found = [...this.list.querySelectorAll("[data-ref]")].find(same);
      found?.setAttribute("aria-current", "true");
      (found ?? this.list.querySelector("button"))?.focus();
    },

    // Each on the mark: one after the other, as far as they are seen.
    tryAll() {
      const { session, choice } = store;
      const look = new IntersectionObserver(
        (seen) => {
          for (const { target, isIntersecting } of seen) {
            if (!isIntersecting || target.src) continue;
            const edits = JSON.stringify([
              this.edit(JSON.parse(target.closest("[data-ref]").dataset.ref)),
            ]);
            target.src = `${session.base}tried/?${new URLSearchParams({ version: session.version, part: choice.part, edits })}`;
            look.unobserve(target);
          }
        },
        { root: this.list, rootMargin: "200px" },
      );
      for (const image of this.list.querySelectorAll("[data-try]")) {
        image.addEventListener("load", () => image.classList.add("there"), { once: true });
        look.observe(image);
      }
    },

    edit(ref) {
      if (this.path.at(-1) !== "fill") return { op: "set", path: this.path, value: ref };
      const { line, placement } = store.session.at(this.path) ?? {}; // of what was there, in its place
      const kept = { ...(line && { line }), ...(placement && { placement }) };
      return { op: "set", path: this.path, value: { kind: "texture", texture: ref, ...kept } };
    },

    chosen(event) {
      const button = event.target.closest("[data-texture]");
      if (!button) return;
      this.picked = JSON.parse(button.dataset.ref);
      this.$root.close();
    },

    search({ target }) {
      const words = target.value.toLowerCase().split(/\s+/).filter(Boolean);
      for (const button of this.list.querySelectorAll("[data-texture]"))
        button.hidden = !words.every((word) => button.dataset.name.includes(word));
    },

    keyed(event) {
      if (event.target.matches("input") || event.ctrlKey || event.metaKey || event.altKey) return;
      if (event.key.toLowerCase() === "b") this.toggleBare();
      else if (event.key.startsWith("Arrow")) this.step(event);
    },

    step(event) {
      const all = [...this.list.querySelectorAll("[data-texture]:not([hidden])")];
      const wide = getComputedStyle(this.list).gridTemplateColumns.split(" ").length;
      const by = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -wide, ArrowDown: wide }[event.key];
      all[Math.min(Math.max(all.indexOf(document.activeElement) + by, 0), all.length - 1)]?.focus();
      event.preventDefault();
    },

    toggleBare() {
      this.bare = String(this.bare !== "true");
      this.list.classList.toggle("bare-squares", this.bare === "true");
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
      this.fill(answer.data);
      this.list.querySelector("[data-newest]")?.focus();
    },

    close() {
      this.$root.close();
    },
  }));
});
