// How much a stroke covers of each pixel of the stage, as `kilncore/strokes/covering.py` has it, drawn as the stroke goes.

const LEAST_RADIUS = 1.5;
const EMPTY = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity };

export class Covering {
  // levels : of the tip, null for the smooth round one. told : the stroke without its points.
  constructor(width, height, levels, told) {
    Object.assign(this, { width, height, levels, told, dirty: { ...EMPTY } });
    this.values = new Float32Array(width * height); // of a rough tip: 1 - what it lets through
  }

  // How much it covers there, 0..1.
  at(n) {
    const value = this.values[n];
    return this.levels ? Math.min(value, this.told.strength) : value * this.told.strength;
  }

  // What has changed since it was last asked, whole px; null for nothing.
  taken() {
    const { left, top, right, bottom } = this.dirty;
    this.dirty = { ...EMPTY };
    const [x, y] = [Math.max(left, 0), Math.max(top, 0)];
    const [width, height] = [Math.min(right, this.width) - x, Math.min(bottom, this.height) - y];
    return width > 0 && height > 0 ? { x, y, width, height } : null;
  }

  // A box of px in which something is drawn; act(n, x, y) for each.
  within(left, top, right, bottom, act) {
    const box = {
      left: Math.max(Math.floor(left), 0),
      top: Math.max(Math.floor(top), 0),
      right: Math.min(Math.ceil(right) + 1, this.width),
      bottom: Math.min(Math.ceil(bottom) + 1, this.height),
    };
    const { dirty } = this;
    if (box.right <= box.left || box.bottom <= box.top) return;
    dirty.left = Math.min(dirty.left, box.left);
    dirty.top = Math.min(dirty.top, box.top);
    dirty.right = Math.max(dirty.right, box.right);
    dirty.bottom = Math.max(dirty.bottom, box.bottom);
    for (let y = box.top; y < box.bottom; y += 1)
      for (let x = box.left; x < box.right; x += 1) act(y * this.width + x, x, y);
  }

  // A dab, in px of the stage's picture.
  stamp({ x: x0, y: y0, radius, turn, flip, load }) {
    if (!(radius > 1e-6 && load > 0)) return;
    let [wide, covers] = [radius, load];
    if (wide < LEAST_RADIUS) [wide, covers] = [LEAST_RADIUS, load * (radius / LEAST_RADIUS) ** 2];
    const level = this.levels.find(({ size }) => size <= 3 * wide) ?? this.levels.at(-1);
    const { size, values } = level;
    const [cos, sin, scale] = [Math.cos(turn), Math.sin(turn), size / (2 * wide)];
    const reach = wide * 1.4143 + 1;
    this.within(x0 - reach, y0 - reach, x0 + reach, y0 + reach, (n, x, y) => {
      const [dx, dy] = [x - x0, y - y0];
      const u = (dx * cos + dy * sin) * flip * scale + size / 2 - 0.5;
      const v = (dy * cos - dx * sin) * scale + size / 2 - 0.5;
      if (u <= -1 || v <= -1 || u >= size || v >= size) return;
      this.values[n] += (1 - this.values[n]) * between(values, size, u, v) * covers;
    });
  }

  // A piece of a smooth way, in px. radii : at its ends. cuts : flat ends of the way, each { before, end }.
  sweep([x0, y0], [x1, y1], [first, second], cuts = []) {
    const { hardness } = this.told;
    const [dx, dy] = [x1 - x0, y1 - y0];
    const square = Math.max(dx * dx + dy * dy, 1e-12);
    const reach = Math.max(first, second, 1) + 1;
    const [left, right] = [Math.min(x0, x1) - reach, Math.max(x0, x1) + reach];
    const [top, bottom] = [Math.min(y0, y1) - reach, Math.max(y0, y1) + reach];
    this.within(left, top, right, bottom, (n, x, y) => {
      const t = Math.min(Math.max(((x - x0) * dx + (y - y0) * dy) / square, 0), 1);
      const radius = first + (second - first) * t;
      const away = Math.hypot(x - x0 - t * dx, y - y0 - t * dy);
      const soft = Math.max(radius * (1 - Math.min(hardness, 0.999)), 1);
      const share = Math.min(Math.max((away - Math.max(radius, 1) + soft) / soft, 0), 1);
      const thin = Math.min(radius * (1 + hardness), 1);
      let value = (1 - share * share * (3 - 2 * share)) * thin;
      for (const cut of cuts) value *= withinCut(cut, x, y);
      if (value > this.values[n]) this.values[n] = value;
    });
  }
}

function withinCut({ before, end }, x, y) {
  const [dx, dy] = [end[0] - before[0], end[1] - before[1]];
  const long = Math.hypot(dx, dy);
  if (long < 1e-9) return 1;
  const beyond = ((x - end[0]) * dx + (y - end[1]) * dy) / long;
  return Math.min(Math.max(0.5 - beyond, 0), 1);
}

function between(values, size, u, v) {
  const [i, j] = [Math.floor(u), Math.floor(v)];
  const [s, t] = [u - i, v - j];
  const at = (x, y) => (x < 0 || y < 0 || x >= size || y >= size ? 0 : values[y * size + x]);
  const near = at(i, j) * (1 - s) + at(i + 1, j) * s;
  const far = at(i, j + 1) * (1 - s) + at(i + 1, j + 1) * s;
  return near * (1 - t) + far * t;
}
