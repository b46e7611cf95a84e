// Pointing at a stroke on the piece: the one under the pointer is outlined, a click tells its number, Escape none. By keys: arrows go
// from stroke to stroke, Enter takes it.

import { getJson } from "../../kilnmark/api.js";
import { make } from "../hands/svg.js";
import { say } from "../events.js";
import { store } from "../store.js";
import { nearest } from "./edge.js";
import { Space } from "./space.js";

const NEAR = 14; // px beyond a stroke's own width
const STEPS = { ArrowRight: 1, ArrowDown: 1, ArrowLeft: -1, ArrowUp: -1 };

async function strokesAt(path) {
  const asked = new URLSearchParams({ path: JSON.stringify(path) });
  const answer = await getJson(`${store.session.base}strokes/?${asked}`);
  if (!answer.ok) say("trouble-told", { message: answer.message });
  return answer.ok ? answer.data.strokes : [];
}

function away(stroke, at, space) {
  const points = stroke.points.map((one) => space.onStage(one));
  const far = points.map((from, n) => {
    const [x, y] = nearest(from, points[Math.min(n + 1, points.length - 1)], at);
    return Math.hypot(x - at[0], y - at[1]);
  });
  return Math.min(...far) - stroke.radius * space.pxOfStage;
}

export async function pointAtStroke({ path, part }) {
  const { stage, session, handles } = store;
  const strokes = await strokesAt(path);
  if (!strokes.length) return null;
  const space = new Space(stage, session.snapshot.frames[part]);
  const shape = make("polyline", { class: "pointed" });
  handles.overlay.append(shape);
  stage.element.classList.add("picking");
  let number = null;

  const show = (found) => {
    number = found;
    const points = found === null ? [] : strokes[found].points.map((one) => space.onStage(one));
    if (points.length === 1) points.push(points[0]);
    shape.setAttribute("points", points.map((one) => one.join(",")).join(" "));
    const width = found === null ? 0 : 2 * strokes[found].radius * space.pxOfStage;
    shape.setAttribute("stroke-width", Math.max(width, 3));
    if (!shape.isConnected) handles.overlay.append(shape);
  };
  const under = ({ clientX, clientY }) => {
    const { left, top } = stage.element.getBoundingClientRect();
    const at = [clientX - left, clientY - top];
    let [least, found] = [NEAR, null];
    for (const [n, stroke] of strokes.entries()) {
      const far = away(stroke, at, space);
      if (far <= least) [least, found] = [far, n]; // of those that cover it, the last
    }
    return found;
  };
  show(strokes.length - 1);

  return new Promise((done) => {
    const end = (found) => {
      shape.remove();
      stage.element.classList.remove("picking");
      stage.element.removeEventListener("pointermove", moved, true);
      stage.element.removeEventListener("pointerdown", press, true);
      document.removeEventListener("keydown", keyed, true);
      done(found);
    };
    const moved = (event) => show(under(event));
    const press = (event) => {
      event.preventDefault();
      event.stopPropagation();
      end(under(event));
    };
    const keyed = (event) => {
      if (STEPS[event.key])
        show(((number ?? 0) + STEPS[event.key] + strokes.length) % strokes.length);
      else if (event.key === "Enter") end(number);
      else if (event.key === "Escape") end(null);
      else return;
      event.preventDefault();
      event.stopPropagation();
    };
    stage.element.addEventListener("pointermove", moved, true);
    stage.element.addEventListener("pointerdown", press, true);
    document.addEventListener("keydown", keyed, true);
  });
}
