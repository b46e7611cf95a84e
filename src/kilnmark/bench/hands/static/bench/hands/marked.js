// A place on the piece, hatched until the next press, key or change of the piece.

import { corners } from "../../controls/lib/layout.js";
import { make } from "./svg.js";

export class Marked {
  constructor(handles) {
    Object.assign(this, { handles, place: null, version: null });
    for (const name of ["pointerdown", "keydown"])
      document.addEventListener(name, () => this.place && this.show(null), true);
  }

  // [x, y, width, height] in px of the piece, or nothing.
  show(place) {
    Object.assign(this, { place, version: this.handles.session.version });
    this.handles.draw();
  }

  // What was read of an older version is no longer there.
  settle() {
    if (this.version !== this.handles.session.version) this.place = null;
  }

  // The overlay is drawn anew whenever the view or the piece is told; the place goes with it.
  draw() {
    if (!this.place) return;
    const { overlay, view } = this.handles;
    const [x, y, width, height] = this.place;
    const points = corners({ x: x + width / 2, y: y + height / 2, width, height, rotation_deg: 0 })
      .map((point) => view.toStage(...point))
      .join(" ");
    overlay.append(make("polygon", { class: "marked", points }));
  }
}
