// Scratches from place to place, by a drag or two clicks.

import { make } from "../hands/svg.js";
import { store } from "../store.js";
import { newSeed } from "./seeds.js";

const CLICK = 5; // px: less is no drag

export class Scratch {
  constructor(drawing) {
    Object.assign(this, { drawing, line: null });
  }

  begin() {}
  told() {}
  move() {}
  movedTo() {}
  viewMoved() {
    this.line = null;
  }
  finish() {
    this.line = null;
  }

  press() {
    this.line ??= { from: this.drawing.at }; // a second click ends it
  }

  release(event) {
    if (!this.line || !this.drawing.pad.hasPointerCapture(event.pointerId)) return;
    const to = this.drawing.place(event);
    const { from, clicked } = this.line;
    const far = Math.hypot(to[0] - from[0], to[1] - from[1]);
    if (far < CLICK && !clicked) this.line.clicked = true;
    else this.scratchTo(to);
  }

  toggle() {
    if (this.line) this.scratchTo(this.drawing.at);
    else this.press();
  }

  escape() {
    const there = Boolean(this.line);
    this.line = null;
    return there;
  }

  scratchTo(to) {
    const [start, end] = [this.line.from, to].map((at) => this.drawing.space.own(at));
    this.line = null;
    this.drawing.showTip();
    this.scratch({ op: "add_scratch", start, end });
  }

  // Several over the part, as many as `count`.
  several(count) {
    const { held, session, space } = this.drawing;
    const box = session.snapshot.boxes[held.part] ?? store.page;
    const across = [box.width, box.height].map((one) => one / space.frame.unit);
    this.scratch({ op: "add_scratches", across, count });
  }

  scratch(edit) {
    const { radius, back, strength } = this.drawing.inHand();
    const told = { width: 2 * radius, back, strength, seed: newSeed() };
    this.drawing.store([{ ...edit, ...told, path: this.drawing.held.path }], "Scratched");
  }

  shapes(at) {
    if (!this.line || !at) return [];
    const [[x1, y1], [x2, y2]] = [this.line.from, at];
    return ["ring-back", "ring"].map((name) => make("line", { class: name, x1, y1, x2, y2 }));
  }
}
