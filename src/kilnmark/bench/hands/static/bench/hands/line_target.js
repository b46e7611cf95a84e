// The line of a gradient on the piece: its two ends, dragged, or moved by the arrow keys. Of a round one they are its middle and its rim.

import { inFrame, outOf, toFlat, toPiece } from "../../controls/lib/layout.js";
import { PointsTarget } from "./points_target.js";

const LEAST = 2; // px between its ends
const NAMES = {
  straight: ["Start of the gradient", "End of the gradient"],
  round: ["Middle of the gradient", "Rim of the gradient"],
  cone: ["Middle of the gradient", "Begin of the gradient"],
};

export class LineTarget extends PointsTarget {
  label = "Gradient moved";

  get name() {
    return "Gradient";
  }
  get gradient() {
    return this.session.at(this.path.slice(0, -1));
  }

  // What it fills, as it lies flat.
  get box() {
    const { width, height } = this.page;
    if (this.part === "ground")
      return {
        x: Math.round(width / 2),
        y: Math.round(height / 2),
        width,
        height,
        rotation_deg: 0,
      };
    return this.session.snapshot.boxes[this.part];
  }

  // Its line in shares of the box; where none is set, as the core lays it.
  get line() {
    if (this.live ?? this.gradient.line) return this.live ?? this.gradient.line;
    const { width, height } = this.box;
    const turn = (this.gradient.angle_deg * Math.PI) / 180;
    if (this.gradient.way === "round")
      return { x0: 0, y0: 0, x1: Math.hypot(width, height) / 2 / width, y1: 0 };
    const [dx, dy] = [Math.sin(turn), -Math.cos(turn)];
    const half = (Math.abs(width * dx) + Math.abs(height * dy)) / 2;
    const [x1, y1] = [(dx * half) / width, (dy * half) / height];
    return this.gradient.way === "cone" ? { x0: 0, y0: 0, x1, y1 } : { x0: -x1, y0: -y1, x1, y1 };
  }

  // Where an end lies on the piece.
  at(side) {
    const { box, line } = this;
    const n = side === "first" ? 0 : 1;
    const flat = outOf(box, [line[`x${n}`] * box.width, line[`y${n}`] * box.height]);
    return toPiece(this.laid, flat);
  }

  parts(handles, make) {
    if (this.gradient?.kind !== "gradient") return [];
    const at = (side) => handles.stage.view.toStage(...this.at(side));
    const [[x1, y1], [x2, y2]] = [at("first"), at("second")];
    const names = NAMES[this.gradient.way];
    const grips = ["first", "second"].map((side, n) => {
      const [cx, cy] = handles.within(at(side));
      const words = { tabindex: 0, role: "button", "data-side": side, "aria-label": names[n] };
      return make("circle", { class: `fade-grip ${side}`, cx, cy, r: 9, ...words });
    });
    return [
      make("line", { class: "guide-back", x1, y1, x2, y2 }),
      make("line", { class: "guide", x1, y1, x2, y2 }),
      ...grips,
    ];
  }

  // to : on the piece. Of a round one or a cone the middle takes the other end along.
  move(side, to) {
    const { box, line } = this;
    const [dx, dy] = inFrame(box, toFlat(this.laid, to));
    const fine = (value) => Math.round(value * 1e5) / 1e5;
    const [x, y] = [fine(dx / box.width), fine(dy / box.height)];
    const next = Object.fromEntries(Object.entries(line).map(([name, one]) => [name, fine(one)]));
    if (side === "second") Object.assign(next, { x1: x, y1: y });
    else {
      Object.assign(next, { x0: x, y0: y });
      if (this.gradient.way !== "straight")
        Object.assign(next, { x1: fine(line.x1 + x - line.x0), y1: fine(line.y1 + y - line.y0) });
    }
    const long = Math.hypot((next.x1 - next.x0) * box.width, (next.y1 - next.y0) * box.height);
    if (long < LEAST || Object.values(next).some((one) => Math.abs(one) > 20)) return;
    this.draft(next);
  }
}
