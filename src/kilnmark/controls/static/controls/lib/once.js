// What is asked for twice in a breath, as by a double-click, is done once: not while it goes on, nor shortly after it began.

const BREATH_MS = 500;
const SAME_PLACE_PX = 6;

export function once(work) {
  let [busy, begun] = [false, -Infinity];
  return async function only(...given) {
    if (busy || performance.now() - begun < BREATH_MS) return;
    [busy, begun] = [true, performance.now()];
    try {
      await work.apply(this, given);
    } finally {
      busy = false;
    }
  };
}

// The second press of a double-click on something that closed at the first is not meant for what lies beneath it.
export function swallowSecond() {
  let [layer, at, place] = [null, 0, [0, 0]];
  const closed = () =>
    layer && (layer.tagName === "DIALOG" ? !layer.open : !layer.classList.contains("show"));
  const stop = (event) => {
    const far = Math.hypot(event.clientX - place[0], event.clientY - place[1]) > SAME_PLACE_PX;
    if (far || !closed() || performance.now() - at > BREATH_MS) return;
    event.stopPropagation();
    event.preventDefault();
  };
  for (const name of ["pointerdown", "mousedown", "click", "dblclick"])
    document.addEventListener(name, stop, true);
  document.addEventListener(
    "click",
    ({ target, isTrusted, clientX, clientY }) => {
      if (isTrusted)
        [layer, at, place] = [
          target.closest?.("dialog, .dropdown-menu"),
          performance.now(),
          [clientX, clientY],
        ];
    },
    true,
  );
}
