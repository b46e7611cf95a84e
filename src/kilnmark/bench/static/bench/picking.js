// Picking a colour from the piece as it is shown: the next click on it tells one; Escape leaves all as it was.

import { colourAt } from "../controls/lib/source.js";

export function pickFrom(stage) {
  const { element, canvas } = stage;
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
      const { left, top, width, height } = canvas.getBoundingClientRect();
      const [x, y] = [(event.clientX - left) / width, (event.clientY - top) / height];
      if (x < 0 || y < 0 || x >= 1 || y >= 1) return void end(null);
      end(colourAt(canvas, x * canvas.width, y * canvas.height));
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
