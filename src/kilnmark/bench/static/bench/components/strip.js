// The strip and the tabs above it: choosing, adding, and reordering by dragging or with Alt and the arrow keys.

import { morph } from "../../controls/lib/morph.js";
import { get } from "../api.js";
import { context } from "../context.js";

const REST_MS = 350;

document.addEventListener("alpine:init", () => {
  window.Alpine.data("strip", () => ({
    asked: 0, // of its own: what is not named here would be written on the bench
    async load() {
      const { session, choice: { part, step } } = context;
      this.asked += 1;
      const mine = this.asked;
      const answer = await get(`${session.base}strip/?part=${part}&step=${step}`);
      if (!answer.ok) session.say("trouble", { message: answer.message });
      if (mine !== this.asked || !answer.ok) return;
      this.rest(null);
      const scrolled = this.$root.querySelector(".frames")?.scrollLeft ?? 0;
      morph(this.$root, answer.data);
      this.$root.querySelector(".frames").scrollLeft = scrolled;
      this.$root.querySelector('.frame[aria-pressed="true"]')?.scrollIntoView({ block: "nearest", inline: "nearest" });
    },

    clicked(event) {
      const button = event.target.closest("button");
      if (!button) return;
      const { step, part, addStep, addMark } = button.dataset;
      if (step) this.$dispatch("choose", { part: button.closest("[data-of]").dataset.of, step });
      if (part) this.$dispatch("choose", { part, step: "bare" });
      if (addStep) this.$dispatch("add-step", { kind: addStep });
      if (addMark !== undefined) this.$dispatch("add-mark");
    },

    keyed(event) {
      const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
      const button = event.target.closest("[data-step], .tab[data-part]");
      if (!way || !button) return;
      event.preventDefault();
      if (event.altKey) return void this.shift(button, way);
      const row = [...this.$root.querySelectorAll(button.dataset.step ? "[data-step]" : ".tab[data-part]")];
      row[row.indexOf(button) + way]?.focus();
    },

    shift(button, way) {
      if (!button.matches("[data-movable], [data-mark]")) return;
      const at = this.places(button).indexOf(button) + way;
      if (at >= 0 && at < this.places(button).length) this.put(button, at);
    },

    places(button) {
      return [...this.$root.querySelectorAll(button.dataset.step ? "[data-movable]" : "[data-mark]")];
    },

    put(button, to) {
      const { step, part } = button.dataset;
      if (step) context.session.change([{ op: "move_step", step, to }], "Step moved", { reload: true });
      else context.session.change([{ op: "move_mark", mark: part, to }], "Mark restacked", { reload: true });
    },

    // Resting the pointer on a picture shows what that step alone changed.
    hover(event) { this.rest(event.target.closest("[data-alone]")); },
    leave() { this.rest(null); },

    rest(frame) {
      if (frame === this.rested) return;
      clearTimeout(this.resting);
      const image = this.rested?.querySelector("img");
      if (image?.dataset.whole) image.src = image.dataset.whole;
      this.rested = frame;
      if (frame) this.resting = setTimeout(() => this.alone(frame.querySelector("img")), REST_MS);
    },

    alone(image) {
      image.dataset.whole = image.getAttribute("src").replace("?alone", "");
      image.src = `${image.dataset.whole}?alone`;
    },

    lift(event) {
      this.lifted = event.target.closest("[data-movable], [data-mark]");
      if (this.lifted) event.dataTransfer.effectAllowed = "move";
      else event.preventDefault();
    },

    under(event) {
      const selector = this.lifted?.dataset.step ? "[data-movable]" : "[data-mark]";
      return this.lifted && event.target.closest(selector);
    },

    over(event) {
      const target = this.under(event);
      this.clear();
      if (!target || target === this.lifted) return;
      event.preventDefault();
      target.classList.add("over");
    },

    drop(event) {
      const target = this.under(event);
      this.clear();
      if (!target || target === this.lifted) return;
      event.preventDefault();
      this.put(this.lifted, this.places(this.lifted).indexOf(target));
    },

    clear() {
      this.$root.querySelectorAll(".over").forEach((element) => element.classList.remove("over"));
    },
  }));
});
