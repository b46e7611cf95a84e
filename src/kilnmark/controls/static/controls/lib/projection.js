// The way from a flat page to a surface in perspective, and back: as the engine draws it (`kilncore/perspective`).

const HALF = Math.PI / 2;
const FLATTEST = 0.001; // of the way between two corners: so far off it a third must lie
const held = (value, least, most) => Math.min(Math.max(value, least), most);

function through([a, b, c, d, e, f, g, h, i], [x, y], least) {
  const w = Math.max(g * x + h * y + i, least);
  return [(a * x + b * y + c) / w, (d * x + e * y + f) / w];
}

const LAID = {
  plane: ({ matrix }, point) => through(matrix, point, 0.02),
  round: ({ axis, radius, turn, tilt }, [x, y]) => {
    const angle = held((x - axis) / radius + turn, -HALF, HALF);
    return [
      axis + radius * Math.sin(angle),
      y * Math.cos(tilt) + radius * Math.sin(tilt) * (Math.cos(angle) - 1),
    ];
  },
};

const FLAT = {
  plane: ({ back }, point) => through(back, point, 1e-4),
  round: ({ axis, radius, turn, tilt }, [x, y]) => {
    const angle = Math.asin(held((x - axis) / radius, -0.9999, 0.9999));
    return [
      axis + radius * (angle - turn),
      (y - radius * Math.sin(tilt) * (Math.cos(angle) - 1)) / Math.cos(tilt),
    ];
  },
};

export const toPiece = (parts, point) =>
  parts.reduce((at, part) => LAID[part.kind](part, at), point);
export const toFlat = (parts, point) =>
  parts.reduceRight((at, part) => FLAT[part.kind](part, at), point);

// Whether four corners go round in order, as the engine asks of them.
export function convex(corners) {
  const beside = corners.map((_, n) => [corners[(n + 3) % 4], corners[(n + 1) % 4]]);
  const away = beside.map(([before, after]) =>
    Math.hypot(after[0] - before[0], after[1] - before[1]),
  );
  const off = corners.map((at, n) => {
    const [before, after] = beside[n];
    const turn =
      (at[0] - before[0]) * (after[1] - at[1]) - (at[1] - before[1]) * (after[0] - at[0]);
    return turn / Math.max(away[n], 1e-9);
  });
  const least = FLATTEST * Math.max(...away);
  return off.every((one) => one > least) || off.every((one) => one < -least);
}
