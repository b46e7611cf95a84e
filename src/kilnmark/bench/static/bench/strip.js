// The strip and the tabs above it: choosing, adding, and reordering by dragging or with Alt and the arrow keys.

import { get } from "./api.js";

const REST_MS = 350;

export class Strip {
  constructor(element, session, choice) {
    Object.assign(this, { element, session, choice });
    element.addEventListener("click", (event) => this.clicked(event));
    element.addEventListener("keydown", (event) => this.keyed(event));
    element.addEventListener("dragstart", (event) => this.lift(event));
    element.addEventListener("dragover", (event) => this.over(event));
    element.addEventListener("drop", (event) => this.drop(event));
    element.addEventListener("dragend", () => this.clear());
    element.addEventListener("pointerover", (event) => this.rest(event.target.closest("[data-alone]")));
    element.addEventListener("pointerleave", () => this.rest(null));
  }

  async load() {
    const { part, step } = this.choice;
    this.asked = (this.asked ?? 0) + 1;
    const mine = this.asked;
    const answer = await get(`${this.session.base}strip/?part=${part}&step=${step}`);
    if (!answer.ok) this.session.say("trouble", { message: answer.message });
    if (mine !== this.asked || !answer.ok) return;
    const focused = this.focused();
    const scrolled = this.element.querySelector(".frames")?.scrollLeft ?? 0;
    this.element.innerHTML = answer.data;
    this.element.querySelector(".frames").scrollLeft = scrolled;
    this.element.querySelector('.frame[aria-pressed="true"]')?.scrollIntoView({ block: "nearest", inline: "nearest" });
    if (focused) this.element.querySelector(focused)?.focus();
  }

  focused() {
    const at = document.activeElement;
    if (!this.element.contains(at)) return null;
    if (at.dataset.step) return `[data-step="${at.dataset.step}"]`;
    return at.dataset.part ? `.tab[data-part="${at.dataset.part}"]` : null;
  }

  clicked(event) {
    const button = event.target.closest("button");
    if (!button) return;
    const { step, part, addStep, addMark } = button.dataset;
    if (step) this.onchoose(button.closest("[data-of]").dataset.of, step);
    if (part) this.onchoose(part, "bare");
    if (addStep) this.onaddstep(addStep);
    if (addMark !== undefined) this.onaddmark();
  }

  keyed(event) {
    const way = { ArrowLeft: -1, ArrowRight: 1 }[event.key];
    const button = event.target.closest("[data-step], .tab[data-part]");
    if (!way || !button) return;
    event.preventDefault();
    if (event.altKey) return void this.shift(button, way);
    const row = [...this.element.querySelectorAll(button.dataset.step ? "[data-step]" : ".tab[data-part]")];
    row[row.indexOf(button) + way]?.focus();
  }

  shift(button, way) {
    if (!button.matches("[data-movable], [data-mark]")) return;
    const at = this.places(button).indexOf(button) + way;
    if (at >= 0 && at < this.places(button).length) this.put(button, at);
  }

  places(button) {
    return [...this.element.querySelectorAll(button.dataset.step ? "[data-movable]" : "[data-mark]")];
  }

  put(button, to) {
    const { step, part } = button.dataset;
    if (step) this.session.change([{ op: "move_step", step, to }], "Step moved", { reload: true });
    else this.session.change([{ op: "move_mark", mark: part, to }], "Mark restacked", { reload: true });
  }

  // Resting the pointer on a picture shows what that step alone changed.
  rest(frame) {
    if (frame === this.rested) return;
    clearTimeout(this.resting);
    const image = this.rested?.querySelector("img");
    if (image?.dataset.whole) image.src = image.dataset.whole;
    this.rested = frame;
    if (frame) this.resting = setTimeout(() => this.alone(frame.querySelector("img")), REST_MS);
  }

  alone(image) {
    image.dataset.whole ??= image.src;
    image.src = `${image.dataset.whole}?alone`;
  }

  lift(event) {
    this.lifted = event.target.closest("[data-movable], [data-mark]");
    if (this.lifted) event.dataTransfer.effectAllowed = "move";
    else event.preventDefault();
  }

  under(event) {
    const selector = this.lifted?.dataset.step ? "[data-movable]" : "[data-mark]";
    return this.lifted && event.target.closest(selector);
  }

  over(event) {
    const target = this.under(event);
    this.clear();
    if (!target || target === this.lifted) return;
    event.preventDefault();
    target.classList.add("over");
  }

  drop(event) {
    const target = this.under(event);
    this.clear();
    if (!target || target === this.lifted) return;
    event.preventDefault();
    this.put(this.lifted, this.places(this.lifted).indexOf(target));
  }

  clear() {
    this.element.querySelectorAll(".over").forEach((element) => element.classList.remove("over"));
  }
}
