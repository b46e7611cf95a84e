// Recipes on the part that is chosen, as a wall in groups: one is taken, up to three are pinned side by side, or the treatment
// that is there is kept as a new one. When art comes in, the same wall offers a look to start from; Esc skips it.

import { once } from "../../controls/lib/once.js";
import { post } from "../../kilnmark/api.js";
import { hear, say } from "../events.js";
import { store, treatmentOf } from "../store.js";
import { Beside, CARDS, Looking, moveIn, pinned, Wall } from "./wall.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("looks", () => ({
    title: "",
    trouble: "",
    told: "",
    starts: false,
    pins: 0,
    canKeep: false,
    looking: null,
    beside: null,
    wall: null,

    init() {
      this.looking = new Looking(this.$root);
      this.beside = new Beside(this.at("beside"), this.list, (told) => {
        this.told = told;
      });
      this.wall = new Wall(this.$root, this.list, this.beside);
      hear("looks-wanted", (detail) => this.open(detail));
    },

    at(name) {
      return this.$root.querySelector(`[data-${name}]`);
    },
    get list() {
      return this.at("choices");
    },
    get path() {
      const {
        session,
        choice: { part },
      } = store;
      const base = { ground: ["ground"], piece: [] }[part] ?? session.wayTo(part);
      return JSON.stringify([...base, "treatment"]);
    },

    open({ starts }) {
      Object.assign(this, {
        starts: Boolean(starts),
        trouble: "",
        told: "",
        pins: 0,
        title: starts ? "Start from a look" : "Recipes",
      });
      this.canKeep = !starts && treatmentOf(store.choice.part).length > 0;
      this.beside.clear();
      this.$root.classList.toggle("starting", this.starts);
      this.$root.showModal();
      this.load();
    },

    async load() {
      const asked = {
        kind: "looks",
        path: this.path,
        part: store.choice.part,
        sizes: this.at("sizes").value,
      };
      if (this.at("after").checked) asked.after = "1";
      const trouble = await this.wall.load(asked);
      if (trouble === null) return; // a newer wall is on its way
      this.trouble = trouble;
      if (!trouble && !this.list.querySelector(CARDS))
        this.told =
          "No recipe yet: keep one here, or bring in those that ship on the page of recipes.";
    },

    lookAt({ target }) {
      this.looking.at(target);
    },

    keyed(event) {
      if (event.target.closest("input, select")) return;
      if (this.pinsIt(event)) return;
      moveIn(this.list, event);
    },

    pressed(event) {
      if (this.pinsIt(event)) return;
      const card = event.target.closest(CARDS);
      if (card) this.take(card);
    },

    take: once(function take(card) {
      this.$root.close();
      if (card.hasAttribute("aria-current")) return;
      store.session.change(JSON.parse(card.dataset.edits), `Recipe: ${card.dataset.words}`, {
        reload: true,
      });
    }),

    pinsIt(event) {
      const meant = pinned(event, this.beside);
      this.pins = this.beside.count;
      return meant;
    },

    keep: once(async function keep() {
      const { session, choice } = store;
      session.flush();
      if (session.queue.length)
        return void Object.assign(this, {
          trouble: "A change is still on its way. Keep it in a moment.",
        });
      const [name, note, group] = ["name", "note", "group"].map((one) => this.at(one).value);
      const answer = await post(`${session.base}recipes/keep/`, {
        version: session.version,
        part: choice.part,
        name,
        note,
        group,
      });
      this.trouble = answer.ok ? "" : answer.message;
      if (!answer.ok) return;
      for (const one of ["name", "note"]) this.at(one).value = "";
      this.told = `“${answer.data.name}” is kept.`;
      this.load();
    }),

    large() {
      this.$root.close();
      say("directions-wanted");
    },

    close() {
      this.$root.close();
    },
  }));
});
