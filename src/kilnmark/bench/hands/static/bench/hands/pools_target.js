// Pools of light on the piece: their middles and the ends of their axes, or the points of their strokes; dragged, or moved by the
// arrow keys. The middle of a pool takes its axes along.

import { inFrame, outOf, toFlat, toPiece } from "../../controls/lib/layout.js";

const REST_MS = 400;
const NAMES = ["Middle", "Width", "Height"];

export class PoolsTarget {
  drawsItself = true;
  id = null;

  constructor(session, path, part, page) {
    Object.assign(this, { session, path, part, page, live: null });
  }

  get name() {
    return "Light";
  }
  get laid() {
    return this.session.snapshot.frames[this.part]?.laid ?? [];
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
    this.live = this.pools.map((one, m) => (m === n ? { ...one, points } : one));
    this.session.draft(this.edits);
  }

  get edits() {
    return [{ op: "set", path: this.path, value: this.live }];
  }

  drag(side, from, to) {
    this.move(side, to);
  }

  nudge(side, step, far) {
    const [n, k] = side.split("-").map(Number);
    const [x, y] = this.place(this.pools[n].points[k]);
    this.move(side, [x + step[0] * far, y + step[1] * far]);
    clearTimeout(this.resting);
    this.resting = setTimeout(() => this.store(), REST_MS);
    return true;
  }

  store() {
    if (!this.live) return;
    const { edits } = this;
    this.live = null;
    this.session.change(edits, "Light moved", { reload: true });
  }
}
