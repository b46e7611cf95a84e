// The tip that is in the hand, at the pointer: what one dab of it covers, light with a dark rim, so that it shows on anything.

import { brush } from "./brush.js";

const MOST = 640; // px across: a larger tip is told by its ring
const SHOWN = 150; // of 255

export class Footprint {
  constructor(canvas) {
    Object.assign(this, { canvas, of: null });
  }

  // lean : of a pen, degrees. levels : of a rough tip; nothing is shown of the smooth round one.
  show(at, radius, levels, lean) {
    const there = Boolean(at && levels?.length && radius * 2 < MOST && !brush.line);
    this.canvas.hidden = !there;
    if (!there) return;
    if (this.of !== levels) this.paint(levels);
    const width = Math.max(2 * radius, 2);
    Object.assign(this.canvas.style, {
      width: `${width}px`,
      height: `${width}px`,
      transform: `translate(${at[0] - radius}px, ${at[1] - radius}px) rotate(${brush.turnDeg + lean}deg)`,
    });
  }

  paint(levels) {
    const [{ size, values }] = levels;
    this.of = levels;
    Object.assign(this.canvas, { width: size, height: size });
    const image = new ImageData(size, size);
    values.forEach((value, n) => {
      image.data.set([255, 255, 255, value * SHOWN], 4 * n);
    });
    this.canvas.getContext("2d").putImageData(image, 0, 0);
  }
}
