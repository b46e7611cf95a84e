// What is drawn over the piece of a stroke's way: the way itself, and the points that it goes through.

import { make } from "../hands/svg.js";

export const outline = (points) => `M${points.map((one) => one.join(" ")).join("L")}`;

// nodes : each { at, corner }, in the frame. A corner is square, the one that is held filled.
export function nodeShapes(nodes, space, held) {
  return nodes.map(({ at, corner }, n) => {
    const [x, y] = space.onStage(at);
    const name = n === held ? "node held" : "node";
    if (!corner) return make("circle", { class: name, cx: x, cy: y, r: 5 });
    return make("rect", { class: name, x: x - 4.5, y: y - 4.5, width: 9, height: 9 });
  });
}
