// The texture of the chosen step, or of the ground, that the handles hold.

import {
  corners,
  fromPx,
  inFrame,
  lengthPx,
  outOf,
  roundScale,
  toFlat,
  turned,
  upright,
} from "../../controls/lib/layout.js";

export class TextureTarget {
  letsPick = false;

  get laid() {
    return this.frame.laid ?? [];
  }

  // A frame on the piece, as it lies flat.
  flat(frame) {
    if (!this.laid.length) return frame;
    const points = corners({ ...frame, rotation_deg: 0 }).map((point) => toFlat(this.laid, point));
    const { left, top, right, bottom } = upright({ outline: points });
    return {
      ...frame,
      x: (left + right) / 2,
      y: (top + bottom) / 2,
      width: right - left,
      height: bottom - top,
    };
  }

  constructor(session, path, part, page) {
    Object.assign(this, { session, path, page, part });
  }

  get name() {
    return "Texture";
  }
  get label() {
    return "Texture moved on the piece";
  }
  // Of the mark, or of the page where a step stays with the ground.
  get frame() {
    const step = this.session.at(this.path.slice(0, -1));
    return this.session.snapshot.frames[step?.rides === "ground" ? "piece" : this.part];
  }

  get size() {
    if (this.path.at(-1) === "under_placement")
      return this.session.snapshot.textures[`${this.path.at(-3)} under`] ?? [1024, 1024];
    const fills = this.path.at(-2) === "fill";
    const holder = fills ? (this.path.at(-4) ?? "ground") : this.path.at(-3);
    return this.session.snapshot.textures[holder] ?? [1024, 1024];
  }

  get box() {
    const place = this.session.at(this.path);
    const frame = this.frame;
    const offset = ["x", "y"].map((axis) => lengthPx(place[axis], this.page.ppi, frame.unit));
    const [x, y] = outOf(frame, offset);
    const [width, height] = this.size;
    return {
      x,
      y,
      width: width * place.scale,
      height: height * place.scale,
      rotation_deg: frame.rotation_deg + place.rotation_deg,
    };
  }

  values(box) {
    const place = this.session.at(this.path);
    const frame = this.frame;
    const offset = inFrame(frame, [box.x, box.y]);
    const length = (axis, px) => fromPx(px, place[axis].unit, this.page.ppi, frame.unit);
    return {
      x: length("x", offset[0]),
      y: length("y", offset[1]),
      scale: roundScale(box.width / this.size[0]),
      rotation_deg: turned(box.rotation_deg - frame.rotation_deg),
    };
  }

  edits(box) {
    return Object.entries(this.values(box)).map(([key, value]) => ({
      op: "set",
      path: [...this.path, key],
      value,
    }));
  }
}
