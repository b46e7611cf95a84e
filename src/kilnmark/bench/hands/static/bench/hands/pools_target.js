// Pools of light on the piece: their middles and the ends of their axes, or the points of their strokes; dragged, or moved by the
// arrow keys. The middle of a pool takes its axes along.

import { inFrame, outOf, toFlat, toPiece } from "../../controls/lib/layout.js";
import { PointsTarget } from "./points_target.js";

const NAMES = ["Middle", "Width", "Height"];

export class PoolsTarget extends PointsTarget {
  label = "Light moved";

  get name() {
    return "Light";
  }
  get pools() {
    return this.live ?? this.session.at(this.path);
  }
  get box() {
    return this.session.snapshot.boxes[this.part];
  }

  place([x, y]) {
    const { box } = this;
    return toPiece(this.laid, outOf(box, [x * box.height, y * box.height]));
  }

  parts(handles, make) {
    if (!this.pools || !this.box) return [];
    return this.pools.flatMap((pool, n) => {
      const at = pool.points.map((point) => handles.stage.view.toStage(...this.place(point)));
      const round = pool.form === "ellipse";
      const lines = round ? at.slice(1).map((end) => [at[0], end]) : [at];
      const guides = lines.map((points) =>
        make("polyline", { class: "guide-back", points: points.join(" "), fill: "none" }),
      );
      const grips = at.map((place, k) => {
        const [cx, cy] = handles.within(place);
        const what = round ? NAMES[k] : `Point ${k + 1}`;
        const words = { tabindex: 0, role: "button", "aria-label": `${what} of pool ${n + 1}` };
        const kind = round && k ? "fade-grip middle" : "fade-grip";
        return make("circle", {
          class: kind,
          cx,
          cy,
          r: k && round ? 7 : 9,
          "data-side": `${n}-${k}`,
          ...words,
        });
      });
      return [...guides, ...grips];
    });
  }

  move(side, to) {
    const [n, k] = side.split("-").map(Number);
    const { box } = this;
    const fine = (value) => Math.round(value * 1e5) / 1e5;
    const own = inFrame(box, toFlat(this.laid, to)).map((one) => fine(one / box.height));
    const pool = this.pools[n];
    if (!pool || own.some((one) => Math.abs(one) > 40)) return;
    const by = own.map((one, axis) => one - pool.points[k][axis]);
    const all = pool.form === "ellipse" && k === 0;
    const points = pool.points.map((point, m) =>
      m === k ? own : all ? point.map((one, axis) => fine(one + by[axis])) : point,
    );
    this.draft(this.pools.map((one, m) => (m === n ? { ...one, points } : one)));
  }

  at(side) {
    const [n, k] = side.split("-").map(Number);
    return this.place(this.pools[n].points[k]);
  }
}
