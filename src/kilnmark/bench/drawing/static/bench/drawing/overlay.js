// What lies under the hand: between the picture as it stands and the one in which all is hidden, or all is back, as far as the stroke
// covers. Both are there before the pen comes down; until they are, and where a stroke comes to lie elsewhere, it is hatched.

import { say } from "../events.js";

const EVERYTHING = {
  points: [
    [-200, 0],
    [200, 0],
  ],
  radius: 10,
  hardness: 1,
};
const INK = [32, 38, 42];
const EDGE = [255, 255, 255];
const PERIOD = 8; // px of the screen, from line to line

export class Overlay {
  constructor(stage, session) {
    Object.assign(this, { stage, session, ends: {}, base: null, asked: 0 });
  }

  forget() {
    this.ends = {};
    this.base = null;
    this.asked += 1;
  }

  // The pictures with all hidden and with all back; false if one of them did not come. path : of what holds the strokes; name : of their list.
  async prepare(path, name, everything = EVERYTHING) {
    this.asked += 1;
    const mine = this.asked;
    const clear = { op: "set", path: [...path, name], value: [] };
    const all = { op: "add_stroke", path, stroke: everything };
    for (const [end, edits] of [
      ["all", [clear, all]],
      ["none", [clear]],
    ]) {
      const found = await this.stage.beside({
        edits: [...this.session.unsaved, ...edits],
        bench: this.stage.named(end),
      });
      if (mine !== this.asked) return true; // of another state, which is asked for by now
      if (!found) return false;
      this.ends[end] = { ...found, pixels: pixelsOf(found.image) };
    }
    return true;
  }

  // Of the picture as it stands: asked for when it has come, so that a stroke need not wait for it.
  takeBase() {
    const { canvas } = this.stage;
    if (!canvas.width) return;
    this.context = canvas.getContext("2d");
    this.base = this.context.getImageData(0, 0, canvas.width, canvas.height);
    this.shown = new ImageData(this.base.data.slice(), canvas.width, canvas.height);
  }

  // end : "all" or "none". bends : hatched, wherever it is.
  begin(end, bends) {
    if (!this.base || this.base.width !== this.stage.canvas.width) this.takeBase();
    const found = this.ends[end];
    const fits =
      found?.pixels.width === this.base.width && found.pixels.height === this.base.height;
    this.end = !bends && fits && sameView(found.asked, this.stage.shown) ? found.pixels : null;
    say("picture-told", { quality: "hand" });
  }

  // As it was before the stroke.
  clear() {
    const { base, shown } = this;
    if (!base || !shown) return;
    shown.data.set(base.data);
    this.context.putImageData(shown, 0, 0);
  }

  // What a covering has changed.
  draw(covering) {
    const box = covering.taken();
    if (!box) return;
    const { base, shown, end } = this;
    if (!base) return; // of another view, whose picture has not come
    for (let y = box.y; y < box.y + box.height; y += 1)
      for (let x = box.x; x < box.x + box.width; x += 1) {
        const n = y * base.width + x;
        const share = covering.at(n);
        if (share <= 0) continue;
        const at = 4 * n;
        if (end) mix(shown.data, base.data, end.data, at, share);
        else hatch(shown.data, base.data, at, share, (x + y) % PERIOD);
      }
    this.context.putImageData(shown, 0, 0, box.x, box.y, box.width, box.height);
  }
}

function mix(out, from, to, at, share) {
  for (let c = at; c < at + 4; c += 1) out[c] = from[c] + (to[c] - from[c]) * share;
}

function hatch(out, from, at, share, phase) {
  const ink = phase < share * PERIOD * 0.5 ? INK : phase < share * PERIOD * 0.5 + 1 ? EDGE : null;
  for (let c = 0; c < 3; c += 1)
    out[at + c] = ink ? from[at + c] * 0.25 + ink[c] * 0.75 : from[at + c];
}

function pixelsOf(image) {
  const canvas = document.createElement("canvas");
  Object.assign(canvas, { width: image.width, height: image.height });
  const context = canvas.getContext("2d", { willReadFrequently: true });
  context.drawImage(image, 0, 0);
  return context.getImageData(0, 0, image.width, image.height);
}

function sameView(one, other) {
  return (
    one.zoom === other.zoom &&
    one.dpr === other.dpr &&
    Object.keys(one.region).every((side) => one.region[side] === other.region[side])
  );
}
