// Boxes on the piece: where a mark or a texture lies, in document px.

const toPx = (length, ppi, tall) =>
  length.unit === "mm"
    ? (length.value * ppi) / 25.4
    : length.unit === "%"
      ? (length.value * tall) / 100
      : length.value;

export const fromPx = (px, unit, ppi, tall) => ({
  value: round(unit === "mm" ? (px * 25.4) / ppi : unit === "%" ? (px * 100) / tall : px),
  unit,
});

export const lengthPx = toPx;
const round = (value) => Math.round(value * 1000) / 1000;

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
