// The shape around what is chosen, on the piece, from its box and the planes that it lies in.

import { carried, convex, corners, toFlat, toPiece } from "../../controls/lib/layout.js";

const SIDE_POINTS = 12; // of a side that may be bent

// What is drawn around what is chosen, on the piece: its four corners, and the points along its sides where they may be bent.
export function shapeOf({ box, live, target, ring }) {
  const laid = target.laid ?? [];
  if (ring) return { ring, outline: ring, crossed: !convex(ring) };
  if (box.outline?.length) {
    if (!live) return box;
    const go = (points) =>
      carried(
        points.map((point) => toFlat(laid, point)),
        target.box,
        live,
      ).map((point) => toPiece(laid, point));
    return { ring: go(box.ring), outline: go(box.outline) };
  }
  const flat = corners(box);
  if (!laid.length) return { ring: flat, outline: flat };
  const along = flat.flatMap(([x, y], n) => {
    const [u, v] = flat[(n + 1) % 4];
    return Array.from({ length: SIDE_POINTS }, (_, k) => [
      x + ((u - x) * k) / SIDE_POINTS,
      y + ((v - y) * k) / SIDE_POINTS,
    ]);
  });
  return {
    ring: flat.map((point) => toPiece(laid, point)),
    outline: along.map((point) => toPiece(laid, point)),
  };
}
