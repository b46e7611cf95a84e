// The part of a texture that becomes a tip: a square that is dragged on its picture, or moved by arrow keys; its corner sizes it. Fields
// say the same in numbers, and a stroke shows what comes of it.

const SOON_MS = 250;
const NUDGE = 1; // %, with Shift ten times as much
const ARROWS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
const LEAST = 2;

const within = (value, least, most) => Math.min(Math.max(value, least), most);

function start(form) {
  const [picture, frame, stroke] = ["picture", "frame", "stroke"].map((name) =>
    form.querySelector(`[data-tip-${name}]`),
  );
  const field = (name) => form.elements.namedItem(name);
  const value = (name) => Number(field(name).value) || 0;
  let [timer, drag] = [null, null];

  // As px of the picture: { side, x, y }, kept within it.
  const part = () => {
    const { clientWidth: wide, clientHeight: tall } = picture;
    const side = (Math.min(wide, tall) * within(value("share"), LEAST, 100)) / 100;
    return {
      side,
      x: within((wide * value("x")) / 100, side / 2, wide - side / 2),
      y: within((tall * value("y")) / 100, side / 2, tall - side / 2),
    };
  };

  const show = () => {
    const { side, x, y } = part();
    Object.assign(frame.style, {
      left: `${x - side / 2}px`,
      top: `${y - side / 2}px`,
      width: `${side}px`,
      height: `${side}px`,
    });
    frame.hidden = !side;
    clearTimeout(timer);
    timer = setTimeout(tell, SOON_MS);
  };

  const tell = () => {
    const asked = new URLSearchParams(
      ["of", "share", "x", "y"].map((name) => [name, field(name).value]),
    );
    stroke.src = `${stroke.dataset.tipStroke}?${asked}`;
  };

  const set = (values) => {
    for (const [name, one] of Object.entries(values)) field(name).value = one.toFixed(1);
    show();
  };

  const moveTo = (x, y) => {
    const { clientWidth: wide, clientHeight: tall } = picture;
    const half = part().side / 2;
    set({
      x: (100 * within(x, half, wide - half)) / wide,
      y: (100 * within(y, half, tall - half)) / tall,
    });
  };

  frame.addEventListener("pointerdown", (event) => {
    event.preventDefault();
    frame.focus();
    frame.setPointerCapture(event.pointerId);
    const { left, top } = picture.getBoundingClientRect();
    const [sizing, { x, y }] = [event.target !== frame, part()];
    drag = { sizing, left, top, off: [event.clientX - left - x, event.clientY - top - y] };
  });
  frame.addEventListener("pointermove", ({ clientX, clientY }) => {
    if (!drag) return;
    const [x, y] = [clientX - drag.left, clientY - drag.top];
    if (!drag.sizing) return moveTo(x - drag.off[0], y - drag.off[1]);
    const middle = part();
    const half = Math.max(x - middle.x, y - middle.y, 1);
    const least = Math.min(picture.clientWidth, picture.clientHeight);
    set({ share: within((200 * half) / least, LEAST, 100) });
  });
  for (const name of ["pointerup", "pointercancel"])
    frame.addEventListener(name, () => {
      drag = null;
    });
  picture.addEventListener("pointerdown", ({ offsetX, offsetY }) => moveTo(offsetX, offsetY));
  frame.addEventListener("keydown", (event) => {
    const way = ARROWS[event.key];
    const by = event.shiftKey ? 10 * NUDGE : NUDGE;
    if (way) {
      const { x, y } = part();
      const { clientWidth: wide, clientHeight: tall } = picture;
      moveTo(x + (way[0] * by * wide) / 100, y + (way[1] * by * tall) / 100);
    } else if (event.key === "+" || event.key === "-")
      set({ share: within(value("share") + (event.key === "+" ? by : -by), LEAST, 100) });
    else return;
    event.preventDefault();
  });
  form.addEventListener("input", show);
  window.addEventListener("resize", show);
  if (picture.complete) show();
  else picture.addEventListener("load", show);
}

for (const form of document.querySelectorAll("[data-tip-form]")) start(form);
