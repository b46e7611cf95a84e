// Where things lie on a piece, in document px: lengths, boxes, placements in frames and groups, and the way from a flat page to a
// surface in perspective. All that the browser knows of it is here, and the same as the engine has it (`kilncore/layout`,
// `kilncore/perspective`): a test compares them (tests/browser/test_layout.py).

// --- lengths ---

export const lengthPx = (length, ppi, tall) =>
  length.unit === "mm"
    ? (length.value * ppi) / 25.4
    : length.unit === "%"
      ? (length.value * tall) / 100
      : length.value;

export const fromPx = (px, unit, ppi, tall) => ({
  value: round(unit === "mm" ? (px * 25.4) / ppi : unit === "%" ? (px * 100) / tall : px),
  unit,
});

const round = (value) => Math.round(value * 1000) / 1000;

const FINE = 10000; // of a scale
export const roundScale = (value) => Math.round(value * FINE) / FINE;

// --- boxes ---

export function rotate(x, y, degrees) {
  const angle = (degrees * Math.PI) / 180;
  return [x * Math.cos(angle) - y * Math.sin(angle), x * Math.sin(angle) + y * Math.cos(angle)];
}

export function corners({ x, y, width, height, rotation_deg: turn }) {
  return [
    [-1, -1],
    [1, -1],
    [1, 1],
    [-1, 1],
  ].map(([i, j]) => {
    const [dx, dy] = rotate((i * width) / 2, (j * height) / 2, turn);
    return [x + dx, y + dy];
  });
}

// Points around a box: its corners, or of one in perspective as many as it takes.
export const around = (box) => (box.outline?.length ? box.outline : corners(box));

// Where points go when a box is moved, scaled and turned.
export function carried(points, from, to) {
  const ratio = to.width / from.width;
  return points.map(([x, y]) => {
    const [dx, dy] = rotate(
      (x - from.x) * ratio,
      (y - from.y) * ratio,
      to.rotation_deg - from.rotation_deg,
    );
    return [to.x + dx, to.y + dy];
  });
}

// { left, top, right, bottom } around a box that may be turned.
export function upright(box) {
  const points = around(box);
  const [xs, ys] = [points.map(([x]) => x), points.map(([, y]) => y)];
  return {
    left: Math.min(...xs),
    right: Math.max(...xs),
    top: Math.min(...ys),
    bottom: Math.max(...ys),
  };
}

// The upright box around several, as boxes are told.
export function jointBox(boxes) {
  if (!boxes.length) return null;
  const found = boxes.map(upright);
  const [left, top] = ["left", "top"].map((side) => Math.min(...found.map((one) => one[side])));
  const [right, bottom] = ["right", "bottom"].map((side) =>
    Math.max(...found.map((one) => one[side])),
  );
  return {
    x: (left + right) / 2,
    y: (top + bottom) / 2,
    width: right - left,
    height: bottom - top,
    rotation_deg: 0,
  };
}

export function holds(box, x, y) {
  if (box.outline?.length) return within(box.outline, x, y);
  const [dx, dy] = rotate(x - box.x, y - box.y, -box.rotation_deg);
  return Math.abs(dx) <= box.width / 2 && Math.abs(dy) <= box.height / 2;
}

// Whether a point lies in a polygon: a ray from it crosses the sides an odd number of times.
function within(points, x, y) {
  return points.reduce((inside, [ax, ay], n) => {
    const [bx, by] = points[(n + 1) % points.length];
    return ay > y !== by > y && x < ax + ((y - ay) * (bx - ax)) / (by - ay) ? !inside : inside;
  }, false);
}

export const turned = (degrees) =>
  Math.round(((((degrees + 180) % 360) + 360) % 360) * 10 - 1800) / 10;

// --- in a frame, and in groups ---

// A point in a frame { x, y, rotation_deg }, on the piece; and the way back.
export function outOf(frame, [dx, dy]) {
  const [x, y] = rotate(dx, dy, frame.rotation_deg);
  return [frame.x + x, frame.y + y];
}
export const inFrame = (frame, [x, y]) => rotate(x - frame.x, y - frame.y, -frame.rotation_deg);

// A box on the piece as a member of groups has it: in the frame, scale and turn of those around it, the innermost last. frame : the box of
// the innermost.
export function inGroups(box, groups, frame) {
  if (!groups.length) return box;
  const scale = groups.reduce((product, group) => product * group.placement.scale, 1);
  const [x, y] = inFrame(frame, [box.x, box.y]);
  return { x: x / scale, y: y / scale, rotation_deg: box.rotation_deg - frame.rotation_deg };
}

// --- in perspective ---

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
export function convex(ring) {
  const beside = ring.map((_, n) => [ring[(n + 3) % 4], ring[(n + 1) % 4]]);
  const away = beside.map(([before, after]) =>
    Math.hypot(after[0] - before[0], after[1] - before[1]),
  );
  const off = ring.map((at, n) => {
    const [before, after] = beside[n];
    const turn =
      (at[0] - before[0]) * (after[1] - at[1]) - (at[1] - before[1]) * (after[0] - at[0]);
    return turn / Math.max(away[n], 1e-9);
  });
  const least = FLATTEST * Math.max(...away);
  return off.every((one) => one > least) || off.every((one) => one < -least);
}
