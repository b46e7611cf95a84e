// Resting the pointer on the piece tells the ranges of the sheet where it is: each marks the tone that it reads there.

import { say } from "../events.js";
import { pointOf } from "../stage/picking.js";

const REST_MS = 120;

export function tellTones(stage) {
  let timer = 0;
  stage.element.addEventListener("pointermove", (event) => {
    clearTimeout(timer);
    if (!document.querySelector("[data-tone]")) return;
    timer = setTimeout(() => say("tone-under", { at: pointOf(stage, event)?.at ?? null }), REST_MS);
  });
  stage.element.addEventListener("pointerleave", () => {
    clearTimeout(timer);
    say("tone-under", { at: null });
  });
}
