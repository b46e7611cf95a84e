// Where something laid over the stage stands: at a side or in a corner, where it covers least of the marks, and never what is
// looked at.

import { upright } from "../../controls/lib/layout.js";

const EDGE = 12;
const LOW = 44; // above the label at the stage's foot
const NEAR = 24;

// view : the stage's. size : [width, height] of what is parked. at : the place that is looked at, stage px. boxes : of the marks.
// Gives [left, top], stage px; `now`, if that still does.
export function parked(view, size, at, boxes, now = null) {
  const marks = boxes.map((box) => onStage(view, upright(box)));
  const free = places(view.box, size).filter((place) => apart(place, size, at));
  if (now && apart(now, size, at) && free.some((place) => String(place) === String(now)))
    return now;
  const covered = (place) => marks.reduce((sum, mark) => sum + common(place, size, mark), 0);
  const far = ([left, top]) => Math.hypot(left + size[0] / 2 - at[0], top + size[1] / 2 - at[1]);
  return free.sort((a, b) => covered(a) - covered(b) || far(b) - far(a))[0] ?? [EDGE, EDGE];
}

function places({ width, height }, size) {
  const across = [EDGE, (width - size[0]) / 2, width - size[0] - EDGE].map(Math.round);
  const down = [EDGE, (height - size[1]) / 2, height - size[1] - LOW].map(Math.round);
  return across.flatMap((left) => down.map((top) => [left, top]));
}

function onStage(view, { left, top, right, bottom }) {
  return { low: view.toStage(left, top), high: view.toStage(right, bottom) };
}

function common(place, size, { low, high }) {
  const [across, down] = [0, 1].map((n) =>
    Math.max(0, Math.min(place[n] + size[n], high[n]) - Math.max(place[n], low[n])),
  );
  return across * down;
}

function apart(place, size, at) {
  return [0, 1].some((n) => at[n] < place[n] - NEAR || at[n] > place[n] + size[n] + NEAR);
}
