// Picking from the piece as it is shown: the next click on it tells a place and its colour; Escape leaves all as it was.

import { colourAt } from "../../controls/lib/source.js";

// { at, colour } : [x, y] in document px and "#rrggbb", or null outside the picture.
export function pointOf(stage, { clientX, clientY }) {
  const { left, top, width, height } = stage.canvas.getBoundingClientRect();
  const [x, y] = [(clientX - left) / width, (clientY - top) / height];
  if (x < 0 || y < 0 || x >= 1 || y >= 1) return null;
  const box = stage.element.getBoundingClientRect();
  const at = stage.view.toPiece(clientX - box.left, clientY - box.top);
  return { at, colour: colourAt(stage.canvas, x * stage.canvas.width, y * stage.canvas.height) };
}

export function pickPoint(stage) {
  const { element } = stage;
  return new Promise((done) => {
    const end = (found) => {
      element.classList.remove("picking");
      element.removeEventListener("pointerdown", press, true);
      document.removeEventListener("keydown", escape, true);
      done(found);
    };
    const press = (event) => {
      event.preventDefault();
      event.stopPropagation();
      end(pointOf(stage, event));
    };
    const escape = (event) => {
      if (event.key !== "Escape") return;
      event.stopPropagation();
      end(null);
    };
    element.classList.add("picking");
    element.addEventListener("pointerdown", press, true);
    document.addEventListener("keydown", escape, true);
  });
}

export const pickFrom = async (stage) => (await pickPoint(stage))?.colour ?? null;
