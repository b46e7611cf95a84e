// A way that is pulled at one place, as `kilncore/strokes/bending.py` does it.

import { reached } from "./curves.js";

// Places evenly along a way.
export function alongPlaces(points, count) {
  const at = reached(points);
  return Array.from({ length: count }, (_, k) => {
    const far = (at.at(-1) * k) / (count - 1);
    let n = 0;
    while (n < at.length - 2 && at[n + 1] < far) n += 1;
    const share = at[n + 1] > at[n] ? (far - at[n]) / (at[n + 1] - at[n]) : 0;
    return points[n].map((value, c) => value + (points[n + 1][c] - value) * share);
  });
}

export function pulled(points, place, spread, by) {
  const at = reached(points);
  return points.map((point, n) => {
    const along = at.at(-1) ? at[n] / at.at(-1) : place;
    const near = Math.min(Math.abs(along - place) / spread, 1);
    const pull = (1 + Math.cos(Math.PI * near)) / 2;
    return point.map((value, c) => value + pull * by[c]);
  });
}
