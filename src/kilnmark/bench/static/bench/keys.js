// Keys of the bench. Standard ones stay standard; ours are the first letters of our own words.

const typing = (target) => target.closest("input:not([type=range]):not([type=checkbox]), textarea, select, dialog[open]");

export function listen(bench, bar) {
  const acts = {
    "+": bar.zoomIn, "=": bar.zoomIn, "-": bar.zoomOut, 0: bar.fit, 1: bar.truePixels, "?": bar.help, f: bar.openFire,
    Delete: () => bench.remove(), Backspace: () => bench.remove(),
  };
  const peeks = { b: "bare", u: "upto" };

  document.addEventListener("keydown", (event) => {
    if (typing(event.target)) return;
    const key = event.key.length === 1 ? event.key.toLowerCase() : event.key;
    if (event.ctrlKey || event.metaKey) {
      if (key === "z" || key === "y") {
        event.preventDefault();
        if (key === "y" || event.shiftKey) bar.redo();
        else bar.undo();
      }
      return;
    }
    if (peeks[key]) {
      if (!event.repeat) bench.peek(peeks[key]);
    } else if (acts[key]) {
      event.preventDefault();
      acts[key].call(bar);
    }
  });

  document.addEventListener("keyup", (event) => {
    if (peeks[event.key.toLowerCase()]) bench.peek(null);
  });
  window.addEventListener("blur", () => bench.stage.point && bench.peek(null));
}
