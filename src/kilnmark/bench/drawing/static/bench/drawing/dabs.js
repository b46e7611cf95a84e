// The way of a stroke as it is drawn, and its dabs: the same that `kilncore/strokes` lays. A test compares them.

import { reached, wholeWay } from "./curves.js";

const UNITS = 4096;
const LEVELS = 255;
const FINENESS = 64;
const PURPOSES = 6;
const THINNEST = 0.1; // of its width, a rough tip at the end of a taper

function random(seed, n) {
  let at = (n + Math.imul(seed, 0x9e3779b9)) >>> 0;
  at ^= at >>> 16;
  at = Math.imul(at, 0x7feb352d);
  at ^= at >>> 15;
  at = Math.imul(at, 0x846ca68b);
  at ^= at >>> 16;
  return (at >>> 0) / 2 ** 32;
}

// As it is kept: lengths and gaps in whole 4096ths, shares in whole 255ths, the turn in tenths of a degree.
function kept(told) {
  const shares = ["loaded", "turns", "sizes", "strays", "strength", "hardness", "thins", "eases"];
  const of = (name, parts) =>
    told[name] === undefined ? {} : { [name]: Math.round(told[name] * parts) / parts };
  return Object.assign(
    { ...told },
    ...shares.map((name) => of(name, LEVELS)),
    ...["gap", "taper_in", "taper_out"].map((name) => of(name, UNITS)),
    of("turn_deg", 10),
  );
}

export class Way {
  // told : a stroke without its points, as the server asks for it.
  constructor(told) {
    const radius = Math.max(Math.round(told.radius * UNITS), 1);
    Object.assign(this, {
      told: kept(told),
      step: Math.max(1, Math.floor(radius / FINENESS)) / UNITS,
      radius: radius / UNITS,
      points: [],
      pressures: [],
      reached: 0,
      dabs: 0,
    });
  }

  // Through points that were set, each { at, corner }.
  static through(told, nodes) {
    const way = new Way({ ...told, curved: true });
    const corners = [];
    for (const { at, corner } of nodes) {
      const next = way.points.length;
      way.add(at);
      if (corner && way.points.length > next) corners.push(next);
    }
    Object.assign(way.told, { corners });
    return way;
  }

  // Whether it is drawn otherwise as a whole than it was piece by piece.
  get changesAtTheEnd() {
    const { curved, closed, taper_in, taper_out, ends } = this.told;
    return Boolean(curved || closed || taper_in || taper_out || ends === "flat");
  }

  // All its pieces, as the core draws them; cuts : the flat ends that a piece would reach beyond, each { before, end }.
  whole() {
    Object.assign(this, { reached: 0, dabs: 0 });
    const { points, pressures, widths } = wholeWay(this.told, this.points, this.pressures);
    const at = reached(points);
    const flat = this.told.ends === "flat" && !this.told.closed && points.length > 1;
    const [first, last] = [
      { before: points[1], end: points[0] },
      { before: points.at(-2), end: points.at(-1) },
    ];
    return points.slice(1).map((to, n) => ({
      from: points[n],
      to,
      pressures: [pressures[n], pressures[n + 1]],
      widths: [widths[n], widths[n + 1]],
      cuts: [
        ...(flat && at[n] < this.radius ? [first] : []),
        ...(flat && at.at(-1) - at[n + 1] < this.radius ? [last] : []),
      ],
    }));
  }

  // A place in the item's own frame. Gives the pieces that it brought, each { from, to, pressures, widths }.
  add([x, y], pressure = 1) {
    const at = [x, y].map((one) => Math.round(one / this.step) * this.step);
    const last = this.points.at(-1);
    if (last && last[0] === at[0] && last[1] === at[1]) return [];
    this.points.push(at);
    this.pressures.push(Math.round(pressure * LEVELS) / LEVELS);
    if (!last) return [];
    return [this.piece(last, at, this.pressures.slice(-2))];
  }

  piece(from, to, pressures) {
    const thins = this.told.thins ?? 0;
    return { from, to, pressures, widths: pressures.map((one) => 1 - thins * (1 - one)), cuts: [] };
  }

  // Of a stroke that is a single place.
  get dot() {
    const [[at], [pressure]] = [this.points, this.pressures];
    return this.piece(at, at, [pressure, pressure]);
  }

  // The dabs on a piece; of a stroke that is a single place, the one there.
  dabsOn({ from, to, pressures, widths }) {
    const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
    const long = Math.hypot(dx, dy);
    const spacing = 2 * this.radius * this.told.gap;
    const found = [];
    while (this.dabs * spacing <= this.reached + long + 1e-9) {
      const share = long ? Math.min((this.dabs * spacing - this.reached) / long, 1) : 0;
      const at = [from[0] + dx * share, from[1] + dy * share];
      const [pressure, width] = [pressures, widths].map(([a, b]) => a + (b - a) * share);
      found.push(this.dab(at, Math.atan2(dy, dx), pressure, width));
      if (!long) break;
    }
    this.reached += long;
    return found;
  }

  dab([x, y], direction, pressure, width) {
    const { told } = this;
    const [r0, r1, r2, r3, r4] = [0, 1, 2, 3, 4].map((one) =>
      random(told.seed, this.dabs * PURPOSES + one),
    );
    this.dabs += 1;
    const stray = 2 * told.strays * this.radius;
    const turn = (told.turn_deg * Math.PI) / 180 + Math.PI * told.turns * (2 * r3 - 1);
    return {
      x: x + (r1 * 2 - 1) * stray,
      y: y + (r2 * 2 - 1) * stray,
      radius: this.radius * Math.max(width, THINNEST) * (1 + told.sizes * (2 * r0 - 1)),
      turn: turn + (told.follows ? direction : 0),
      flip: told.flips && r4 < 0.5 ? -1 : 1,
      load: told.loaded * (1 - (told.eases ?? 0) * (1 - pressure)),
    };
  }

  // As it is stored.
  get stroke() {
    const pen = this.pressures.some((one) => one !== 1);
    return { ...this.told, points: this.points, ...(pen && { pressures: this.pressures }) };
  }
}
