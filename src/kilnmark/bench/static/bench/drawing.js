// Drawing a frame on the piece: the next drag on it tells one, [x, y, width, height] in document px from its middle; Escape leaves
// all as it was. By keys: Enter takes a frame of half the page.

export function drawFrame(stage, overlay) {
  const { element, view } = stage;
  const frame = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  frame.setAttribute("class", "choosing");
  return new Promise((done) => {
    let from = null;
    const at = (event) => {
      const { left, top } = overlay.getBoundingClientRect();
      return [event.clientX - left, event.clientY - top];
    };
    const end = (found) => {
      frame.remove();
      element.classList.remove("picking");
      for (const [name, act] of acts) element.removeEventListener(name, act, true);
      document.removeEventListener("keydown", keyed, true);
      done(found);
    };
    const press = (event) => {
      event.preventDefault();
      event.stopPropagation();
      from = at(event);
      overlay.append(frame);
    };
    const move = (event) => {
      if (!from) return;
      event.stopPropagation();
      const to = at(event);
      const size = { x: Math.min(from[0], to[0]), y: Math.min(from[1], to[1]), width: Math.abs(to[0] - from[0]), height: Math.abs(to[1] - from[1]) };
      for (const [name, value] of Object.entries(size)) frame.setAttribute(name, value);
    };
    const release = (event) => {
      if (!from) return;
      event.stopPropagation();
      const [a, b] = [view.toPiece(...from), view.toPiece(...at(event))];
      const [width, height] = [Math.abs(b[0] - a[0]), Math.abs(b[1] - a[1])];
      end(width * view.zoom < 4 || height * view.zoom < 4 ? null : { x: (a[0] + b[0]) / 2, y: (a[1] + b[1]) / 2, width, height });
    };
    const keyed = (event) => {
      if (event.key !== "Escape" && event.key !== "Enter") return;
      event.preventDefault();
      event.stopPropagation();
      const [width, height] = view.size;
      end(event.key === "Enter" ? { x: width / 2, y: height / 2, width: width / 2, height: height / 2 } : null);
    };
    const acts = [["pointerdown", press], ["pointermove", move], ["pointerup", release]];
    element.classList.add("picking");
    for (const [name, act] of acts) element.addEventListener(name, act, true);
    document.addEventListener("keydown", keyed, true);
  });
}
