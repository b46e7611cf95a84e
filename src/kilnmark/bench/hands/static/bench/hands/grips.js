// What a hand takes hold of around what is chosen: ticks at its corners, an arm that turns it, corners of a plane; and the guides
// that it snaps to.

import { around, carried } from "../../controls/lib/layout.js";
import { make } from "./svg.js";

const TICK = 18;
const GAP = 7;
const ARM = 46;
const SIDE_GRIP = 22;
const SIDES = ["Top", "Right", "Lower", "Left"];
const CORNERS = ["Upper left", "Upper right", "Lower right", "Lower left"];

// The elements around a shape, the guides lowest. handles : { target, live, view, within }.
export function grips(handles, shape, guides) {
  const { target, view } = handles;
  const points = shape.ring.map((point) => view.toStage(...point));
  const edge = shape.outline.map((point) => view.toStage(...point)).join(" ");
  const bent = shape.outline.length > 4 || target.byCorners;
  const laid = { class: shape.crossed ? "laid crossed" : "laid", points: edge };
  return [
    ...guides.flatMap((one) => guide(view, one)),
    ...outlines(handles),
    ...(bent ? [make("polygon", laid)] : []),
    body(target, edge),
    ...(target.byCorners ? cornerGrips(handles, points) : ticks(handles, points)),
    ...(target.bySides ? sideGrips(points) : []),
    ...(target.locked ? [] : arm(handles, points)),
  ];
}

function body(target, points) {
  const element = make("polygon", {
    class: "body",
    points,
    tabindex: 0,
    role: "group",
    "data-grip": "move",
    "aria-label": `${target.name}: drag to move, or use the arrow keys`,
  });
  if (target.leftOut) element.style.fill = "url(#unseen)";
  return element;
}

// The four corners of a plane, each dragged by itself.
function cornerGrips(handles, points) {
  return points.map((point, n) => {
    const [cx, cy] = handles.within(point);
    return make("circle", {
      class: "corner",
      cx,
      cy,
      r: 8,
      tabindex: 0,
      role: "button",
      "data-corner": n,
      "aria-label": `${CORNERS[n]} corner: drag it, or use the arrow keys`,
    });
  });
}

// The sides of a shape, each dragged by itself.
function sideGrips(points) {
  return points.flatMap((from, n) => {
    const to = points[(n + 1) % 4];
    const along = unit(from, to).map((one) => (one * SIDE_GRIP) / 2);
    const [x, y] = [(from[0] + to[0]) / 2, (from[1] + to[1]) / 2];
    const line = { x1: x - along[0], y1: y - along[1], x2: x + along[0], y2: y + along[1] };
    const grip = make("line", {
      class: "edge",
      ...line,
      tabindex: 0,
      role: "button",
      "data-edge": n,
      "aria-label": `${SIDES[n]} side: drag it, or use the arrow keys`,
    });
    return [make("line", { class: "edge-back", ...line }), grip];
  });
}

// Of several: each one's own box; while they are dragged, where it will be, at once, however many there are.
function outlines({ live, target, view }) {
  const shown = (target.parts ?? []).map((part) =>
    live ? carried(around(part), target.box, live) : around(part),
  );
  return shown.map((points) =>
    make("polygon", {
      class: "found",
      points: points.map(([x, y]) => view.toStage(x, y)).join(" "),
    }),
  );
}

function ticks(handles, points) {
  const middle = points.reduce(([x, y], p) => [x + p[0] / 4, y + p[1] / 4], [0, 0]);
  return points.flatMap((point, n) => {
    const sides = [points[(n + 1) % 4], points[(n + 3) % 4]].map((other) => unit(point, other));
    const out = [-(sides[0][0] + sides[1][0]) * GAP, -(sides[0][1] + sides[1][1]) * GAP];
    const at = handles.within([point[0] + out[0], point[1] + out[1]]);
    const path = `M${at[0] + sides[0][0] * TICK} ${at[1] + sides[0][1] * TICK}L${at}L${at[0] + sides[1][0] * TICK} ${at[1] + sides[1][1] * TICK}`;
    const slant =
      (point[0] - middle[0]) * (point[1] - middle[1]) > 0 ? "nwse-resize" : "nesw-resize";
    const grip = make("circle", {
      class: "grip",
      cx: at[0],
      cy: at[1],
      r: 15,
      "data-grip": "scale",
    });
    grip.style.cursor = slant;
    return [
      make("path", { class: "tick-back", d: path }),
      make("path", { class: "tick", d: path }),
      grip,
    ];
  });
}

function arm(handles, points) {
  const foot = [(points[0][0] + points[1][0]) / 2, (points[0][1] + points[1][1]) / 2];
  const up = unit([(points[2][0] + points[3][0]) / 2, (points[2][1] + points[3][1]) / 2], foot);
  const start = [foot[0] + up[0] * GAP, foot[1] + up[1] * GAP];
  const end = handles.within([foot[0] + up[0] * ARM, foot[1] + up[1] * ARM]);
  const line = { x1: start[0], y1: start[1], x2: end[0], y2: end[1] };
  return [
    make("line", { class: "arm-back", ...line }),
    make("line", { class: "arm", ...line }),
    make("circle", { class: "knob", cx: end[0], cy: end[1], r: 8, "data-grip": "turn" }),
  ];
}

function guide(view, { axis, at, from, to, across }) {
  if (across !== undefined) return gap(view, axis, from, to, across);
  const [x, y] = view.toStage(at, at);
  const line = axis === "x" ? { x1: x, x2: x, y1: 0, y2: 9999 } : { y1: y, y2: y, x1: 0, x2: 9999 };
  return [
    make("line", { class: "guide-back", ...line }),
    make("line", { class: "guide", ...line }),
  ];
}

function gap(view, axis, from, to, across) {
  const ends =
    axis === "x"
      ? [
          [from, across],
          [to, across],
        ]
      : [
          [across, from],
          [across, to],
        ];
  const [[x1, y1], [x2, y2]] = ends.map(([x, y]) => view.toStage(x, y));
  return [
    make("line", { class: "guide-back", x1, y1, x2, y2 }),
    make("line", { class: "guide gap", x1, y1, x2, y2 }),
  ];
}

function unit(from, to) {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const length = Math.hypot(dx, dy) || 1;
  return [dx / length, dy / length];
}
