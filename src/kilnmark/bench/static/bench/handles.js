// Crop ticks and a turn arm around what is chosen: drag the body to move it, a corner to scale it, the arm to turn it.
// A frame dragged over marks chooses them.

import { around, carried, corners } from "../controls/lib/geometry.js";
import { convex, toFlat, toPiece } from "../controls/lib/projection.js";
import { markAt, marksWithin } from "./finding.js";
import { snapped } from "./snapping.js";

const SVG = "http://www.w3.org/2000/svg";
const TICK = 18;
const GAP = 7;
const ARM = 46;
const LARGE = 0.5; // of the page
const LEAST_FRAME = 4; // px of the screen: less is a click
const CORNERS = ["Upper left", "Upper right", "Lower right", "Lower left"];
const REST_MS = 350;
const SIDE_POINTS = 12; // of a side that may be bent
const CROSSED =
  "Four corners must go round in order, and these cross. The last corners were kept. Drag this corner back to its own side.";

const make = (name, attributes) => {
  const element = document.createElementNS(SVG, name);
  for (const [key, value] of Object.entries(attributes)) element.setAttribute(key, value);
  return element;
};

// What is drawn, in the place of what was. What is of the same sort stays the same element: a press that began on it ends on it, and
// two make a double-click.
function put(overlay, wanted) {
  const there = [...overlay.children];
  const alike = (fresh) =>
    there.findIndex(
      (one) =>
        one.tagName === fresh.tagName && one.getAttribute("class") === fresh.getAttribute("class"),
    );
  const shown = wanted.map((fresh) => {
    const at = alike(fresh);
    return at < 0 ? fresh : become(there.splice(at, 1)[0], fresh);
  });
  for (const rest of there) rest.remove();
  let next = overlay.firstElementChild;
  for (const one of shown) {
    if (one === next) next = next.nextElementSibling;
    else overlay.insertBefore(one, next);
  }
}

// A style that is set by its attribute would breach the policy.
function become(element, fresh) {
  for (const { name } of Array.from(element.attributes))
    if (name !== "style" && !fresh.hasAttribute(name)) element.removeAttribute(name);
  for (const { name, value } of fresh.attributes)
    if (name !== "style" && element.getAttribute(name) !== value) element.setAttribute(name, value);
  element.style.cssText = fresh.style.cssText;
  return element;
}

export class Handles {
  constructor(overlay, stage, session, page) {
    Object.assign(this, { overlay, stage, session, page, target: null, live: null, ring: null });
    stage.addEventListener("view", () => this.draw());
    session.addEventListener("told", () => this.settle());
    overlay.addEventListener("pointerdown", (event) => this.press(event));
    overlay.addEventListener("keydown", (event) => this.nudge(event));
    overlay.addEventListener("dblclick", (event) => this.open(event));
  }

  // A change was stored: the boxes are the stored ones again, unless a hand is still on them.
  settle() {
    if (!this.dragging && !this.nudging) Object.assign(this, { live: null, ring: null });
    this.draw();
  }

  // What a hand moved by keys is stored before another thing is held.
  hold(target) {
    this.session.flush();
    Object.assign(this, { target, live: null, ring: null });
    this.draw();
  }

  // A place on the piece, [x, y, width, height], hatched until the next press, key or change.
  mark([x, y, width, height]) {
    this.overlay.querySelector(".marked")?.remove();
    const points = corners({ x: x + width / 2, y: y + height / 2, width, height, rotation_deg: 0 });
    const shown = make("polygon", {
      class: "marked",
      points: points.map((point) => this.stage.view.toStage(...point)).join(" "),
    });
    this.overlay.append(shown);
    const clear = () => shown.remove();
    for (const name of ["pointerdown", "keydown"])
      document.addEventListener(name, clear, { once: true, capture: true });
  }

  get box() {
    return this.live ?? this.target?.box;
  }

  draw(guides = []) {
    const focused = this.overlay.contains(document.activeElement);
    const { side, corner } = (focused && document.activeElement.dataset) || {};
    if (this.target?.drawsItself) {
      put(this.overlay, this.target.parts(this, make));
      if (side) this.overlay.querySelector(`[data-side="${side}"]`)?.focus({ preventScroll: true });
      return;
    }
    if (!this.box) return void put(this.overlay, []);
    const shape = this.shape();
    const points = shape.ring.map(([x, y]) => this.stage.view.toStage(x, y));
    const edge = shape.outline.map(([x, y]) => this.stage.view.toStage(x, y)).join(" ");
    const body = make("polygon", {
      class: "body",
      points: edge,
      tabindex: 0,
      role: "group",
      "data-grip": "move",
      "aria-label": `${this.target.name}: drag to move, or use the arrow keys`,
    });
    if (this.target.leftOut) body.style.fill = "url(#unseen)";
    const bent =
      shape.outline.length > 4 || this.target.byCorners
        ? [make("polygon", { class: shape.crossed ? "laid crossed" : "laid", points: edge })]
        : [];
    const grips = this.target.byCorners ? this.corners(points) : this.ticks(points);
    put(this.overlay, [
      ...guides.flatMap((guide) => this.guide(guide)),
      ...this.outlines(),
      ...bent,
      body,
      ...grips,
      ...(this.target.locked ? [] : this.arm(points)),
    ]);
    if (corner)
      this.overlay.querySelector(`[data-corner="${corner}"]`)?.focus({ preventScroll: true });
    else if (focused) this.overlay.querySelector(".body").focus({ preventScroll: true });
  }

  // What is drawn around what is chosen, on the piece: its four corners, and the points along its sides where they may be bent.
  shape() {
    const { box, live, target, ring } = this;
    const laid = target.laid ?? [];
    if (ring) return { ring, outline: ring, crossed: !convex(ring) };
    if (box.outline?.length) {
      if (!live) return box;
      const go = (points) =>
        carried(
          points.map((point) => toFlat(laid, point)),
          target.box,
          live,
        ).map((point) => toPiece(laid, point));
      return { ring: go(box.ring), outline: go(box.outline) };
    }
    const flat = corners(box);
    if (!laid.length) return { ring: flat, outline: flat };
    const along = flat.flatMap(([x, y], n) => {
      const [u, v] = flat[(n + 1) % 4];
      return Array.from({ length: SIDE_POINTS }, (_, k) => [
        x + ((u - x) * k) / SIDE_POINTS,
        y + ((v - y) * k) / SIDE_POINTS,
      ]);
    });
    return {
      ring: flat.map((point) => toPiece(laid, point)),
      outline: along.map((point) => toPiece(laid, point)),
    };
  }

  // A place of the stage, as what is chosen lies flat.
  flat({ offsetX, offsetY }) {
    return toFlat(this.target?.laid ?? [], this.stage.view.toPiece(offsetX, offsetY));
  }

  // The four corners of a plane, each dragged by itself.
  corners(points) {
    return points.map((point, n) => {
      const [cx, cy] = this.within(point);
      return make("circle", {
        class: "corner",
        cx,
        cy,
        r: 8,
        tabindex: 0,
        role: "button",
        "data-corner": n,
        "aria-label": `${CORNERS[n]} corner: drag it, or use the arrow keys`,
      });
    });
  }

  // Of several: each one's own box; while they are dragged, where it will be, at once, however many there are.
  outlines() {
    const { live, target } = this;
    const shown = (target.parts ?? []).map((part) =>
      live ? carried(around(part), target.box, live) : around(part),
    );
    return shown.map((points) =>
      make("polygon", {
        class: "found",
        points: points.map(([x, y]) => this.stage.view.toStage(x, y)).join(" "),
      }),
    );
  }

  ticks(points) {
    const middle = points.reduce(([x, y], p) => [x + p[0] / 4, y + p[1] / 4], [0, 0]);
    return points.flatMap((point, n) => {
      const sides = [points[(n + 1) % 4], points[(n + 3) % 4]].map((other) => unit(point, other));
      const out = [-(sides[0][0] + sides[1][0]) * GAP, -(sides[0][1] + sides[1][1]) * GAP];
      const at = this.within([point[0] + out[0], point[1] + out[1]]);
      const path = `M${at[0] + sides[0][0] * TICK} ${at[1] + sides[0][1] * TICK}L${at}L${at[0] + sides[1][0] * TICK} ${at[1] + sides[1][1] * TICK}`;
      const slant =
        (point[0] - middle[0]) * (point[1] - middle[1]) > 0 ? "nwse-resize" : "nesw-resize";
      const grip = make("circle", {
        class: "grip",
        cx: at[0],
        cy: at[1],
        r: 15,
        "data-grip": "scale",
      });
      grip.style.cursor = slant;
      return [
        make("path", { class: "tick-back", d: path }),
        make("path", { class: "tick", d: path }),
        grip,
      ];
    });
  }

  arm(points) {
    const foot = [(points[0][0] + points[1][0]) / 2, (points[0][1] + points[1][1]) / 2];
    const up = unit([(points[2][0] + points[3][0]) / 2, (points[2][1] + points[3][1]) / 2], foot);
    const start = [foot[0] + up[0] * GAP, foot[1] + up[1] * GAP];
    const end = this.within([foot[0] + up[0] * ARM, foot[1] + up[1] * ARM]);
    const line = { x1: start[0], y1: start[1], x2: end[0], y2: end[1] };
    return [
      make("line", { class: "arm-back", ...line }),
      make("line", { class: "arm", ...line }),
      make("circle", { class: "knob", cx: end[0], cy: end[1], r: 8, "data-grip": "turn" }),
    ];
  }

  // A grip that would lie off the stage is held at its edge, where a hand can reach it.
  within([x, y]) {
    const { width, height } = this.stage.view.box;
    return [Math.min(Math.max(x, 16), width - 16), Math.min(Math.max(y, 16), height - 16)];
  }

  guide({ axis, at, from, to, across }) {
    if (across !== undefined) return this.gap(axis, from, to, across);
    const [x, y] = this.stage.view.toStage(at, at);
    const line =
      axis === "x" ? { x1: x, x2: x, y1: 0, y2: 9999 } : { y1: y, y2: y, x1: 0, x2: 9999 };
    return [
      make("line", { class: "guide-back", ...line }),
      make("line", { class: "guide", ...line }),
    ];
  }

  gap(axis, from, to, across) {
    const ends =
      axis === "x"
        ? [
            [from, across],
            [to, across],
          ]
        : [
            [across, from],
            [across, to],
          ];
    const [[x1, y1], [x2, y2]] = ends.map(([x, y]) => this.stage.view.toStage(x, y));
    return [
      make("line", { class: "guide-back", x1, y1, x2, y2 }),
      make("line", { class: "guide gap", x1, y1, x2, y2 }),
    ];
  }

  // A press on a mark that is not chosen chooses it; on the chosen one it begins to drag.
  press(event) {
    if (event.button || this.panning) return;
    this.session.flush();
    const at = this.stage.view.toPiece(event.offsetX, event.offsetY);
    if (event.target.dataset.side) return void this.pressSide(event, at);
    if (event.target.dataset.corner) return void this.pressCorner(event);
    let grip = event.target.dataset.grip;
    if (!grip || (grip === "move" && (this.target.letsPick || event.shiftKey))) {
      const found = this.find(at);
      if (found && event.shiftKey) return void this.onadd(found);
      if (!found && (!grip || event.shiftKey)) return void this.frame(event, at);
      if (found && found !== this.target?.id && this.covers(found))
        return void this.frame(event, at, found);
      if (found && found !== this.target?.id && !this.target?.ids?.includes(found))
        this.onpick(found);
      grip = "move";
    }
    if (!this.target || this.target.locked) return;
    this.overlay.querySelector(".body")?.focus({ preventScroll: true });
    const start = { ...this.box };
    this.dragging = true;
    const from = this.flat(event);
    const drag = (moved) => this.drag(grip, start, from, this.flat(moved), moved);
    this.follow(event, drag, () => {
      this.dragging = false;
      this.finish();
    });
  }

  // A side of the page.
  pressSide(event, from) {
    const { target, stage } = this;
    const { side } = event.target.dataset;
    event.target.focus({ preventScroll: true });
    this.follow(
      event,
      (moved) => {
        target.drag(side, from, stage.view.toPiece(moved.offsetX, moved.offsetY));
        this.draw();
      },
      () => target.store(),
    );
  }

  // One corner of a plane: while the four go round in order it is drawn so, else it is only shown where they cross.
  pressCorner(event) {
    const corner = Number(event.target.dataset.corner);
    event.target.focus({ preventScroll: true });
    const [x, y] = this.stage.view.toPiece(event.offsetX, event.offsetY);
    const ring = [...this.shape().ring];
    const from = ring[corner];
    this.dragging = true;
    this.follow(
      event,
      (moved) => {
        const to = this.stage.view.toPiece(moved.offsetX, moved.offsetY);
        this.putCorner(ring, corner, [from[0] + to[0] - x, from[1] + to[1] - y]);
      },
      () => {
        this.dragging = false;
        this.finishCorners();
      },
    );
  }

  putCorner(ring, corner, point) {
    this.ring = ring.with(corner, point);
    this.draw();
    if (convex(this.ring)) this.session.draft(this.target.cornered(this.ring));
  }

  finishCorners() {
    const { ring } = this;
    if (!ring) return;
    if (convex(ring))
      return void this.session
        .change(this.target.cornered(ring), "Corner dragged", { reload: true })
        .then(() => this.settle());
    this.ring = null;
    this.session.dropDraft();
    this.session.say("trouble", { message: CROSSED });
    this.draw();
  }

  // While the button is down.
  follow(event, moved, ended) {
    this.overlay.setPointerCapture(event.pointerId);
    const end = (last) => {
      for (const [name, act] of [
        ["pointermove", moved],
        ["pointerup", end],
        ["pointercancel", end],
      ])
        this.overlay.removeEventListener(name, act);
      ended(last);
    };
    for (const [name, act] of [
      ["pointermove", moved],
      ["pointerup", end],
      ["pointercancel", end],
    ])
      this.overlay.addEventListener(name, act);
  }

  // A mark that fills most of the page, as a border does, lies behind every press: dragging begins a frame, a click chooses it.
  covers(id) {
    const { width, height } = this.session.snapshot.boxes[id];
    return (
      !this.target?.ids?.includes(id) && width * height > LARGE * this.page.width * this.page.height
    );
  }

  // A frame dragged over marks chooses those that it touches; with Shift, those too. clicked : what a click chooses instead.
  frame(event, [x, y], clicked = null) {
    const start = [event.offsetX, event.offsetY];
    const box = make("rect", { class: "choosing" });
    this.overlay.append(box);
    const rest = event.shiftKey ? (this.target?.ids ?? [this.target?.id].filter(Boolean)) : [];
    const draw = (moved) => {
      const [left, top] = [Math.min(start[0], moved.offsetX), Math.min(start[1], moved.offsetY)];
      const size = {
        width: Math.abs(moved.offsetX - start[0]),
        height: Math.abs(moved.offsetY - start[1]),
      };
      for (const [name, value] of Object.entries({ x: left, y: top, ...size }))
        box.setAttribute(name, value);
    };
    this.follow(event, draw, (last) => {
      box.remove();
      if (Math.hypot(last.offsetX - start[0], last.offsetY - start[1]) < LEAST_FRAME)
        return void (clicked && this.onpick(clicked));
      const [toX, toY] = this.stage.view.toPiece(last.offsetX, last.offsetY);
      const frame = {
        left: Math.min(x, toX),
        right: Math.max(x, toX),
        top: Math.min(y, toY),
        bottom: Math.max(y, toY),
      };
      const found = marksWithin(this.session, frame).filter((id) => id !== clicked);
      if (found.length) this.onseveral([...new Set([...rest, ...found])]);
    });
  }

  // As a press on it would.
  choose(event) {
    const { left, top } = this.overlay.getBoundingClientRect();
    const found = this.find(this.stage.view.toPiece(event.clientX - left, event.clientY - top));
    if (found) this.onpick(found);
  }

  open(event) {
    const at = this.stage.view.toPiece(event.offsetX, event.offsetY);
    const found = this.find(at);
    if (found && !this.panning) this.onopen?.(found, at);
  }

  find(at) {
    return markAt(this.session, at, this.target?.id);
  }

  // What stays while this is dragged: all that is not within it, nor around it.
  get others() {
    const { session, target } = this;
    const moving = new Set(target.ids ?? [target.id]);
    const beside =
      session.groupsAround(target.id ?? target.ids?.[0]).at(-1)?.members ?? session.document.stack;
    return beside
      .filter((item) => !moving.has(item.id) && !item.left_out)
      .map((item) => session.snapshot.boxes[item.id]);
  }

  drag(grip, start, from, to, event) {
    const arm = (point) => [point[0] - start.x, point[1] - start.y];
    const box = { ...start };
    let guides = [];
    if (grip === "move") {
      Object.assign(box, { x: start.x + to[0] - from[0], y: start.y + to[1] - from[1] });
      if (!event.altKey && !box.outline?.length && !this.target.laid?.length)
        guides = snapped(
          box,
          this.page,
          6 / this.stage.view.zoom,
          this.target.letsPick ? this.others : [],
        );
    } else if (grip === "scale") {
      const ratio = Math.max(Math.hypot(...arm(to)) / Math.max(Math.hypot(...arm(from)), 1), 0.02);
      Object.assign(box, { width: start.width * ratio, height: start.height * ratio });
    } else {
      const angle = (point) => (Math.atan2(...arm(point).reverse()) * 180) / Math.PI;
      const turn = start.rotation_deg + angle(to) - angle(from);
      box.rotation_deg = event.shiftKey ? Math.round(turn / 15) * 15 : turn;
    }
    this.put(box, guides);
  }

  put(box, guides = []) {
    this.live = box;
    this.draw(guides);
    this.onvalues?.(this.target.path, this.target.values(box));
    this.session.draft(this.target.edits(box));
  }

  // Stored when the keys rest, or before anything else is done.
  soon(work) {
    this.nudging = true;
    this.session.later(
      () => {
        this.nudging = false;
        work();
      },
      REST_MS,
      "handles",
    );
  }

  finish() {
    if (!this.live) return;
    const edits = this.target.edits(this.live);
    this.draw();
    this.session.change(edits, this.target.label);
  }

  nudgeCorner(event, corner, step) {
    event.preventDefault();
    const far = event.shiftKey ? 10 : 1;
    const ring = [...this.shape().ring];
    this.putCorner(ring, corner, [
      ring[corner][0] + step[0] * far,
      ring[corner][1] + step[1] * far,
    ]);
    this.soon(() => this.finishCorners());
  }

  nudge(event) {
    const step = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[
      event.key
    ];
    const { side } = event.target.dataset;
    if (side && step) {
      event.preventDefault();
      if (this.target.nudge(side, step, event.shiftKey ? 10 : 1)) this.draw();
      return;
    }
    const { corner } = event.target.dataset;
    if (corner && step) return void this.nudgeCorner(event, Number(corner), step);
    if (event.key === "Enter" && this.target?.id)
      return void this.onopen?.(this.target.id, event.preventDefault());
    if (!step || event.altKey || event.ctrlKey || !this.target || this.target.locked) return;
    event.preventDefault();
    const far = event.shiftKey ? 10 : 1;
    this.put({ ...this.box, x: this.box.x + step[0] * far, y: this.box.y + step[1] * far });
    this.soon(() => this.finish());
  }
}

function unit(from, to) {
  const [dx, dy] = [to[0] - from[0], to[1] - from[1]];
  const length = Math.hypot(dx, dy) || 1;
  return [dx / length, dy / length];
}
