// Snapping to the piece's middle and edges. Changes the box; returns the guides to show. Hold Alt to move freely.

export function snapped(box, page, reach) {
  const guides = [];
  const half = { x: box.width / 2, y: box.height / 2 };
  const straight = Math.abs(box.rotation_deg % 180) < 0.01;
  for (const [axis, size] of [["x", page.width], ["y", page.height]]) {
    const lines = [[size / 2, size / 2]];
    if (straight) lines.push([half[axis], 0], [size - half[axis], size]);
    const near = lines.find(([middle]) => Math.abs(box[axis] - middle) < reach);
    if (near) {
      box[axis] = near[0];
      guides.push({ axis, at: near[1] });
    }
  }
  return guides;
}
