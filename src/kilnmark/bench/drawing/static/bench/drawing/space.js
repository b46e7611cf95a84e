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
