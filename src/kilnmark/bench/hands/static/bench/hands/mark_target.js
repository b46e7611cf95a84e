// A mark that the handles hold: its box on the piece, and what a new box changes of its placement.

import { fromPx, inGroups, lengthPx, roundScale, turned } from "../../controls/lib/layout.js";

export class MarkTarget {
  letsPick = true; // a press on another mark that lies above chooses that one

  // The way to the piece from where a hand moves it: of the group that it is in.
  get laid() {
    return this.session.snapshot.frames[this.session.groupsAround(this.id).at(-1)?.id]?.laid ?? [];
  }

  // What follows a hand as a cut-out: nothing that lies in perspective, which changes its shape as it moves.
  get lifts() {
    return this.leftOut || this.box.outline?.length || this.laid.length ? [] : [this.id];
  }

  // Whether its corners can be dragged one by one.
  get byCorners() {
    return this.session.at(this.path)?.perspective?.kind === "corners" && !this.locked;
  }

  cornered(ring) {
    return [{ op: "lay_corners", mark: this.id, corners: ring }];
  }

  // Whether its sides can be dragged one by one: of a shape that lies flat.
  get bySides() {
    const { art, placement } = this.session.mark(this.id) ?? {};
    return (
      ["shape", "light"].includes(art?.kind) &&
      !placement.perspective &&
      !this.laid.length &&
      !this.locked
    );
  }

  // As wide and tall as a box, its scale left as it is.
  sized(box) {
    const { width, height } = this.box;
    const art = [...this.session.wayTo(this.id), "art"];
    const now = this.session.at(art);
    const { ppi, height: tall } = this.page;
    const side = (name, ratio) => {
      const px = lengthPx(now[name], ppi, tall) * ratio;
      return { op: "set", path: [...art, name], value: fromPx(px, now[name].unit, ppi, tall) };
    };
    const { x, y } = this.values({ ...box, width, height });
    return [
      side("width", box.width / width),
      side("height", box.height / height),
      { op: "set", path: [...this.path, "x"], value: x },
      { op: "set", path: [...this.path, "y"], value: y },
    ];
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
      scale: roundScale((place.scale * box.width) / start.width),
      rotation_deg: turned(own.rotation_deg),
    };
  }

  within(box) {
    const groups = this.session.groupsAround(this.id);
    return inGroups(box, groups, this.session.snapshot.boxes[groups.at(-1)?.id]);
  }

  edits(box) {
    return Object.entries(this.values(box)).map(([key, value]) => ({
      op: "set",
      path: [...this.path, key],
      value,
    }));
  }
}
