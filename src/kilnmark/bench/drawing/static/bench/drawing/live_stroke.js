// A stroke as long as the pen is down: its way, and what it covers of the picture that is shown.

import { Covering } from "./covering.js";
import { Way } from "./dabs.js";

export class LiveStroke {
  // told : the stroke without its points. levels : of its tip, null while they are not known: then it is shown as a smooth one.
  constructor(stage, space, overlay, told, levels) {
    Object.assign(this, { stage, space, overlay, levels });
    this.begin(told);
  }

  begin(told) {
    const { width, height } = this.stage.canvas;
    this.way = new Way(told);
    this.covering = new Covering(width, height, this.levels, this.way.told);
  }

  // Places of the frame, each [own, pressure].
  draw(places) {
    for (const [own, pressure] of places)
      if (own.every(Number.isFinite))
        for (const one of this.way.add(own, pressure)) this.cover(one);
    this.overlay.draw(this.covering);
  }

  cover(piece) {
    const { way, covering, space } = this;
    if (covering.levels) {
      for (const dab of way.dabsOn(piece)) covering.stamp(space.onPictureDab(dab));
      return;
    }
    const radii = piece.widths.map((one) => one * way.radius * space.pxOfPicture);
    const cuts = piece.cuts.map(({ before, end }) => ({
      before: space.onPicture(before),
      end: space.onPicture(end),
    }));
    covering.sweep(space.onPicture(piece.from), space.onPicture(piece.to), radii, cuts);
  }

  // A stroke that has not gone anywhere yet.
  dot() {
    if (this.way.points.length !== 1) return;
    this.cover(this.way.dot);
    this.overlay.draw(this.covering);
  }

  // Tapers, flat ends and curves are known as a whole only.
  end() {
    if (this.way.changesAtTheEnd) this.drawAgain();
    if (this.way.told.follows) this.dot();
  }

  // Through points that were set, each { at, corner }: another curve in the place of what was shown.
  through(nodes) {
    this.way = Way.through(this.way.told, nodes);
    this.drawAgain();
  }

  // In full, also over another picture, perhaps of another resolution.
  drawAgain() {
    const { way } = this;
    this.overlay.clear();
    const { width, height } = this.stage.canvas;
    this.covering = new Covering(width, height, this.levels, way.told);
    if (way.points.length === 1 && !way.told.follows) this.cover(way.dot);
    for (const piece of way.whole()) this.cover(piece);
    this.overlay.draw(this.covering);
  }

  // As it is stored; null of none.
  get stroke() {
    return this.way.points.length ? this.way.stroke : null;
  }
}
