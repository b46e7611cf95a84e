// The sides of a shape, each dragged by itself, or moved by the arrow keys: the opposite one stays, or with Shift the middle.

import { rotate } from "../../controls/lib/layout.js";
import { say } from "../events.js";

const FAR = 10; // px that an arrow key moves, with Shift
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
        this.put(start, edge, [to[0] - from[0], to[1] - from[1]], moved.shiftKey);
      },
      () => {
        handles.dragging = false;
        this.finish();
      },
    );
  }

  // by : px across and down, as the shape lies flat.
  put(start, edge, by, both) {
    const { handles } = this;
    const [wx, wy] = WAYS[edge];
    const [dx, dy] = rotate(...by, -start.rotation_deg);
    const times = both ? 2 : 1;
    const grown = Math.max((dx * wx + dy * wy) * times, LEAST - (wx ? start.width : start.height));
    const half = both ? 0 : grown / 2;
    const [x, y] = rotate(wx * half, wy * half, start.rotation_deg);
    handles.live = {
      ...start,
      x: start.x + x,
      y: start.y + y,
      width: start.width + Math.abs(wx) * grown,
      height: start.height + Math.abs(wy) * grown,
    };
    handles.draw();
    const edits = handles.target.sized(handles.live);
    for (const { path, value } of edits)
      say("values-moved", { path: path.slice(0, -1), values: { [path.at(-1)]: value } });
    handles.session.draft(edits);
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
