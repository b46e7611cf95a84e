// The strip and the tabs above it: choosing, adding, and reordering by dragging or with Alt and the arrow keys. A picture dragged onto a
// tab copies its step there, the first and the last one the whole treatment; a tab dragged onto a group's tab puts its mark in.

import { say } from "../events.js";
import { morph } from "../../controls/lib/morph.js";
import { get, passes } from "../../kilnmark/api.js";
import { store } from "../store.js";
import { drawFrame } from "../hands/drawing.js";
import { drawn } from "../stage/live_picture.js";

const AGAIN_MS = 2500;
const REST_MS = 350;
const HOLD_MS = 260; // after which a press shows the piece up to a picture

document.addEventListener("alpine:init", () => {
  window.Alpine.data("strip", () => ({
    // of its own: what is not named here would be written on the bench
    asked: 0,
    retrying: 0,
    rested: null,
    resting: 0,
    holding: 0,
    held: false,
    lifted: null,

    // The area that all pictures show, as the address has it; kept with the piece in this browser.
    get areaName() {
      return `area ${store.session.base}`;
    },
    get area() {
      return localStorage.getItem(this.areaName) ?? "";
    },

    async setArea() {
      if (this.area) localStorage.removeItem(this.areaName);
      else {
        const frame = await drawFrame(store.stage, document.getElementById("overlay"));
        if (!frame) return;
        const { x, y, width, height } = frame;
        localStorage.setItem(
          this.areaName,
          [x - width / 2, y - height / 2, width, height].map(Math.round).join(","),
        );
      }
      this.load();
    },

    async load() {
      const {
        session,
        choice: { part, step },
      } = store;
      this.asked += 1;
      const mine = this.asked;
      this.wait(part);
      const answer = await get(
        `${session.base}strip/?${new URLSearchParams({ part, step, area: this.area })}`,
      );
      if (mine !== this.asked) return;
      if (!answer.ok) return void this.failed(answer);
      this.rest(null);
      const scrolled = this.$root.querySelector(".frames")?.scrollLeft ?? 0;
      morph(this.$root, answer.data);
      this.free();
      this.$root.querySelector(".frames").scrollLeft = scrolled;
      this.$root
        .querySelector('.frame[aria-pressed="true"]')
        ?.scrollIntoView({ block: "nearest", inline: "nearest" });
      this.$root
        .querySelector('.tab[aria-selected="true"]')
        ?.scrollIntoView({ block: "nearest", inline: "nearest" });
      for (const tab of this.$root.querySelectorAll(".tab[data-mark]"))
        tab.classList.toggle(
          "also",
          store.several.length > 1 && store.several.includes(tab.dataset.part),
        );
    },

    // The menu of steps: pictures of what each does to this part, one after another; typing finds.
    async menuShown() {
      this.$root.querySelector("[data-find-step]")?.focus();
      for (const image of this.$root.querySelectorAll(".steps-menu img:not([src])")) {
        if (!this.$root.querySelector(".steps-menu.show")) return;
        await drawn(image);
      }
    },

    found(event) {
      const field = event.target.closest("[data-find-step]");
      if (!field) return;
      const wanted = field.value.trim().toLowerCase();
      for (const group of this.$root.querySelectorAll(".steps-group")) {
        for (const item of group.querySelectorAll("[data-add-step]"))
          item.hidden = !item.textContent.toLowerCase().includes(wanted);
        group.hidden = !group.querySelector("[data-add-step]:not([hidden])");
      }
    },

    // The pictures of another part take no input, and the tabs say at once which one is chosen.
    wait(part) {
      const frames = this.$root.querySelector(".frames");
      if (!frames || frames.dataset.of === part) return;
      frames.inert = true;
      frames.setAttribute("aria-busy", "true");
      for (const tab of this.$root.querySelectorAll(".tab[data-part]"))
        tab.setAttribute("aria-selected", String(tab.dataset.part === part));
    },

    free() {
      const frames = this.$root.querySelector(".frames");
      frames.inert = false;
      frames.removeAttribute("aria-busy");
      const { focusStep } = store;
      store.focusStep = null;
      if (focusStep) frames.querySelector(`[data-step="${focusStep}"]`)?.focus();
    },

    failed(answer) {
      say("trouble-told", { message: answer.message, signedOut: answer.signedOut });
      clearTimeout(this.retrying);
      if (passes(answer)) this.retrying = setTimeout(() => this.load(), AGAIN_MS);
    },

    clicked(event) {
      const button = event.target.closest("button");
      if (!button || this.held) return;
      if (button.dataset.area !== undefined) return void this.setArea();
      if (button.dataset.solve)
        return void store.session.change([JSON.parse(button.dataset.solve)], "Solved again", {
          reload: true,
        });
      const { step, part, addStep, addMark, trySteps, looks } = button.dataset;
      if (step) say("choice-wanted", { part: button.closest("[data-of]").dataset.of, step });
      if (part && event.shiftKey && button.dataset.mark !== undefined)
        say("choice-wanted", { part, also: true });
      else if (part) say("choice-wanted", { part, step: "bare" });
      if (addStep) say("step-wanted", { kind: addStep });
      if (trySteps) say("tryouts-wanted", { kind: "steps", path: trySteps, title: "Next step" });
      if (looks !== undefined) say("looks-wanted", {});
      if (addMark !== undefined) say("mark-wanted");
    },

    keyed(event) {
      if (event.target.matches("[data-find-step]") && event.key === "Enter") {
        event.preventDefault();
        return void this.$root.querySelector(".steps-group [data-add-step]:not([hidden])")?.click();
      }
      const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
      const button = event.target.closest("[data-step], .tab[data-part]");
      if (!way || !button) return;
      event.preventDefault();
      if (event.altKey) return void this.shift(button, way);
      const row = [
        ...this.$root.querySelectorAll(button.dataset.step ? "[data-step]" : ".tab[data-part]"),
      ];
      row[row.indexOf(button) + way]?.focus();
    },

    shift(button, way) {
      if (!button.matches("[data-movable], [data-mark]")) return;
      const at = this.places(button).indexOf(button) + way;
      if (at >= 0 && at < this.places(button).length) this.put(button, at);
    },

    // A step's row, or the tabs in the same group.
    places(button) {
      if (button.dataset.step) return [...this.$root.querySelectorAll("[data-movable]")];
      return [...this.$root.querySelectorAll("[data-mark]")].filter(
        (tab) => tab.dataset.holder === button.dataset.holder,
      );
    },

    put(button, to) {
      const { step, part } = button.dataset;
      if (step)
        store.session.change([{ op: "move_step", step, to }], "Step moved", { reload: true });
      else
        store.session.change([{ op: "move_mark", mark: part, to }], "Mark restacked", {
          reload: true,
        });
    },

    // Pressing a picture shows the piece up to there as long as it is held.
    pressed(event) {
      const frame = event.target.closest(".frame");
      this.held = false;
      if (!frame || event.button) return;
      const { part, number } = {
        part: frame.closest("[data-of]").dataset.of,
        number: Number(frame.dataset.number),
      };
      this.holding = setTimeout(() => {
        this.held = true;
        store.stage.show({ part, number });
      }, HOLD_MS);
      for (const name of ["pointerup", "pointercancel", "blur"])
        window.addEventListener(name, () => this.released(), { once: true });
    },

    released() {
      clearTimeout(this.holding);
      if (!this.held) return;
      store.stage.show(null);
      setTimeout(() => {
        this.held = false;
      }); // after the click that this press ends with, which chooses nothing
    },

    // Resting the pointer on a picture shows what that step alone changed.
    hover(event) {
      this.rest(event.target.closest("[data-alone]"));
    },
    leave() {
      this.rest(null);
    },

    rest(frame) {
      if (frame === this.rested) return;
      clearTimeout(this.resting);
      const image = this.rested?.querySelector("img");
      if (image?.dataset.whole) image.src = image.dataset.whole;
      this.rested = frame;
      if (frame) this.resting = setTimeout(() => this.alone(frame.querySelector("img")), REST_MS);
    },

    alone(image) {
      const whole = image.getAttribute("src");
      image.dataset.whole = whole;
      image.src = `${whole}${whole.includes("?") ? "&" : "?"}alone`;
    },

    lift(event) {
      this.released();
      this.held = false;
      this.lifted = event.target.closest("[data-movable], [data-whole], [data-mark]");
      if (this.lifted) event.dataTransfer.effectAllowed = "copyMove";
      else event.preventDefault();
    },

    // { target, how } of what would happen here: 'over' before it, 'after', 'into' a group, 'copy' onto a tab.
    aim(event) {
      const { lifted } = this;
      if (!lifted) return null;
      const tab = event.target.closest(".tab[data-part]");
      if (lifted.dataset.step) {
        if (tab)
          return tab.dataset.part === lifted.closest("[data-of]").dataset.of
            ? null
            : { target: tab, how: "copy" };
        const frame =
          lifted.dataset.movable !== undefined && event.target.closest("[data-movable]");
        return frame && frame !== lifted ? { target: frame, how: "over" } : null;
      }
      if (!tab || tab === lifted || tab.dataset.mark === undefined) return null;
      const { left, width } = tab.getBoundingClientRect();
      const share = (event.clientX - left) / width;
      if (tab.dataset.group !== undefined && share > 0.25 && share < 0.85)
        return { target: tab, how: "into" };
      return { target: tab, how: share < 0.5 ? "over" : "after" };
    },

    over(event) {
      const aim = this.aim(event);
      this.clear();
      if (!aim) return;
      event.preventDefault();
      event.dataTransfer.dropEffect = aim.how === "copy" ? "copy" : "move";
      aim.target.classList.add(
        { over: "over", after: "over-after", into: "over-into", copy: "over-into" }[aim.how],
      );
    },

    drop(event) {
      const aim = this.aim(event);
      this.clear();
      if (!aim) return;
      event.preventDefault();
      const { lifted } = this;
      if (aim.how === "copy") this.copy(lifted, aim.target.dataset.part);
      else if (lifted.dataset.step) this.put(lifted, this.places(lifted).indexOf(aim.target));
      else this.place(lifted.dataset.part, aim);
    },

    copy(frame, to) {
      const { of } = frame.closest("[data-of]").dataset;
      say("copy-wanted", {
        of,
        to,
        steps: frame.dataset.whole !== undefined ? null : [frame.dataset.step],
      });
    },

    place(mark, { target, how }) {
      const { part, holder, place } = target.dataset;
      const where =
        how === "into"
          ? { into: part }
          : { into: holder || null, to: Number(place) + (how === "after") };
      store.session.change(
        [{ op: "place_mark", mark, ...where }],
        how === "into" ? "Put into the group" : "Mark restacked",
        { reload: true },
      );
    },

    clear() {
      for (const name of ["over", "over-after", "over-into"]) {
        for (const element of this.$root.querySelectorAll(`.${name}`))
          element.classList.remove(name);
      }
    },
  }));
});
