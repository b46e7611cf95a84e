// The sides of a shape, each dragged by itself, or moved by the arrow keys: the opposite one stays, or with Shift the middle. They snap
// to the page and to other marks; with Alt they do not.

import { rotate } from "../../controls/lib/layout.js";
import { say } from "../events.js";
import { snappedSide } from "./snapping.js";

const FAR = 10; // px that an arrow key moves, with Shift
const NEAR = 6; // px of the screen that a guide pulls from
const LEAST = 2; // px between two sides
export const WAYS = [
  [0, -1],
  [1, 0],
  [0, 1],
  [-1, 0],
]; // top, right, bottom, left

export class EdgeDrag {
  constructor(handles) {
    this.handles = handles;
  }

  press(event) {
    const { handles } = this;
    const edge = Number(event.target.dataset.edge);
    event.target.focus({ preventScroll: true });
    const [start, from] = [{ ...handles.box }, handles.flat(event)];
    handles.dragging = true;
    handles.follow(
      event,
      (moved) => {
        const to = handles.flat(moved);
        const by = [to[0] - from[0], to[1] - from[1]];
        this.put(start, edge, by, moved.shiftKey, !moved.altKey);
      },
      () => {
        handles.dragging = false;
        this.finish();
      },
    );
  }

  // by : px across and down, as the shape lies flat.
  put(start, edge, by, both, snaps = false) {
    const { handles } = this;
    const [wx, wy] = WAYS[edge];
    const [dx, dy] = rotate(...by, -start.rotation_deg);
    const times = both ? 2 : 1;
    const long = wx ? start.width : start.height;
    const moved = dx * wx + dy * wy;
    const { by: more, guides } = snaps ? this.near(start, edge, moved) : { by: 0, guides: [] };
    const grown = Math.max((moved + more) * times, LEAST - long);
    const half = both ? 0 : grown / 2;
    const [x, y] = rotate(wx * half, wy * half, start.rotation_deg);
    handles.live = {
      ...start,
      x: start.x + x,
      y: start.y + y,
      width: start.width + Math.abs(wx) * grown,
      height: start.height + Math.abs(wy) * grown,
    };
    handles.draw(guides);
    const edits = handles.target.sized(handles.live);
    for (const { path, value } of edits)
      say("values-moved", { path: path.slice(0, -1), values: { [path.at(-1)]: value } });
    handles.session.draft(edits);
  }

  // What a side that is moved outwards snaps to; a shape that is turned snaps to nothing. Told outwards, too.
  near(start, edge, moved) {
    const { page, target, others, view } = this.handles;
    if (start.rotation_deg % 90) return { by: 0, guides: [] };
    const [wx, wy] = rotate(...WAYS[edge], start.rotation_deg).map(Math.round);
    const axis = wx ? "x" : "y";
    const half = (WAYS[edge][0] ? start.width : start.height) / 2;
    const way = wx + wy;
    const at = start[axis] + way * (half + moved);
    const { by, guides } = snappedSide(
      axis,
      at,
      page,
      NEAR / view.zoom,
      target.letsPick ? others : [],
    );
    return { by: by * way, guides };
  }

  finish() {
    const { handles } = this;
    if (handles.live) handles.session.change(handles.target.sized(handles.live), "Side dragged");
  }

  nudge(event, edge, step) {
    event.preventDefault();
    const far = event.shiftKey ? FAR : 1;
    const { box } = this.handles;
    const by = rotate(step[0] * far, step[1] * far, box.rotation_deg);
    this.put({ ...box }, edge, by, false);
    this.handles.soon(() => this.finish());
  }
}
