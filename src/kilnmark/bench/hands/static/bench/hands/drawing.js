// Drawing on the piece: the next drag on it draws a frame, or a freehand outline; Escape leaves all as it was.

const LEAST = 4; // screen px: less is a click
const CLOSE = 1.2; // screen px that a side of an outline may be off
const SVG = "http://www.w3.org/2000/svg";

// The next drag, told as it goes: acts.begin(at), acts.move(at), acts.end(at) -> what is drawn, or null. By keys: Enter takes
// acts.middle().
function drag(stage, overlay, shape, acts) {
  const { element } = stage;
  shape.setAttribute("class", "choosing");
  return new Promise((done) => {
    let from = null;
    const at = (event) => {
      const { left, top } = overlay.getBoundingClientRect();
      return [event.clientX - left, event.clientY - top];
    };
    const end = (found) => {
      shape.remove();
      element.classList.remove("picking");
      for (const [name, act] of heard) element.removeEventListener(name, act, true);
      document.removeEventListener("keydown", keyed, true);
      done(found);
    };
    const press = (event) => {
      event.preventDefault();
      event.stopPropagation();
      from = at(event);
      overlay.append(shape);
      acts.begin(from);
    };
    const move = (event) => {
      if (!from) return;
      event.stopPropagation();
      acts.move(at(event));
    };
    const release = (event) => {
      if (!from) return;
      event.stopPropagation();
      end(acts.end(at(event)));
    };
    const keyed = (event) => {
      if (event.key !== "Escape" && event.key !== "Enter") return;
      event.preventDefault();
      event.stopPropagation();
      end(event.key === "Enter" ? acts.middle() : null);
    };
    const heard = [
      ["pointerdown", press],
      ["pointermove", move],
      ["pointerup", release],
    ];
    element.classList.add("picking");
    for (const [name, act] of heard) element.addEventListener(name, act, true);
    document.addEventListener("keydown", keyed, true);
  });
}

// { x, y, width, height } in document px, from its middle. By keys: a frame of half the page.
export function drawFrame(stage, overlay) {
  const frame = document.createElementNS(SVG, "rect");
  const { view } = stage;
  let from = [0, 0];
  return drag(stage, overlay, frame, {
    begin(at) {
      from = at;
    },
    move(to) {
      const size = {
        x: Math.min(from[0], to[0]),
        y: Math.min(from[1], to[1]),
        width: Math.abs(to[0] - from[0]),
        height: Math.abs(to[1] - from[1]),
      };
      for (const [name, value] of Object.entries(size)) frame.setAttribute(name, value);
    },
    end(to) {
      const [a, b] = [view.toPiece(...from), view.toPiece(...to)];
      const [width, height] = [Math.abs(b[0] - a[0]), Math.abs(b[1] - a[1])];
      return width * view.zoom < LEAST || height * view.zoom < LEAST
        ? null
        : { x: (a[0] + b[0]) / 2, y: (a[1] + b[1]) / 2, width, height };
    },
    middle() {
      const [width, height] = view.size;
      return { x: width / 2, y: height / 2, width: width / 2, height: height / 2 };
    },
  });
}

// The same with its outline, one loop of points from (0, 0), the box's corner, to (1, 1). By keys there is none.
export function drawOutline(stage, overlay) {
  const line = document.createElementNS(SVG, "polygon");
  const points = [];
  const add = (at) => {
    points.push(at);
    line.setAttribute("points", points.map((point) => point.join(",")).join(" "));
  };
  return drag(stage, overlay, line, {
    begin: add,
    move: add,
    end: () =>
      boxed(
        simplified(points, CLOSE).map((at) => stage.view.toPiece(...at)),
        stage.view.zoom,
      ),
    middle: () => null,
  });
}

function boxed(points, zoom) {
  const [low, high] = [Math.min, Math.max].map((most) =>
    [0, 1].map((axis) => most(...points.map((point) => point[axis]))),
  );
  const [width, height] = [0, 1].map((axis) => high[axis] - low[axis]);
  if (points.length < 3 || width * zoom < LEAST || height * zoom < LEAST) return null;
  const outline = [
    points.map(([x, y]) =>
      [(x - low[0]) / width, (y - low[1]) / height].map((one) => Math.round(one * 1e5) / 1e5),
    ),
  ];
  return { x: (low[0] + high[0]) / 2, y: (low[1] + high[1]) / 2, width, height, outline };
}

// Fewer points by Ramer's and by Douglas and Peucker's rule: those that stand out most stay.
function simplified(points, close) {
  if (points.length < 3) return points;
  const [a, b] = [points[0], points.at(-1)];
  const far = points.map((point) => away(point, a, b));
  const most = Math.max(...far);
  if (most <= close) return [a, b];
  const at = far.indexOf(most);
  return [
    ...simplified(points.slice(0, at + 1), close).slice(0, -1),
    ...simplified(points.slice(at), close),
  ];
}

function away([x, y], [x0, y0], [x1, y1]) {
  const [dx, dy] = [x1 - x0, y1 - y0];
  const square = dx * dx + dy * dy;
  const along = square ? Math.min(Math.max(((x - x0) * dx + (y - y0) * dy) / square, 0), 1) : 0;
  return Math.hypot(x - x0 - along * dx, y - y0 - along * dy);
}
