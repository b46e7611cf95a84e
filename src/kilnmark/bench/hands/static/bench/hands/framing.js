// A frame dragged over marks.

import { chooseSeveral, choose } from "../store.js";
import { marksWithin } from "./finding.js";
import { make } from "./svg.js";

const LEAST_FRAME = 4; // px of the screen: less is a click

// A frame dragged over marks chooses those that it touches; with Shift, those too. clicked : what a click chooses instead.
export function chooseByFrame(handles, event, [x, y], clicked = null) {
  const start = [event.offsetX, event.offsetY];
  const box = make("rect", { class: "choosing" });
  handles.overlay.append(box);
  const rest = event.shiftKey ? (handles.target?.ids ?? [handles.target?.id].filter(Boolean)) : [];
  const draw = (moved) => {
    const [left, top] = [Math.min(start[0], moved.offsetX), Math.min(start[1], moved.offsetY)];
    const size = {
      width: Math.abs(moved.offsetX - start[0]),
      height: Math.abs(moved.offsetY - start[1]),
    };
    for (const [name, value] of Object.entries({ x: left, y: top, ...size }))
      box.setAttribute(name, value);
  };
  handles.follow(event, draw, (last) => {
    box.remove();
    if (Math.hypot(last.offsetX - start[0], last.offsetY - start[1]) < LEAST_FRAME)
      return void (clicked && choose(clicked));
    const [toX, toY] = handles.view.toPiece(last.offsetX, last.offsetY);
    const frame = {
      left: Math.min(x, toX),
      right: Math.max(x, toX),
      top: Math.min(y, toY),
      bottom: Math.max(y, toY),
    };
    const found = marksWithin(handles.session, frame).filter((id) => id !== clicked);
    if (found.length) chooseSeveral([...new Set([...rest, ...found])]);
  });
}
