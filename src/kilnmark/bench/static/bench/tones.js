// What a blend range reads of a colour, 0 to 1; and the tone under the pointer, told to the ranges of the sheet.

import { colourAt } from "../controls/lib/source.js";
import { announce } from "./context.js";

const REST_MS = 120;

export function toneOf(hex, reads) {
  const channels = [1, 3, 5].map((n) => parseInt(hex.slice(n, n + 2), 16) / 255);
  const [red, green, blue] = channels;
  const [most, least] = [Math.max(...channels), Math.min(...channels)];
  return {
    red, green, blue,
    luminance: 0.2126 * red + 0.7152 * green + 0.0722 * blue,
    lightness: (most + least) / 2,
    saturation: (most - least) / Math.max(1 - Math.abs(most + least - 1), 1e-6),
  }[reads];
}

// Resting the pointer on the piece marks its tone in every range that is open.
export function tellTones({ element, canvas }) {
  let timer = 0;
  element.addEventListener("pointermove", ({ clientX, clientY }) => {
    clearTimeout(timer);
    if (!document.querySelector("[data-tone]")) return;
    timer = setTimeout(() => {
      const { left, top, width, height } = canvas.getBoundingClientRect();
      const [x, y] = [(clientX - left) / width, (clientY - top) / height];
      const inside = x >= 0 && y >= 0 && x < 1 && y < 1;
      const colour = inside ? colourAt(canvas, x * canvas.width, y * canvas.height) : null;
      announce("tone-under", { tone: colour && toneOf(colour, "luminance") });
    }, REST_MS);
  });
  element.addEventListener("pointerleave", () => {
    clearTimeout(timer);
    announce("tone-under", { tone: null });
  });
}
