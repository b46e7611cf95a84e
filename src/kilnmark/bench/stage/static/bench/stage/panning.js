// Moving the view: the wheel zooms about the pointer with Ctrl, else scrolls; Space or the middle button drags.

export function panning(stage, handles) {
  const element = stage.element;

  element.addEventListener(
    "wheel",
    (event) => {
      event.preventDefault();
      const { left, top } = element.getBoundingClientRect();
      if (event.ctrlKey)
        stage.view.zoomTo(stage.view.zoom * 1.0015 ** -event.deltaY, [
          event.clientX - left,
          event.clientY - top,
        ]);
      else stage.view.pan(-event.deltaX, -event.deltaY);
      stage.look();
    },
    { passive: false },
  );

  document.addEventListener("keydown", (event) => {
    const busy =
      event.target.closest("input, textarea, select, dialog") ||
      (event.target.closest("button") && !element.matches(":hover"));
    if (event.code !== "Space" || busy) return;
    event.preventDefault();
    handles.panning = true;
    element.classList.add("panning");
  });
  document.addEventListener("keyup", (event) => {
    if (event.code !== "Space") return;
    handles.panning = false;
    element.classList.remove("panning");
  });

  element.addEventListener("pointerdown", (event) => {
    if (!handles.panning && event.button !== 1) return;
    element.setPointerCapture(event.pointerId);
    const drag = (moved) => {
      stage.view.pan(moved.movementX, moved.movementY);
      stage.look();
    };
    element.addEventListener("pointermove", drag);
    element.addEventListener("pointerup", () => element.removeEventListener("pointermove", drag), {
      once: true,
    });
  });
}
