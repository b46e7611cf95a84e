// Try-outs: a wall of live alternatives for one choice. Arrows move, Enter takes, Esc leaves all as it was; the stage shows
// the one under the cursor.

import { get } from "../api.js";
import { context } from "../context.js";

const SETTLED_MS = 120;

document.addEventListener("alpine:init", () => {
  window.Alpine.data("tryouts", () => ({
    title: "", trouble: "", path: "", kind: "", timer: 0, skip: 0,

    init() {
      window.addEventListener("tryouts-wanted", ({ detail }) => this.open(detail));
      this.$root.addEventListener("close", () => context.session.dropDraft());
    },

    get list() { return this.$root.querySelector("[data-choices]"); },

    get findsMore() { return this.kind === "found"; },

    open({ kind, path, title }) {
      Object.assign(this, { title, kind, path, trouble: "", skip: 0 });
      this.$root.showModal();
      this.load();
    },

    // The next best places.
    another() {
      this.skip += 8;
      this.load();
    },

    async load() {
      const { kind, path, skip } = this;
      this.list.textContent = "Drawing them…";
      const { session, choice } = context;
      const answer = await get(`${session.base}tryouts/?${new URLSearchParams({ kind, path, skip, part: choice.part })}`);
      if (!this.$root.open) return;
      this.list.innerHTML = answer.ok ? answer.data : "";
      this.trouble = answer.ok ? "" : answer.message;
      (this.list.querySelector("[aria-current]") ?? this.list.querySelector("button"))?.focus();
    },

    // Resting on one shows it on the piece.
    lookAt({ target }) {
      const button = target.closest("[data-edits]");
      clearTimeout(this.timer);
      if (button) this.timer = setTimeout(() => this.$root.open && context.session.draft(button.hasAttribute("aria-current") ? [] : JSON.parse(button.dataset.edits)), SETTLED_MS);
    },

    keyed(event) {
      const all = [...this.list.querySelectorAll("[data-edits]")];
      const wide = getComputedStyle(this.list).gridTemplateColumns.split(" ").length;
      const by = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -wide, ArrowDown: wide, Home: -all.length, End: all.length }[event.key];
      if (!by || !all.length) return;
      event.preventDefault();
      all[Math.min(Math.max(all.indexOf(document.activeElement) + by, 0), all.length - 1)].focus();
    },

    take({ target }) {
      const button = target.closest("[data-edits]");
      if (!button) return;
      clearTimeout(this.timer);
      this.$root.close();
      if (button.hasAttribute("aria-current")) return;
      context.session.change(JSON.parse(button.dataset.edits), `${this.title}: ${button.dataset.words}`, { reload: true });
    },

    close() { this.$root.close(); },
  }));
});
