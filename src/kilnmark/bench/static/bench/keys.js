// Keys of the bench. Standard ones stay standard; ours are the first letters of our own words.

import { say } from "./events.js";
import { fit, printSize, times, zoomIn, zoomOut } from "./stage/zooming.js";
import { stepOf, store, treatmentOf } from "./store.js";
import { chooseOne, flagChosen, groupChosen, removeChosen } from "./strip/acts.js";

const FIELD =
  "input:not([type=range], [type=checkbox], [type=radio]), textarea, select, [contenteditable]";

// Keys are letters in a field, and belong to a dialog while one is open, whatever has the focus.
const elsewhere = ({ target, defaultPrevented }) =>
  defaultPrevented || target.closest(FIELD) || document.querySelector("dialog[open]");

const WANTS = {
  "?": "keys-wanted",
  f: "fire-wanted",
  p: "pins-wanted",
  r: "looks-wanted",
  v: "compare-wanted",
  d: "directions-wanted",
  w: "wipe-wanted",
  h: "past-wanted",
  k: "held-wanted",
  t: "tester-wanted",
};
const ACTS = {
  "+": zoomIn,
  "=": zoomIn,
  "-": zoomOut,
  0: fit,
  1: () => times(1),
  2: () => times(2),
  4: () => times(4),
  s: printSize,
  x: () => document.querySelector("#sheet [data-reverse-fade]")?.click(),
  g: groupChosen,
  l: () => flagChosen("locked"),
  o: () => flagChosen("left_out"),
  Escape: chooseOne,
  Delete: removeChosen,
  Backspace: removeChosen,
};
const PEEKS = { b: "bare", u: "upto" }; // while a key is held
const OFF = { n: "step", a: "treatments" };

// The bare art, or the piece up to the chosen step.
function peek(which) {
  const { part, step } = store.choice;
  const place = treatmentOf(part).findIndex((item) => item.id === step);
  store.stage.show(which ? { part, number: which === "bare" ? 0 : place + 1 } : null);
}

// The chosen step off, or all treatments.
function lookWithout(which) {
  const { part, step } = store.choice;
  const chosen = stepOf(part, step) ? step : null;
  store.stage.lookWithout(which === "step" ? chosen : which);
}

function act(event, key) {
  if (PEEKS[key] || OFF[key]) {
    if (event.repeat) return;
    if (PEEKS[key]) peek(PEEKS[key]);
    else lookWithout(OFF[key]);
  } else if (ACTS[key] || WANTS[key]) {
    event.preventDefault();
    if (ACTS[key]) ACTS[key]();
    else say(WANTS[key]);
  }
}

export function listen(history) {
  document.addEventListener("keydown", (event) => {
    if (elsewhere(event)) return;
    const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    if (!event.ctrlKey && !event.metaKey) return void act(event, key);
    if (key !== "z" && key !== "y") return;
    event.preventDefault();
    if (key === "y" || event.shiftKey) history.redo();
    else history.undo();
  });
  document.addEventListener("keyup", ({ key }) => {
    if (PEEKS[key.toLowerCase()]) peek(null);
    if (OFF[key.toLowerCase()]) lookWithout(null);
  });
  window.addEventListener("blur", () => {
    if (store.stage.point) peek(null);
    lookWithout(null);
  });
}
