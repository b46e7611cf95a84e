// Drawing by keys alone: arrows move the tip, Space puts it down and lifts it, [ and ] size it, S held sizes it by the pointer, Escape
// ends.

import { say } from "../events.js";
import { LEAST_MM, MOST_MM, brush, hold } from "./brush.js";

const WAYS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
const NUDGE = 4; // px of the screen that an arrow key moves the tip, with Shift five times as many
const SIZING = 0.01; // of its size that the tip grows with a px, while S is held
const GROWS = 1.15;
const TYPED = "input:not([type=range], [type=radio], [type=checkbox]), textarea, select";

function sizeTo(mm) {
  hold({ sizeMm: Math.min(Math.max(mm, LEAST_MM), MOST_MM) });
  say("brush-moved");
}

export class DrawingKeys {
  constructor(drawing) {
    Object.assign(this, { drawing, sizing: null });
    document.addEventListener("keydown", (event) => this.pressed(event), true);
    document.addEventListener("keyup", ({ key }) => this.let(key), true);
    window.addEventListener("blur", () => this.let("s"));
  }

  pressed(event) {
    const { drawing } = this;
    if (!drawing.held || document.querySelector("dialog[open]")) return;
    const { key, target } = event;
    const typing = target.closest(TYPED);
    const plain = !event.ctrlKey && !event.metaKey;
    if (key === "Escape" && !typing) return void this.take(event, () => drawing.escape());
    if (key.toLowerCase() === "s" && !typing && plain)
      return void this.take(event, () => {
        if (!event.repeat) this.sizing = { from: drawing.at, size: brush.sizeMm };
      });
    if (target !== drawing.pad) return;
    const { way } = drawing;
    if (WAYS[key]) this.take(event, () => this.nudge(WAYS[key], event.shiftKey ? 5 : 1));
    else if (key === " ") this.take(event, () => event.repeat || drawing.toggle(event.shiftKey));
    else if (key === "Enter") this.take(event, () => way.enter?.());
    else if (key === "Backspace" || key === "Delete") this.take(event, () => way.back?.());
    else if ((key === "PageUp" || key === "PageDown") && way.step)
      this.take(event, () => way.step(key === "PageUp" ? -1 : 1));
    else if (key === "]") sizeTo(brush.sizeMm * GROWS);
    else if (key === "[") sizeTo(brush.sizeMm / GROWS);
  }

  let(key) {
    if (key.toLowerCase() === "s") this.sizing = null;
  }

  take(event, act) {
    event.preventDefault();
    event.stopPropagation();
    act();
  }

  nudge([dx, dy], times) {
    const { drawing } = this;
    if (drawing.way.nudged) return void drawing.way.nudged([dx * times, dy * times]);
    const { width, height } = drawing.stage.view.box;
    const [x, y] = drawing.place0();
    drawing.moveTo([
      Math.min(Math.max(x + dx * NUDGE * times, 0), width),
      Math.min(Math.max(y + dy * NUDGE * times, 0), height),
    ]);
  }

  // The pointer moves while S is held.
  size([x]) {
    this.sizing.from ??= [x];
    sizeTo(this.sizing.size * Math.exp((x - this.sizing.from[0]) * SIZING));
  }
}
