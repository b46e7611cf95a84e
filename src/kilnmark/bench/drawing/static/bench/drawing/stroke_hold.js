// Taking hold of a stroke that is there: pointed at or stepped to by keys, it is moved, bent by its handles, changed on the sheet, or
// taken away. A curve is bent by the points that it goes through, what was drawn freely by handles along it.

import { getJson } from "../../kilnmark/api.js";
import { make } from "../hands/svg.js";
import { say } from "../events.js";
import { wholeWay } from "./curves.js";
import { nearest } from "./edge.js";
import { nodeShapes, outline } from "./shapes.js";
import { alongPlaces, pulled } from "./pulling.js";

const REACH = 12; // px beyond a stroke's own width, and from a handle
const CLICK = 3; // px: less is no drag
const HANDLES = 5; // of a stroke that was drawn freely
const NUDGE = 1; // px of the screen
const REST_MS = 600;
const [MOVED, VARIED] = ["stroke moved", "stroke varied"]; // by keys, by sliders
const MOST_POINTS = 200; // of a curve
const EVERYTHING = 10; // the radius of a stroke that hides everything

export class StrokeHold {
  constructor(drawing) {
    Object.assign(this, { drawing, strokes: [], number: null, handle: null, drag: null });
  }

  begin() {
    Object.assign(this, { strokes: [], number: null, handle: null, drag: null });
    this.load(true);
  }
  viewMoved() {}
  brushMoved() {}
  movedTo() {}
  toggle() {}
  finish() {
    this.let();
    this.strokes = [];
    this.choose(null);
  }

  // What it did itself it knows, unless that was refused.
  told({ stroke, refused }) {
    if (!this.drag && (!stroke || refused)) this.load(false);
  }

  // The strokes that are there; the one that is held is found by its id.
  async load(last) {
    const { held, session } = this.drawing;
    const asked = new URLSearchParams({ path: JSON.stringify(held.path) });
    const answer = await getJson(`${session.base}strokes/?${asked}`);
    if (this.drawing.held !== held || this.drag) return;
    if (!answer.ok) return void say("trouble-told", { message: answer.message });
    const before = this.stroke;
    this.strokes = answer.data.strokes;
    let found = last ? this.strokes.findLastIndex(holdable) : this.number;
    if (before?.id) found = this.strokes.findIndex((one) => one.id === before.id);
    this.choose(found >= 0 && found < this.strokes.length ? found : null);
  }

  get stroke() {
    return this.strokes[this.number] ?? null;
  }

  choose(number) {
    if (number !== this.number) this.handle = null;
    this.number = number;
    say("stroke-held", this.toldOf);
    this.drawing.showTip();
  }

  get toldOf() {
    return { stroke: this.stroke, of: this.strokes.length, number: this.number };
  }

  // By keys, from stroke to stroke.
  step(by) {
    this.let();
    const count = this.strokes.length;
    let next = this.number ?? (by > 0 ? -1 : 0);
    for (let n = 0; n < count; n += 1) {
      next = (next + by + count) % count;
      if (holdable(this.strokes[next])) return void this.choose(next);
    }
  }

  press(event) {
    this.let();
    const at = this.drawing.place(event);
    const handle = this.handleAt(at);
    if (handle === null) this.choose(this.under(at));
    this.handle = handle;
    if (this.stroke) this.drag = { from: at, by: [0, 0], moved: false };
  }

  under(at) {
    const { space } = this.drawing;
    const own = space.own(at);
    let [least, found] = [REACH, null];
    for (const [n, stroke] of this.strokes.entries()) {
      if (!holdable(stroke) || !reaches(stroke, own, (2 * REACH) / space.pxOfStage)) continue;
      const far = Math.max(this.away(stroke, at), 0);
      if (far <= least) [least, found] = [far, n]; // of those that cover it, the last
    }
    return found;
  }

  away(stroke, at) {
    const { space } = this.drawing;
    const points = wayOf(stroke).map((one) => space.onStage(one));
    const far = points.map((from, n) => {
      const [x, y] = nearest(from, points[Math.min(n + 1, points.length - 1)], at);
      return Math.hypot(x - at[0], y - at[1]);
    });
    return Math.min(...far) - stroke.radius * space.pxOfStage;
  }

  handleAt(at) {
    const found = this.handles().findIndex((one) => {
      const [x, y] = this.drawing.space.onStage(one.at);
      return Math.hypot(x - at[0], y - at[1]) <= REACH;
    });
    return found < 0 ? null : found;
  }

  // Of the stroke that is held, each { at, corner }.
  handles(stroke = this.stroke) {
    if (!stroke || stroke.points.length < 2) return [];
    if (!stroke.curved) return alongPlaces(stroke.points, HANDLES).map((at) => ({ at }));
    return stroke.points.map((at, n) => ({ at, corner: stroke.corners.includes(n) }));
  }

  move(event) {
    if (!this.drag?.from) return; // none, or one by keys
    const at = this.drawing.place(event);
    const { from } = this.drag;
    this.drag.moved ||= Math.hypot(at[0] - from[0], at[1] - from[1]) >= CLICK;
    if (this.drag.moved) this.drawTo(this.between(from, at));
  }

  between(from, to) {
    const [a, b] = [from, to].map((one) => this.drawing.space.own(one));
    return [b[0] - a[0], b[1] - a[1]];
  }

  drawTo(by) {
    this.drag.by = by;
    this.drawing.session.draft([this.edit(by)]);
    this.drawing.showTip();
  }

  release() {
    if (this.drag?.moved) this.let();
    else this.drag = null;
  }

  // What is moved, or varied by a slider, is stored.
  let() {
    this.drawing.session.flush();
    const { drag, stroke } = this;
    this.drag = null;
    if (!drag?.moved || !stroke) return;
    const edit = this.edit(drag.by);
    Object.assign(stroke, this.shifted(stroke, drag.by), { box: null });
    this.drawing.store([edit], this.handle === null ? "Stroke moved" : "Stroke bent");
  }

  edit(by) {
    const { stroke, handle } = this;
    if (handle === null) return this.edits("move_stroke", { by });
    if (stroke.curved)
      return this.edits("change_stroke", { changes: { points: this.shifted(stroke, by).points } });
    return this.edits("bend_stroke", { by, ...place(handle) });
  }

  edits(op, more) {
    const { path } = this.drawing.held;
    return { op, path, number: this.number, stroke_id: this.stroke.id, ...more };
  }

  // As the stroke will be.
  shifted(stroke, by) {
    const { handle } = this;
    const add = (one) => one.map((value, c) => value + by[c]);
    if (handle === null) return { ...stroke, points: stroke.points.map(add) };
    if (!stroke.curved) {
      const told = place(handle);
      return { ...stroke, points: pulled(stroke.points, told.place, told.spread, by) };
    }
    return { ...stroke, points: stroke.points.map((one, n) => (n === handle ? add(one) : one)) };
  }

  // By keys: the stroke, or the handle that is held. Stored when they rest.
  nudged([dx, dy]) {
    if (!this.stroke) return void this.step(dx + dy > 0 ? 1 : -1);
    const { session, space } = this.drawing;
    session.handOver(MOVED);
    const from = space.onStage(this.stroke.points[0]);
    const by = this.between(from, [from[0] + dx * NUDGE, from[1] + dy * NUDGE]);
    this.drag ??= { from: null, by: [0, 0], moved: true };
    this.drawTo([this.drag.by[0] + by[0], this.drag.by[1] + by[1]]);
    session.later(() => this.let(), REST_MS, MOVED);
  }

  // From handle to handle, and back to the whole stroke.
  enter() {
    this.let();
    const count = this.handles().length;
    const next = this.handle === null ? 0 : this.handle + 1;
    this.handle = next < count ? next : null;
    this.drawing.showTip();
  }

  // The point that is held goes, or the stroke.
  back() {
    this.let();
    const { stroke, handle } = this;
    if (!stroke) return;
    if (handle !== null && stroke.curved && stroke.points.length > 2)
      return void this.without(handle);
    this.takeAway();
  }

  takeAway() {
    this.let();
    if (!this.stroke) return;
    const edit = this.edits("take_back_stroke");
    const gone = this.number;
    this.strokes.splice(gone, 1);
    Object.assign(this, { handle: null, number: null });
    const next = Math.min(gone, this.strokes.length - 1);
    this.choose(next >= 0 && holdable(this.strokes[next]) ? next : null);
    this.drawing.store([edit], "Stroke taken away", { stroke: false });
  }

  without(handle) {
    const { stroke } = this;
    const points = stroke.points.filter((_, n) => n !== handle);
    const corners = stroke.corners.flatMap((n) => (n === handle ? [] : n > handle ? n - 1 : n));
    this.handle = null;
    this.change({ points, corners }, "Stroke bent");
  }

  // Pressed twice on a curve: another point there; on one of its points: a corner, or none any more.
  twice(at) {
    const { stroke, drawing } = this;
    if (!stroke?.curved) return;
    const found = this.handleAt(at);
    if (found !== null) {
      const corners = stroke.corners.includes(found)
        ? stroke.corners.filter((n) => n !== found)
        : [...stroke.corners, found];
      return void this.change({ corners }, "Stroke bent");
    }
    if (stroke.points.length >= MOST_POINTS) return;
    const own = drawing.space.own(at);
    const after = nearestPiece(stroke, own);
    const points = stroke.points.toSpliced(after + 1, 0, own);
    const corners = stroke.corners.map((n) => (n > after ? n + 1 : n));
    this.change({ points, corners }, "Stroke bent");
  }

  // By a slider: shown as it moves, stored when it rests.
  vary(changes) {
    const { stroke, drawing } = this;
    if (!stroke) return;
    drawing.session.handOver(VARIED);
    Object.assign(stroke, changes, { box: null });
    this.varied = { ...this.varied, ...changes };
    drawing.session.draft([this.edits("change_stroke", { changes: this.varied })]);
    drawing.session.later(() => this.keepVaried(), REST_MS, VARIED);
    drawing.showTip();
  }
  keepVaried() {
    const { varied } = this;
    this.varied = null;
    if (varied) this.change(varied);
  }

  // On the sheet: a width, a taper, how it ends.
  change(changes, label = "Stroke changed") {
    this.let();
    if (!this.stroke) return;
    const edit = this.edits("change_stroke", { changes });
    Object.assign(this.stroke, changes, { box: null });
    this.drawing.store([edit], label);
    this.drawing.showTip();
  }

  escape() {
    this.let();
    if (this.handle !== null) this.handle = null;
    else if (this.number !== null) this.choose(null);
    else return false;
    return true;
  }

  shapes(at) {
    const { drawing, stroke, drag } = this;
    const under = at && !drag ? this.under(at) : null;
    const shown = [];
    if (under !== null && under !== this.number)
      shown.push(this.path(this.strokes[under], "way-under"));
    if (!stroke) return shown;
    const now = drag ? this.shifted(stroke, drag.by) : stroke;
    const wide = Math.max(2 * now.radius * drawing.space.pxOfStage, 2);
    const body = this.path(now, "way-body");
    body.setAttribute("stroke-width", wide);
    shown.push(body, this.path(now, "way-back"), this.path(now, "way"));
    return [...shown, ...nodeShapes(this.handles(now), drawing.space, this.handle)];
  }

  path(stroke, name) {
    const points = wayOf(stroke).map((one) => this.drawing.space.onStage(one));
    if (points.length === 1) points.push(points[0]);
    return make("path", { class: name, d: outline(points) });
  }
}

const wayOf = (stroke) =>
  wholeWay({ ...stroke, taper_in: 0, taper_out: 0 }, stroke.points, []).points;
const place = (handle) => ({ place: handle / (HANDLES - 1), spread: 1 / (HANDLES - 1) });

// All but the one that hides everything, of strokes that were inverted.
const holdable = ({ radius }) => radius < EVERYTHING;

// Whether a place is anywhere near a stroke: most of many are not.
function reaches(stroke, [x, y], more) {
  const near = stroke.radius + more;
  const { left, top, right, bottom } = (stroke.box ??= boxOf(wayOf(stroke)));
  return x >= left - near && x <= right + near && y >= top - near && y <= bottom + near;
}

function boxOf(points) {
  const box = { left: Infinity, top: Infinity, right: -Infinity, bottom: -Infinity };
  for (const [x, y] of points) {
    box.left = Math.min(box.left, x);
    box.top = Math.min(box.top, y);
    box.right = Math.max(box.right, x);
    box.bottom = Math.max(box.bottom, y);
  }
  return box;
}

// The number of the point after which a place lies on a curve.
function nearestPiece(stroke, own) {
  const closed = stroke.closed ? [stroke.points[0]] : [];
  const points = [...stroke.points, ...closed];
  let [least, found] = [Infinity, 0];
  for (let n = 0; n + 1 < points.length; n += 1) {
    const [x, y] = nearest(points[n], points[n + 1], own);
    const far = Math.hypot(x - own[0], y - own[1]);
    if (far < least) [least, found] = [far, n];
  }
  return found;
}
