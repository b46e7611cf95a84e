// Snapping of what is dragged to the piece and to other marks: edges, middles, equal gaps. Changes the box; returns the guides to
// show, as lines in document px. Hold Alt to move freely.

import { upright } from "../../controls/lib/layout.js";

const SIDES = { x: ["left", "right", "top", "bottom"], y: ["top", "bottom", "left", "right"] };

// others : boxes of marks that stay. reach : how near is near, document px.
export function snapped(box, page, reach, others = []) {
  const around = others.map(upright);
  return ["x", "y"].flatMap((axis) => along(axis, box, page, reach, around));
}

// The same of one side alone: { by, guides }. at : where it lies along the axis.
export function snappedSide(axis, at, page, reach, others = []) {
  const lines = linesOf(axis, page, others.map(upright));
  const near = lines
    .map((line) => ({ by: line - at, line }))
    .filter(({ by }) => Math.abs(by) <= reach);
  if (!near.length) return { by: 0, guides: [] };
  const best = near.reduce((a, b) => (Math.abs(b.by) < Math.abs(a.by) - 1e-9 ? b : a));
  return { by: best.by, guides: [{ axis, at: best.line }] };
}

// The edges and the middles of the page, and of the marks around.
function linesOf(axis, page, around) {
  const [low, high] = SIDES[axis];
  const size = axis === "x" ? page.width : page.height;
  const ofOthers = (one) => [one[low], (one[low] + one[high]) / 2, one[high]];
  return [0, size / 2, size, ...around.flatMap(ofOthers)];
}

function along(axis, box, page, reach, around) {
  const own = upright(box);
  const [low, high] = SIDES[axis];
  const places = { low: own[low], middle: (own[low] + own[high]) / 2, high: own[high] };
  const lines = linesOf(axis, page, around);
  const found = [...edges(places, lines), ...gaps(axis, own, around)].filter(
    ({ by }) => Math.abs(by) <= reach,
  );
  if (!found.length) return [];
  const best = found.reduce((a, b) => (Math.abs(b.by) < Math.abs(a.by) - 1e-9 ? b : a));
  box[axis] += best.by;
  return best.guides(axis, upright(box));
}

function edges(places, lines) {
  return Object.values(places).flatMap((place) =>
    lines.map((at) => ({ by: at - place, guides: (axis) => [{ axis, at }] })),
  );
}

// Between two marks at equal gaps, or beside two as far as they are apart.
function gaps(axis, own, around) {
  const [low, high, side, far] = SIDES[axis];
  const row = around.filter((one) => one[side] < own[far] && one[far] > own[side]);
  const before = row.filter((one) => one[high] <= own[low] + 1).sort((a, b) => b[high] - a[high]);
  const after = row.filter((one) => one[low] >= own[high] - 1).sort((a, b) => a[low] - b[low]);
  const wide = own[high] - own[low];
  const found = [];
  const offer = (at, spans) =>
    found.push({
      by: at - own[low],
      guides: (_, box) =>
        spans(box).map(([from, to]) => ({ axis, from, to, across: (box[side] + box[far]) / 2 })),
    });
  if (before[0] && after[0] && after[0][low] - before[0][high] > wide) {
    const gap = (after[0][low] - before[0][high] - wide) / 2;
    offer(before[0][high] + gap, (box) => [
      [before[0][high], box[low]],
      [box[high], after[0][low]],
    ]);
  }
  if (before[1] && before[0][low] > before[1][high]) {
    const gap = before[0][low] - before[1][high];
    offer(before[0][high] + gap, (box) => [
      [before[1][high], before[0][low]],
      [before[0][high], box[low]],
    ]);
  }
  if (after[1] && after[1][low] > after[0][high]) {
    const gap = after[1][low] - after[0][high];
    offer(after[0][low] - gap - wide, (box) => [
      [box[high], after[0][low]],
      [after[0][high], after[1][low]],
    ]);
  }
  return found;
}
