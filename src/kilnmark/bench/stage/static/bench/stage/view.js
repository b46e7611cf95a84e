// How the piece lies on the stage: zoom, and which point of the piece is in the stage's middle.

const LEAST = 0.02;
const MOST = 8;
const MARGIN = 28;

export class View {
  constructor(stage, size) {
    this.stage = stage;
    this.size = size;
    this.fitted = true;
    this.fit();
  }

  get box() {
    return { width: this.stage.clientWidth, height: this.stage.clientHeight };
  }

  fit() {
    const { width, height } = this.box;
    this.fitted = true;
    this.zoom = Math.max(
      Math.min((width - 2 * MARGIN) / this.size[0], (height - 2 * MARGIN) / this.size[1], 2),
      LEAST / 2,
    );
    this.middle = [this.size[0] / 2, this.size[1] / 2];
    this.settle();
  }

  zoomTo(zoom, about = null) {
    const at = about ?? [this.box.width / 2, this.box.height / 2];
    const held = this.toPiece(...at);
    this.zoom = Math.min(Math.max(zoom, LEAST), MOST);
    const now = this.toPiece(...at);
    this.middle = [this.middle[0] + held[0] - now[0], this.middle[1] + held[1] - now[1]];
    this.fitted = false;
    this.settle();
  }

  pan(dx, dy) {
    this.middle = [this.middle[0] - dx / this.zoom, this.middle[1] - dy / this.zoom];
    this.fitted = false;
    this.settle();
  }

  // Keep the piece in reach, and its pixels on the screen's.
  settle() {
    this.middle = this.middle.map((value, axis) => Math.min(Math.max(value, 0), this.size[axis]));
    const { width, height } = this.box;
    const left = Math.round(width / 2 - this.middle[0] * this.zoom);
    const top = Math.round(height / 2 - this.middle[1] * this.zoom);
    this.corner = [left, top];
  }

  toStage(x, y) {
    return [x * this.zoom + this.corner[0], y * this.zoom + this.corner[1]];
  }
  toStageCorner(x, y) {
    return [Math.round(x * this.zoom) + this.corner[0], Math.round(y * this.zoom) + this.corner[1]];
  }
  toPiece(x, y) {
    return [
      (x - this.box.width / 2) / this.zoom + this.middle[0],
      (y - this.box.height / 2) / this.zoom + this.middle[1],
    ];
  }

  // The visible part of the piece, on whole output pixels.
  get region() {
    const { width, height } = this.box;
    const span = (corner, length, size) => {
      const first = Math.max(0, -corner);
      const last = Math.min(Math.ceil(size * this.zoom), length - corner);
      return [first, Math.max(last, first + 1)];
    };
    const [left, right] = span(this.corner[0], width, this.size[0]);
    const [top, bottom] = span(this.corner[1], height, this.size[1]);
    return {
      x: left / this.zoom,
      y: top / this.zoom,
      width: (right - left) / this.zoom,
      height: (bottom - top) / this.zoom,
      left,
      top,
      right,
      bottom,
    };
  }
}
