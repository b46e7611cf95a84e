// The sides of the page, while the whole piece is chosen: each is dragged, or moved by the arrow keys, to crop or enlarge it there.

import { say } from "../events.js";

const SIDES = { left: [-1, 0], right: [1, 0], top: [0, -1], bottom: [0, 1] };
const LONG = 46;
const REST_MS = 500;
const LEAST = 16; // px that stay of the page

export class PageEdges {
  drawsItself = true;
  id = null;

  constructor(session, page) {
    Object.assign(this, { session, page, room: { left: 0, top: 0, right: 0, bottom: 0 } });
  }

  get name() {
    return "Page";
  }
  get box() {
    return null;
  }
  get changed() {
    return Object.values(this.room).some(Boolean);
  }

  // [left, top, right, bottom] of the page as it would be, on the stage.
  corners({ view }) {
    const {
      room,
      page: { width, height },
    } = this;
    return [
      ...view.toStage(-room.left, -room.top),
      ...view.toStage(width + room.right, height + room.bottom),
    ];
  }

  parts(handles, make) {
    const [left, top, right, bottom] = this.corners(handles.stage);
    const at = {
      left: [left, (top + bottom) / 2],
      right: [right, (top + bottom) / 2],
      top: [(left + right) / 2, top],
      bottom: [(left + right) / 2, bottom],
    };
    const frame = make("rect", {
      class: "page-frame",
      x: left,
      y: top,
      width: Math.max(right - left, 0),
      height: Math.max(bottom - top, 0),
    });
    const grips = Object.entries(SIDES).map(([side, [across]]) => {
      const [x, y] = handles.within(at[side]);
      const [wide, tall] = across ? [10, LONG] : [LONG, 10];
      const grip = make("rect", {
        class: "page-edge",
        x: x - wide / 2,
        y: y - tall / 2,
        width: wide,
        height: tall,
        rx: 5,
        tabindex: 0,
        role: "slider",
        "data-side": side,
        "aria-label": `${side[0].toUpperCase()}${side.slice(1)} side of the page`,
        "aria-valuenow": this.room[side],
        "aria-valuetext": `${this.room[side]} px more room`,
      });
      grip.style.cursor = across ? "ew-resize" : "ns-resize";
      return grip;
    });
    return this.changed ? [frame, ...grips] : grips;
  }

  move(side, px) {
    const { width, height } = this.page;
    const [size, other] = SIDES[side][0]
      ? [width, { left: "right", right: "left" }[side]]
      : [height, { top: "bottom", bottom: "top" }[side]];
    this.room[side] = Math.max(Math.round(px), LEAST - size - this.room[other]);
    say("room-moved", { room: this.room });
  }

  drag(side, from, to) {
    const [across, down] = SIDES[side];
    this.move(side, (to[0] - from[0]) * across + (to[1] - from[1]) * down);
  }

  // An arrow key moves the side that way; after a rest it is stored.
  nudge(side, step, far) {
    const [across, down] = SIDES[side];
    const by = step[0] * across + step[1] * down;
    if (!by) return false;
    this.move(side, this.room[side] + by * far);
    this.session.later(() => this.store(), REST_MS, "page edges");
    return true;
  }

  store() {
    const room = { ...this.room };
    if (!this.changed) return;
    this.room = { left: 0, top: 0, right: 0, bottom: 0 };
    this.session.change([{ op: "trim_piece", ...room }], "Room at the sides", { reload: true });
  }
}
