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

  cover(segment) {
    const { way, covering, space } = this;
    if (covering.levels) {
      for (const dab of way.dabsOn(segment)) covering.stamp(space.onPictureDab(dab));
      return;
    }
    const radius = way.radius * space.pxOfPicture;
    const radii = segment.pressures.map((one) => radius * (1 - (way.told.thins ?? 0) * (1 - one)));
    covering.sweep(space.onPicture(segment.from), space.onPicture(segment.to), radii);
  }

  // A stroke that has not gone anywhere yet.
  dot() {
    const { points, pressures } = this.way;
    if (points.length !== 1) return;
    const [[at], [pressure]] = [points, pressures];
    this.cover({ from: at, to: at, pressures: [pressure, pressure] });
    this.overlay.draw(this.covering);
  }

  // Over another picture, perhaps of another resolution.
  drawAgain() {
    const { points, pressures, told } = this.way;
    this.begin(told);
    this.draw(points.map((at, n) => [at, pressures[n]]));
    if (!told.follows) this.dot();
  }

  // As it is stored; null of none.
  get stroke() {
    return this.way.points.length ? this.way.stroke : null;
  }
}
