// Keys of the bench. Standard ones stay standard; ours are the first letters of our own words.

import { context } from "./context.js";

const FIELD =
  "input:not([type=range], [type=checkbox], [type=radio]), textarea, select, [contenteditable]";

// Keys are letters in a field, and belong to a dialog while one is open, whatever has the focus.
const elsewhere = ({ target, defaultPrevented }) =>
  defaultPrevented || target.closest(FIELD) || document.querySelector("dialog[open]");

export function listen(bench) {
  const acts = {
    "+": bench.zoomIn,
    "=": bench.zoomIn,
    "-": bench.zoomOut,
    0: bench.fit,
    1: bench.truePixels,
    2: bench.twice,
    4: bench.fourTimes,
    s: () => bench.printSize(),
    x: () => bench.reverseFade(),
    "?": bench.help,
    f: bench.openFire,
    p: bench.openPins,
    r: () => bench.openLooks(),
    v: () => bench.openCompare(),
    d: () => bench.openDirections(),
    w: () => bench.openWipe(),
    h: () => bench.openPast(),
    k: () => bench.showHeld(),
    t: () => bench.openTester(),
    g: () => bench.groupChosen(),
    l: () => bench.flagChosen("locked"),
    o: () => bench.flagChosen("left_out"),
    Escape: () => bench.chooseOne(),
    Delete: () => bench.remove(),
    Backspace: () => bench.remove(),
  };
  const peeks = { b: "bare", u: "upto" };
  const off = { n: "step", a: "treatments" };

  document.addEventListener("keydown", (event) => {
    if (elsewhere(event)) return;
    const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    if (event.ctrlKey || event.metaKey) {
      if (key === "z" || key === "y") {
        event.preventDefault();
        if (key === "y" || event.shiftKey) bench.redo();
        else bench.undo();
      }
      return;
    }
    if (peeks[key]) {
      if (!event.repeat) bench.peek(peeks[key]);
    } else if (off[key]) {
      if (!event.repeat) bench.lookWithout(off[key]);
    } else if (acts[key]) {
      event.preventDefault();
      acts[key].call(bench);
    }
  });

  document.addEventListener("keyup", (event) => {
    if (peeks[event.key.toLowerCase()]) bench.peek(null);
    if (off[event.key.toLowerCase()]) bench.lookWithout(null);
  });
  window.addEventListener("blur", () => {
    if (context.stage.point) bench.peek(null);
    bench.lookWithout(null);
  });
}
