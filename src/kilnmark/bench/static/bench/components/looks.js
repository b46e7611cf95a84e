// Recipes on the part that is chosen, as a wall in groups: one is taken, up to three are pinned side by side, or the treatment
// that is there is kept as a new one. When art comes in, the same wall offers a look to start from; Esc skips it.

import { get, post } from "../api.js";
import { context, treatmentOf } from "../context.js";
import { CARDS, Looking, moveIn } from "../wall.js";

const MOST_PINNED = 3;

document.addEventListener("alpine:init", () => {
  window.Alpine.data("looks", () => ({
    title: "", trouble: "", told: "", starts: false, pins: 0, canKeep: false,

    init() {
      this.looking = new Looking(this.$root);
      window.addEventListener("looks-wanted", ({ detail }) => this.open(detail));
    },

    at(name) { return this.$root.querySelector(`[data-${name}]`); },
    get list() { return this.at("choices"); },
    get path() {
      const { session, choice: { part } } = context;
      const base = { ground: ["ground"], piece: [] }[part] ?? session.wayTo(part);
      return JSON.stringify([...base, "treatment"]);
    },

    open({ starts }) {
      Object.assign(this, { starts: Boolean(starts), trouble: "", told: "", pins: 0, title: starts ? "Start from a look" : "Recipes" });
      this.canKeep = !starts && treatmentOf(context.choice.part).length > 0;
      this.at("beside").replaceChildren();
      this.$root.classList.toggle("starting", this.starts);
      this.$root.showModal();
      this.load();
    },

    async load() {
      const { session, choice } = context;
      this.list.textContent = "Drawing them…";
      const asked = { kind: "looks", path: this.path, part: choice.part, sizes: this.at("sizes").value };
      if (this.at("after").checked) asked.after = "1";
      const answer = await get(`${session.base}tryouts/?${new URLSearchParams(asked)}`);
      if (!this.$root.open) return;
      this.list.innerHTML = answer.ok ? answer.data : "";
      this.trouble = answer.ok ? "" : answer.message;
      if (answer.ok && !this.list.querySelector(CARDS)) this.told = "No recipe yet: keep one here, or bring in the six that ship on the page of recipes.";
      (this.list.querySelector("[aria-current]") ?? this.list.querySelector(CARDS))?.focus();
    },

    lookAt({ target }) { this.looking.at(target); },

    keyed(event) {
      if (event.target.closest("input, select")) return;
      if (event.key.toLowerCase() === "p" && document.activeElement.matches(CARDS)) {
        event.preventDefault();
        return void this.pin(document.activeElement);
      }
      moveIn(this.list, event);
    },

    pressed({ target }) {
      if (target.closest("[data-pin-card]")) return void this.pin(target.closest(".tryout-card").querySelector(CARDS));
      const card = target.closest(CARDS);
      if (card) this.take(card);
    },

    take(card) {
      this.$root.close();
      if (card.hasAttribute("aria-current")) return;
      context.session.change(JSON.parse(card.dataset.edits), `Recipe: ${card.dataset.words}`, { reload: true });
    },

    // Beside the others that are pinned, larger; once more takes it away again.
    pin(card) {
      const row = this.at("beside");
      const known = [...row.children].find((one) => one.dataset.words === card.dataset.words);
      if (known) known.remove();
      else if (row.children.length < MOST_PINNED) row.append(this.beside(card));
      else this.told = "Three are pinned. Press one again to make room.";
      this.pins = row.children.length;
      const words = new Set([...row.children].map((one) => one.dataset.words));
      for (const button of this.list.querySelectorAll("[data-pin-card]")) button.setAttribute("aria-pressed", String(words.has(button.dataset.pinCard)));
    },

    beside(card) {
      const shown = document.createElement("button");
      shown.type = "button";
      shown.className = "choice pinned-look";
      Object.assign(shown.dataset, { edits: card.dataset.edits, words: card.dataset.words });
      const image = document.createElement("img");
      image.src = `${card.querySelector("img").src}&large=1`;
      image.alt = "";
      const name = document.createElement("b");
      name.textContent = card.dataset.words;
      shown.append(image, name);
      return shown;
    },

    async keep() {
      const { session, choice } = context;
      if (session.queue.length) return void Object.assign(this, { trouble: "A change is still on its way. Keep it in a moment." });
      const [name, note, group] = ["name", "note", "group"].map((one) => this.at(one).value);
      const answer = await post(`${session.base}recipes/keep/`, { version: session.version, part: choice.part, name, note, group });
      this.trouble = answer.ok ? "" : answer.message;
      if (!answer.ok) return;
      for (const one of ["name", "note"]) this.at(one).value = "";
      this.told = `“${answer.data.name}” is kept.`;
      this.load();
    },

    close() { this.$root.close(); },
  }));
});
