// How near the piece is seen, from the bar above it and by keys.

import { say } from "../events.js";
import { store } from "../store.js";
import { measured } from "./screen.js";

const MM_PER_INCH = 25.4;
const STEP = 1.5;

function zoom(act) {
  act(store.stage.view);
  store.stage.look();
}

export const zoomIn = () => zoom((view) => view.zoomTo(view.zoom * STEP));
export const zoomOut = () => zoom((view) => view.zoomTo(view.zoom / STEP));
export const fit = () => zoom((view) => view.fit());

// Pixels of the screen for one of the file.
export const times = (factor) =>
  zoom((view) => view.zoomTo(factor / (window.devicePixelRatio || 1)));

// As large as it will be in print, on a screen that was measured once with a ruler.
export function printSize() {
  const perMm = measured();
  if (!perMm) return void say("screen-wanted");
  zoom((view) => view.zoomTo((perMm * MM_PER_INCH) / store.page.ppi));
}
