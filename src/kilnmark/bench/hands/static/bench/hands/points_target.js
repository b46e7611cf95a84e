// Points of something on the piece that are held by hand: dragged, or moved by the arrow keys. What holds them says where they
// lie (`parts`), what moving one comes to (`move`), and where one lies on the piece (`at`).

const REST_MS = 400;

export class PointsTarget {
  drawsItself = true;
  id = null;
  label = "Moved on the piece"; // of the change

  constructor(session, path, part, page) {
    Object.assign(this, { session, path, part, page, live: null });
  }

  // The way from where it would lie flat.
  get laid() {
    return this.session.snapshot.frames[this.part]?.laid ?? [];
  }

  get edits() {
    return [{ op: "set", path: this.path, value: this.live }];
  }

  // What a hand made of it, drawn at once and stored when it rests.
  draft(value) {
    this.live = value;
    this.session.draft(this.edits);
  }

  drag(side, from, to) {
    this.move(side, to);
  }

  nudge(side, step, far) {
    const [x, y] = this.at(side);
    this.move(side, [x + step[0] * far, y + step[1] * far]);
    clearTimeout(this.resting);
    this.resting = setTimeout(() => this.store(), REST_MS);
    return true;
  }

  store() {
    if (!this.live) return;
    const { edits } = this;
    this.live = null;
    this.session.change(edits, this.label, { reload: true });
  }
}
