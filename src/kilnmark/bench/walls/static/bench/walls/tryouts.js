// Try-outs: a wall of live alternatives for one choice. Arrows move, Enter takes, Esc leaves all as it was; the stage shows
// the one under the cursor.

import { hear, say } from "../events.js";
import { once } from "../../controls/lib/once.js";
import { store } from "../store.js";
import { Beside, CARDS, Looking, moveIn, pinned, Wall } from "./wall.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("tryouts", () => ({
    title: "",
    trouble: "",
    path: "",
    kind: "",
    skip: 0,
    pins: 0,
    looking: null,
    beside: null,
    wall: null,

    init() {
      this.looking = new Looking(this.$root);
      this.beside = new Beside(this.$root.querySelector("[data-beside]"), this.list, (told) => {
        this.trouble = told;
      });
      this.wall = new Wall(this.$root, this.list, this.beside);
      hear("tryouts-wanted", (detail) => this.open(detail));
    },

    get list() {
      return this.$root.querySelector("[data-choices]");
    },
    get findsMore() {
      return this.kind === "found";
    },

    open({ kind, path, title }) {
      Object.assign(this, { title, kind, path, trouble: "", skip: 0, pins: 0 });
      this.beside.clear();
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
      this.trouble =
        (await this.wall.load({ kind, path, skip, part: store.choice.part })) ?? this.trouble;
    },

    lookAt({ target }) {
      this.looking.at(target);
    },
    keyed(event) {
      if (!this.pinsIt(event)) moveIn(this.list, event);
    },

    pinsIt(event) {
      const meant = pinned(event, this.beside);
      this.pins = this.beside.count;
      return meant;
    },

    take(event) {
      if (this.pinsIt(event)) return;
      const button = event.target.closest(CARDS);
      if (button) this.takeCard(button);
    },

    takeCard: once(function takeCard(button) {
      this.$root.close();
      if (button.hasAttribute("aria-current")) return;
      const edits = JSON.parse(button.dataset.edits);
      const label = `${this.title}: ${button.dataset.words}`;
      if (this.kind === "steps") say("steps-wanted", { edits, label });
      else store.session.change(edits, label, { reload: true });
    }),

    close() {
      this.$root.close();
    },
  }));
});
