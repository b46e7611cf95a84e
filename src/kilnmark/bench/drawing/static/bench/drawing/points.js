// A curve through points that are set, one after the other: pressed and dragged into place. The last one pressed again ends it, the
// first one closes it; Shift sets a corner, Backspace takes the last one away.

import { make } from "../hands/svg.js";
import { nodeShapes, outline } from "./shapes.js";
import { wholeWay } from "./curves.js";
import { Way } from "./dabs.js";
import { newSeed } from "./seeds.js";

const NEAR = 11; // px from a point that is meant
const CLICK = 4; // px: less is no drag
const MOST_POINTS = 200; // of a curve
const LEAST = 1e-3; // a radius: of a broad stroke the way has fewer places, which a line would show

export class Points {
  constructor(drawing) {
    Object.assign(this, { drawing, nodes: [], closed: false, grabbed: null, asked: 0 });
  }

  begin() {}
  told() {}
  viewMoved() {}
  rests = true; // between two points the hand does nothing: there is time for pictures

  press(event) {
    const { drawing, nodes } = this;
    const found = this.near(drawing.at);
    this.from = { at: drawing.at, there: found !== null };
    if (found === 0 && nodes.length > 2) return void this.close();
    this.grabbed = found ?? this.set(drawing.at, event.shiftKey);
  }

  near(at) {
    const away = (one) => {
      const [x, y] = this.drawing.space.onStage(one.at);
      return Math.hypot(x - at[0], y - at[1]);
    };
    const found = this.nodes.findIndex((one) => away(one) <= NEAR);
    return found < 0 ? null : found;
  }

  // Another point at a place of the stage; its number. A curve that has as many as it may is kept, and the next one goes on from its end.
  set(at, corner = false) {
    const { drawing } = this;
    if (this.nodes.length >= MOST_POINTS) {
      const last = this.nodes.at(-1);
      this.finish();
      this.nodes.push(last);
    }
    this.nodes.push({ at: drawing.stuckTo(drawing.space.own(at)), corner });
    return this.nodes.length - 1;
  }

  move() {
    const { drawing, grabbed } = this;
    if (grabbed === null) return;
    this.nodes[grabbed].at = drawing.stuckTo(drawing.space.own(drawing.at));
  }
  movedTo() {}

  release(event) {
    const { grabbed, from } = this;
    this.grabbed = null;
    if (grabbed === null) return;
    const [x, y] = this.drawing.place(event);
    const rested = Math.hypot(x - from.at[0], y - from.at[1]) < CLICK;
    if (rested && from.there && grabbed === this.nodes.length - 1) this.finish();
    else this.ink();
  }

  toggle(corner) {
    const { drawing, nodes } = this;
    const found = this.near(drawing.at);
    if (found === 0 && nodes.length > 2) return void this.close();
    this.set(drawing.at, corner);
    this.ink();
  }

  close() {
    this.closed = true;
    this.finish();
  }

  // The last one away.
  back() {
    this.nodes.pop();
    this.ink();
    this.drawing.showTip();
  }

  // What is set so far, as ink.
  async ink() {
    const { drawing, nodes } = this;
    this.asked += 1;
    const mine = this.asked;
    if (!nodes.length) {
      drawing.overlay.clear();
      drawing.live = null;
      return;
    }
    const live = drawing.live ?? (await drawing.newLive());
    if (mine !== this.asked || !live || !this.nodes.length) return;
    drawing.live = live;
    live.through(nodes);
    drawing.showTip();
  }

  // Drawn anew with what is in the hand now.
  brushMoved() {
    if (!this.nodes.length) return;
    this.drawing.live = null;
    this.ink();
  }

  // Kept as what it is now.
  finish() {
    const { drawing, nodes, closed } = this;
    if (!nodes.length) return;
    const told = drawing.live?.way.told ?? drawing.inHand({ seed: newSeed(), id: newSeed() });
    const way = Way.through({ ...told, closed }, nodes);
    if (drawing.live) {
      drawing.live.way = way;
      drawing.live.drawAgain();
    }
    this.asked += 1;
    Object.assign(this, { nodes: [], closed: false, grabbed: null });
    drawing.live = null;
    drawing.keep(way);
    drawing.showTip();
  }

  enter() {
    this.finish();
  }
  escape() {
    const there = this.nodes.length > 0;
    this.finish();
    return there;
  }

  shapes(at) {
    const { drawing, nodes } = this;
    if (!nodes.length) return [];
    const own = at && this.grabbed === null ? [{ at: drawing.space.own(at) }] : [];
    const all = [...nodes, ...own];
    const corners = all.flatMap((one, n) => (one.corner ? [n] : []));
    const points = all.map((one) => one.at);
    const way = wholeWay({ curved: true, corners, radius: LEAST }, points, []).points;
    const path = outline(way.map((one) => drawing.space.onStage(one)));
    return [
      make("path", { class: "way-back", d: path }),
      make("path", { class: "way", d: path }),
      ...nodeShapes(nodes, drawing.space, this.grabbed),
    ];
  }
}
