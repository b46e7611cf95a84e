// The curve that words stand on, on the piece: its points, dragged, or moved by the arrow keys.

import { toFlat, toPiece } from "../../controls/lib/layout.js";
import { PointsTarget } from "./points_target.js";

export class CurveTarget extends PointsTarget {
  label = "Curve moved";

  get name() {
    return "Curve";
  }
  get stored() {
    return this.session.at(this.path);
  }
  get points() {
    return this.live ?? this.stored;
  }

  // From ems of the curve to the piece as it lies flat, as the words stood when they were last stored.
  get map() {
    return this.session.snapshot.curves[this.part];
  }

  place([x, y]) {
    const [a, b, c, d, e, f] = this.map;
    return toPiece(this.laid, [a * x + c * y + e, b * x + d * y + f]);
  }

  parts(handles, make) {
    if (!this.points || !this.map) return [];
    const at = this.points.map((point) => handles.stage.view.toStage(...this.place(point)));
    const line = at.map((point) => point.join(",")).join(" ");
    const grips = at.map((place, n) => {
      const [cx, cy] = handles.within(place);
      const words = { tabindex: 0, role: "button", "data-side": String(n) };
      const label = `Point ${n + 1} of ${at.length} of the curve`;
      return make("circle", { class: "fade-grip", cx, cy, r: 8, ...words, "aria-label": label });
    });
    return [
      make("polyline", { class: "guide-back", points: line, fill: "none" }),
      make("polyline", { class: "guide", points: line, fill: "none" }),
      ...grips,
    ];
  }

  move(side, to) {
    const [a, b, c, d, e, f] = this.map;
    const [x, y] = toFlat(this.laid, to);
    const whole = a * d - b * c;
    const [u, v] = [x - e, y - f];
    const fine = (value) => Math.round(value * 1e4) / 1e4;
    const point = [fine((d * u - c * v) / whole), fine((a * v - b * u) / whole)];
    if (point.some((one) => Math.abs(one) > 500)) return;
    this.draft(this.points.map((one, n) => (n === Number(side) ? point : one)));
  }

  at(side) {
    return this.place(this.points[Number(side)]);
  }
}
