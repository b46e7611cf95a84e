// The edge that a stroke sticks to: the nearest place of the outlines, where one is near enough.

import { getJson } from "../../kilnmark/api.js";
import { store } from "../store.js";

export async function edgesOf(part) {
  const answer = await getJson(`${store.session.base}edge/?${new URLSearchParams({ part })}`);
  return answer.ok ? answer.data.loops : [];
}

export function stuck(loops, point, near) {
  let [least, found] = [near, point];
  for (const loop of loops)
    loop.forEach((from, n) => {
      const at = nearest(from, loop[(n + 1) % loop.length], point);
      const away = Math.hypot(at[0] - point[0], at[1] - point[1]);
      if (away < least) [least, found] = [away, at];
    });
  return found;
}

export function nearest([x0, y0], [x1, y1], [x, y]) {
  const [dx, dy] = [x1 - x0, y1 - y0];
  const square = dx * dx + dy * dy;
  const t = square ? Math.min(Math.max(((x - x0) * dx + (y - y0) * dy) / square, 0), 1) : 0;
  return [x0 + t * dx, y0 + t * dy];
}
