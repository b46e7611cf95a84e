// Choosing a face from pictures of the user's own words. The one under the pointer or the focus is tried out on the piece; Enter or a
// click takes it, Escape leaves all as it was.

import { hear } from "../events.js";
import { get, post } from "../../kilnmark/api.js";
import { store } from "../store.js";

const REST_MS = 140;
const COLUMNS = 2;

document.addEventListener("alpine:init", () => {
  window.Alpine.data("faceDialog", () => ({
    trouble: "",
    path: [],
    text: "",
    font: "",
    taken: false,
    resting: 0,

    init() {
      hear("face-wanted", (asked) => this.choose(asked));
      this.$root.addEventListener("close", () => this.ended());
    },

    get list() {
      return this.$root.querySelector("[data-choices]");
    },
    get faces() {
      return [...this.list.querySelectorAll("[data-face]")];
    },

    async choose({ path, text, font }) {
      Object.assign(this, { path, text, font, trouble: "", taken: false });
      const asked = new URLSearchParams({ text, font });
      const answer = await get(`${this.$root.dataset.choices}?${asked}`);
      this.list.innerHTML = answer.ok ? answer.data : "";
      this.trouble = answer.ok ? "" : answer.message;
      this.$root.showModal();
      (this.list.querySelector('[aria-pressed="true"]') ?? this.faces[0])?.focus();
    },

    // Another face has other axes and forms.
    edits(font) {
      const art = this.path.slice(0, -1);
      const set = (name, value) => ({ op: "set", path: [...art, name], value });
      return [set("font", font), set("axes", {}), set("features", {})];
    },

    tryOut({ target }) {
      const button = target.closest("[data-face]");
      clearTimeout(this.resting);
      if (button)
        this.resting = setTimeout(
          () =>
            this.$root.open &&
            store.session.draft(
              button.dataset.face === this.font ? [] : this.edits(button.dataset.face),
            ),
          REST_MS,
        );
    },

    chosen({ target }) {
      const button = target.closest("[data-face]");
      if (!button) return;
      clearTimeout(this.resting);
      this.taken = true;
      if (button.dataset.face === this.font) store.session.dropDraft();
      else store.session.change(this.edits(button.dataset.face), "Face", { reload: true });
      this.$root.close();
    },

    keyed(event) {
      const by = { ArrowLeft: -1, ArrowRight: 1, ArrowUp: -COLUMNS, ArrowDown: COLUMNS }[event.key];
      const at = this.faces.indexOf(event.target);
      if (!by || at < 0) return;
      event.preventDefault();
      this.faces[at + by]?.focus();
    },

    ended() {
      clearTimeout(this.resting);
      if (!this.taken) store.session.dropDraft();
    },

    async upload({ target: input }) {
      if (!input.files.length) return;
      this.trouble = "Looking at it…";
      const form = new FormData();
      for (const file of input.files) form.append("file", file);
      form.append("text", this.text);
      form.append("font", this.font);
      const answer = await post(this.$root.dataset.upload, form);
      input.value = "";
      this.trouble = answer.ok ? "" : answer.message;
      if (!answer.ok) return;
      this.list.innerHTML = answer.data;
      this.list.querySelector("[data-newest]")?.focus();
    },

    close() {
      this.$root.close();
    },
  }));
});
