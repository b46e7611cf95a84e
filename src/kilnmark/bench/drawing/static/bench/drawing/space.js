// Places of the stage in the frame that strokes are told in, and back onto the pixels of its picture.

import { inFrame, outOf, toFlat, toPiece } from "../../controls/lib/layout.js";

export class Space {
  // frame : { x, y, unit, rotation_deg, laid }, of the part that strokes belong to.
  constructor(stage, frame) {
    Object.assign(this, { stage, frame, turn: (frame.rotation_deg * Math.PI) / 180 });
  }

  // From px of the stage's element.
  own(at) {
    return this.ofPiece(this.stage.view.toPiece(...at));
  }
  ofPiece(point) {
    const { frame } = this;
    return inFrame(frame, toFlat(frame.laid, point)).map((one) => one / frame.unit);
  }

  onPiece(own) {
    const { frame } = this;
    return toPiece(
      frame.laid,
      outOf(
        frame,
        own.map((one) => one * frame.unit),
      ),
    );
  }
  onStage(own) {
    return this.stage.view.toStage(...this.onPiece(own));
  }

  // One dab over all that is in view: what would be drawn at most. A mark is as large as what is drawn of it.
  allInView() {
    const { width, height } = this.stage.view.box;
    const corners = [
      [0, 0],
      [width, 0],
      [0, height],
      [width, height],
    ].map((at) => this.own(at));
    const middle = this.own([width / 2, height / 2]);
    const far = corners.map(([x, y]) => Math.hypot(x - middle[0], y - middle[1]));
    return { points: [middle], radius: Math.min(1.05 * Math.max(...far), 10), hardness: 1 };
  }

  // To px of the picture that is shown.
  onPicture(own) {
    const { region, zoom, dpr } = this.stage.shown;
    const [x, y] = this.onPiece(own);
    return [(x - region.x) * zoom * dpr - 0.5, (y - region.y) * zoom * dpr - 0.5];
  }
  get pxOfPicture() {
    return this.frame.unit * this.stage.shown.zoom * this.stage.shown.dpr;
  }
  get pxOfStage() {
    return this.frame.unit * this.stage.view.zoom;
  }

  onPictureDab(dab) {
    const [x, y] = this.onPicture([dab.x, dab.y]);
    return { ...dab, x, y, radius: dab.radius * this.pxOfPicture, turn: dab.turn + this.turn };
  }
}
