// The way of a stroke as it is drawn, and its dabs: the same that `kilncore/strokes` lays. A test compares them.

const UNITS = 4096;
const LEVELS = 255;
const FINENESS = 64;
const PURPOSES = 6;

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
    of("gap", UNITS),
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

  // A place in the item's own frame. Gives the segments that it brought, each { from, to, pressures }.
  add([x, y], pressure = 1) {
    const at = [x, y].map((one) => Math.round(one / this.step) * this.step);
    const last = this.points.at(-1);
    if (last && last[0] === at[0] && last[1] === at[1]) return [];
    this.points.push(at);
    this.pressures.push(Math.round(pressure * LEVELS) / LEVELS);
    if (!last) return [];
    return [{ from: last, to: at, pressures: this.pressures.slice(-2) }];
  }

  // The dabs on a segment; of a stroke that is a single place, the one there.
  dabsOn({ from, to, pressures }) {
    const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
    const long = Math.hypot(dx, dy);
    const spacing = 2 * this.radius * this.told.gap;
    const found = [];
    while (this.dabs * spacing <= this.reached + long + 1e-9) {
      const share = long ? Math.min((this.dabs * spacing - this.reached) / long, 1) : 0;
      const pressure = pressures[0] + (pressures[1] - pressures[0]) * share;
      found.push(
        this.dab([from[0] + dx * share, from[1] + dy * share], Math.atan2(dy, dx), pressure),
      );
      if (!long) break;
    }
    this.reached += long;
    return found;
  }

  dab([x, y], direction, pressure) {
    const { told } = this;
    const [r0, r1, r2, r3, r4] = [0, 1, 2, 3, 4].map((one) =>
      random(told.seed, this.dabs * PURPOSES + one),
    );
    this.dabs += 1;
    const thins = 1 - (told.thins ?? 0) * (1 - pressure);
    const stray = 2 * told.strays * this.radius;
    const turn = (told.turn_deg * Math.PI) / 180 + Math.PI * told.turns * (2 * r3 - 1);
    return {
      x: x + (r1 * 2 - 1) * stray,
      y: y + (r2 * 2 - 1) * stray,
      radius: this.radius * thins * (1 + told.sizes * (2 * r0 - 1)),
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
