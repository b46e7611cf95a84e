// The four corners of a plane, each dragged by itself, or moved by the arrow keys.

import { convex } from "../../controls/lib/layout.js";
import { say } from "../events.js";

const FAR = 10; // px, with Shift
const CROSSED =
  "Four corners must go round in order, and these cross. The last corners were kept. Drag this corner back to its own side.";

export class CornerDrag {
  constructor(handles) {
    this.handles = handles;
  }

  // One corner of a plane: while the four go round in order it is drawn so, else it is only shown where they cross.
  press(event) {
    const corner = Number(event.target.dataset.corner);
    event.target.focus({ preventScroll: true });
    const [x, y] = this.handles.view.toPiece(event.offsetX, event.offsetY);
    const ring = [...this.handles.shape.ring];
    const from = ring[corner];
    this.handles.dragging = true;
    this.handles.follow(
      event,
      (moved) => {
        const to = this.handles.view.toPiece(moved.offsetX, moved.offsetY);
        this.put(ring, corner, [from[0] + to[0] - x, from[1] + to[1] - y]);
      },
      () => {
        this.handles.dragging = false;
        this.finish();
      },
    );
  }

  put(ring, corner, point) {
    this.handles.ring = ring.with(corner, point);
    this.handles.draw();
    if (convex(this.handles.ring))
      this.handles.session.draft(this.handles.target.cornered(this.handles.ring));
  }

  finish() {
    const { ring } = this.handles;
    if (!ring) return;
    if (convex(ring))
      return void this.handles.session
        .change(this.handles.target.cornered(ring), "Corner dragged", { reload: true })
        .then(() => this.handles.settle());
    this.handles.ring = null;
    this.handles.session.dropDraft();
    say("trouble-told", { message: CROSSED });
    this.handles.draw();
  }

  nudge(event, corner, step) {
    event.preventDefault();
    const far = event.shiftKey ? FAR : 1;
    const ring = [...this.handles.shape.ring];
    this.put(ring, corner, [ring[corner][0] + step[0] * far, ring[corner][1] + step[1] * far]);
    this.handles.soon(() => this.finish());
  }
}
