// The bar that says how near the piece is seen, and sets it.

import { hear, say } from "../events.js";
import { store } from "../store.js";
import { fit, printSize, times, zoomIn, zoomOut } from "./zooming.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("zoom", () => ({
    zoomLabel: "",
    fitted: "true",
    atTrue: "false",

    init() {
      hear("view-moved", () => this.show());
      hear("screen-measured", printSize);
      this.show();
    },

    show() {
      const { view } = store.stage;
      const shown = view.zoom * (window.devicePixelRatio || 1);
      Object.assign(this, {
        zoomLabel: `${Math.round(shown * 100)} %`,
        fitted: String(view.fitted),
        atTrue: String(shown === 1),
      });
    },

    zoomIn,
    zoomOut,
    fit,
    printSize,
    truePixels: () => times(1),
    twice: () => times(2),
    fourTimes: () => times(4),
    measureScreen: () => say("screen-wanted"),
  }));
});
