// Drawing freely: a stroke as long as the pen is down, or between two presses of Space.

import { say } from "../events.js";
import { takeTip } from "./brush.js";

export class Freehand {
  constructor(drawing) {
    Object.assign(this, { drawing, waiting: null, pressed: false });
  }

  begin() {}
  told() {}
  shapes() {
    return [];
  }
  viewMoved() {
    this.lift();
  }
  finish() {
    this.lift();
  }

  press(event) {
    if (this.drawing.live) return;
    this.pressed = true;
    this.down(pressureOf(event)).then(() => this.pressed || this.lift());
  }

  // What is drawn before the tip is known waits for it.
  async down(pressure = 1) {
    const { drawing } = this;
    if (this.waiting) return;
    this.waiting = [[drawing.at, pressure]];
    const live = await drawing.newLive(pressure);
    const { waiting } = this;
    this.waiting = null;
    if (!live) return;
    drawing.live = live;
    this.draw(waiting);
    if (!live.way.told.follows) live.dot();
  }

  missTip() {
    takeTip("", {});
    say("brush-moved");
    say("trouble-told", {
      message: "This tip cannot be had now. The soft round one is in the hand.",
    });
  }

  // Places of the stage, each [at, pressure].
  draw(places) {
    const { drawing } = this;
    if (this.waiting) this.waiting.push(...places);
    else if (drawing.live)
      drawing.live.draw(places.map(([at, one]) => [drawing.stuckTo(drawing.space.own(at)), one]));
  }

  move(event) {
    const { drawing } = this;
    const events = event.getCoalescedEvents?.() ?? [];
    this.draw(
      (events.length ? events : [event]).map((one) => [drawing.place(one), pressureOf(one)]),
    );
  }

  movedTo(at) {
    this.draw([[at, 1]]);
  }

  release() {
    this.pressed = false;
    this.lift();
  }

  // The pen is lifted: what it drew is a change like every other.
  lift() {
    const { drawing } = this;
    const { live } = drawing;
    if (!live) return;
    live.end();
    drawing.live = null;
    drawing.keep(live);
  }

  toggle() {
    if (this.drawing.live) this.lift();
    else this.down();
  }

  escape() {
    const there = Boolean(this.drawing.live);
    this.lift();
    return there;
  }
}

// Of a pen; a mouse and a finger press as hard as can be.
function pressureOf({ pointerType, pressure }) {
  return pointerType === "pen" && pressure > 0 ? pressure : 1;
}
