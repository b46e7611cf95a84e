import { jointBox } from "../../controls/lib/layout.js";

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
  get lifts() {
    return this.parts.some((box) => box.outline?.length) ? [] : this.ids;
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
