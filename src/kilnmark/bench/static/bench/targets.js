// What the handles hold: a mark, or the texture of the chosen step or ground. Each gives its box on the piece and turns
// a new box into edits of the document.

import {
  corners,
  fromPx,
  jointBox,
  lengthPx,
  rotate,
  turned,
  upright,
} from "../controls/lib/geometry.js";
import { toFlat } from "../controls/lib/projection.js";

const round = (value) => Math.round(value * 10000) / 10000;

export class MarkTarget {
  letsPick = true; // a press on another mark that lies above chooses that one

  // The way to the piece from where a hand moves it: of the group that it is in.
  get laid() {
    return this.session.snapshot.frames[this.session.groupsAround(this.id).at(-1)?.id]?.laid ?? [];
  }

  // Whether its corners can be dragged one by one.
  get byCorners() {
    return this.session.at(this.path)?.perspective?.kind === "corners" && !this.locked;
  }

  cornered(ring) {
    return [{ op: "lay_corners", mark: this.id, corners: ring }];
  }

  constructor(session, id, page) {
    Object.assign(this, { session, id, page, path: [...session.wayTo(id), "placement"] });
  }

  get name() {
    return this.session.mark(this.id)?.name || this.session.mark(this.id)?.art?.text || "Mark";
  }
  get box() {
    return this.session.snapshot.boxes[this.id];
  }
  get label() {
    return "Moved on the piece";
  }
  get locked() {
    return Boolean(this.session.mark(this.id)?.locked);
  }
  get leftOut() {
    return Boolean(this.session.mark(this.id)?.left_out);
  }

  values(box) {
    const start = this.box;
    const place = this.session.at(this.path);
    const own = this.within(box);
    const length = (axis) => fromPx(own[axis], place[axis].unit, this.page.ppi, this.page.height);
    return {
      x: length("x"),
      y: length("y"),
      scale: round((place.scale * box.width) / start.width),
      rotation_deg: turned(own.rotation_deg),
    };
  }

  // A member of a group lies in the group's own scale and turn, and that of the groups around it.
  within(box) {
    const groups = this.session.groupsAround(this.id);
    if (!groups.length) return box;
    const scale = groups.reduce((product, group) => product * group.placement.scale, 1);
    const frame = this.session.snapshot.boxes[groups.at(-1).id];
    const [x, y] = rotate(box.x - frame.x, box.y - frame.y, -frame.rotation_deg);
    return { x: x / scale, y: y / scale, rotation_deg: box.rotation_deg - frame.rotation_deg };
  }

  edits(box) {
    return Object.entries(this.values(box)).map(([key, value]) => ({
      op: "set",
      path: [...this.path, key],
      value,
    }));
  }
}

// Several marks: moved, scaled and turned together about the middle of the box around them.
export class SeveralTarget {
  letsPick = true;
  path = [];

  constructor(session, ids) {
    Object.assign(this, { session, ids });
  }

  get id() {
    return null;
  }
  get name() {
    return `${this.ids.length} marks`;
  }
  get label() {
    return "Moved together";
  }
  get parts() {
    return this.ids.map((id) => this.session.snapshot.boxes[id]).filter(Boolean);
  }
  get box() {
    return jointBox(this.parts);
  }
  values() {
    return {};
  }

  edits(box) {
    const start = this.box;
    const by = [box.x - start.x, box.y - start.y];
    return [
      {
        op: "transform_marks",
        marks: this.ids,
        about: [start.x, start.y],
        by,
        scale: box.width / start.width,
        turn: box.rotation_deg,
      },
    ];
  }
}

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
    const holder =
      this.path[0] === "ground" && this.path.length === 3 ? "ground" : this.path.at(-3);
    return this.session.snapshot.textures[holder] ?? [1024, 1024];
  }

  get box() {
    const place = this.session.at(this.path);
    const frame = this.frame;
    const [dx, dy] = rotate(
      ...["x", "y"].map((axis) => lengthPx(place[axis], this.page.ppi, frame.unit)),
      frame.rotation_deg,
    );
    const [width, height] = this.size;
    return {
      x: frame.x + dx,
      y: frame.y + dy,
      width: width * place.scale,
      height: height * place.scale,
      rotation_deg: frame.rotation_deg + place.rotation_deg,
    };
  }

  values(box) {
    const place = this.session.at(this.path);
    const frame = this.frame;
    const offset = rotate(box.x - frame.x, box.y - frame.y, -frame.rotation_deg);
    const length = (axis, px) => fromPx(px, place[axis].unit, this.page.ppi, frame.unit);
    return {
      x: length("x", offset[0]),
      y: length("y", offset[1]),
      scale: round(box.width / this.size[0]),
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

// A region that lies in the frame of what it is kept with.
export class RegionTarget extends TextureTarget {
  get name() {
    return "Region";
  }
  get label() {
    return "Region moved on the piece";
  }

  get box() {
    const { frame, page } = this;
    const region = this.session.at(this.path);
    if (!region) return null;
    const px = (name) => lengthPx(region[name], page.ppi, frame.unit);
    const [dx, dy] = rotate(px("x"), px("y"), frame.rotation_deg);
    return {
      x: frame.x + dx,
      y: frame.y + dy,
      width: px("width"),
      height: px("height"),
      rotation_deg: frame.rotation_deg + region.rotation_deg,
    };
  }

  values(box) {
    const { frame, page } = this;
    const region = this.session.at(this.path);
    const [x, y] = rotate(box.x - frame.x, box.y - frame.y, -frame.rotation_deg);
    const told = { x, y, width: box.width, height: box.height };
    const lengths = Object.entries(told).map(([name, px]) => [
      name,
      fromPx(px, region?.[name].unit ?? "px", page.ppi, frame.unit),
    ]);
    return {
      ...Object.fromEntries(lengths),
      rotation_deg: turned(box.rotation_deg - frame.rotation_deg),
    };
  }
}

// A region that holds a landing lies on the page itself.
export class PageRegionTarget extends RegionTarget {
  get frame() {
    return { x: 0, y: 0, unit: this.page.height, rotation_deg: 0 };
  }
}
