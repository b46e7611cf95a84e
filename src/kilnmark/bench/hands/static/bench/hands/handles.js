// Crop ticks and a turn arm around what is chosen: drag the body to move it, a corner to scale it, the arm to turn it.
// A frame dragged over marks chooses them.

import { toFlat } from "../../controls/lib/layout.js";
import { hear, say } from "../events.js";
import { choose } from "../store.js";
import { chooseAlso, openArt } from "./choosing.js";
import { CornerDrag } from "./corner_drag.js";
import { EdgeDrag } from "./edge_drag.js";
import { markAt } from "./finding.js";
import { chooseByFrame } from "./framing.js";
import { grips } from "./grips.js";
import { Lifted } from "./lifted.js";
import { Marked } from "./marked.js";
import { shapeOf } from "./shape.js";
import { snapped } from "./snapping.js";
import { make, put } from "./svg.js";

const LARGE = 0.5; // of the page
const NEAR = 6; // px of the screen that a guide pulls from
const FAR = 10; // px that an arrow key moves, with Shift
const TURN = 15; // degrees that a turn keeps to, with Shift
const LEAST = 0.02; // of a size that a drag scales
const REST_MS = 350;
const WAYS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };

export class Handles {
  constructor(overlay, stage, session, page) {
    Object.assign(this, { overlay, stage, session, page, target: null, live: null, ring: null });
    this.marked = new Marked(this);
    this.corners = new CornerDrag(this);
    this.edges = new EdgeDrag(this);
    hear("view-moved", () => this.draw());
    hear("piece-told", () => this.settle());
    this.lifted = new Lifted(document.getElementById("lifted"), stage, session);
    overlay.addEventListener("pointerover", (event) => event.target.dataset.grip && this.lift());
    overlay.addEventListener("pointerdown", (event) => this.press(event));
    overlay.addEventListener("keydown", (event) => this.nudge(event));
    overlay.addEventListener("dblclick", (event) => this.open(event));
  }

  // A change was stored: the boxes are the stored ones again, unless a hand is still on them.
  settle() {
    if (!this.dragging && !this.nudging) Object.assign(this, { live: null, ring: null });
    this.marked.settle();
    this.draw();
  }

  // What a hand moved by keys is stored before another thing is held.
  hold(target) {
    this.session.flush();
    Object.assign(this, { target, live: null, ring: null });
    this.draw();
  }

  get box() {
    return this.live ?? this.target?.box;
  }
  get view() {
    return this.stage.view;
  }
  get shape() {
    return shapeOf(this);
  }

  // What has the focus keeps it.
  draw(guides = []) {
    const focused = this.overlay.contains(document.activeElement);
    const { side, corner, edge } = (focused && document.activeElement.dataset) || {};
    if (this.target?.drawsItself) put(this.overlay, this.target.parts(this, make));
    else put(this.overlay, this.box ? grips(this, this.shape, guides) : []);
    this.marked.draw();
    const wanted = side
      ? `[data-side="${side}"]`
      : corner
        ? `[data-corner="${corner}"]`
        : edge
          ? `[data-edge="${edge}"]`
          : focused && ".body";
    if (wanted) this.overlay.querySelector(wanted)?.focus({ preventScroll: true });
  }

  // A place of the stage, as what is chosen lies flat.
  flat({ offsetX, offsetY }) {
    return toFlat(this.target?.laid ?? [], this.view.toPiece(offsetX, offsetY));
  }

  // A grip that would lie off the stage is held at its edge, where a hand can reach it.
  within([x, y]) {
    const { width, height } = this.view.box;
    return [Math.min(Math.max(x, 16), width - 16), Math.min(Math.max(y, 16), height - 16)];
  }

  // A press on a mark that is not chosen chooses it; on the chosen one it begins to drag.
  press(event) {
    if (event.button || this.panning) return;
    this.session.flush();
    const at = this.view.toPiece(event.offsetX, event.offsetY);
    if (event.target.dataset.side) return void this.pressSide(event, at);
    if (event.target.dataset.corner) return void this.corners.press(event);
    if (event.target.dataset.edge) return void this.edges.press(event);
    let grip = event.target.dataset.grip;
    if (!grip || (grip === "move" && (this.target.letsPick || event.shiftKey))) {
      const found = this.find(at);
      if (found && event.shiftKey) return void chooseAlso(found);
      if (!found && (!grip || event.shiftKey)) return void chooseByFrame(this, event, at);
      if (found && found !== this.target?.id && this.covers(found))
        return void chooseByFrame(this, event, at, found);
      if (found && found !== this.target?.id && !this.target?.ids?.includes(found)) choose(found);
      grip = "move";
    }
    if (!this.target || this.target.locked) return;
    this.overlay.querySelector(".body")?.focus({ preventScroll: true });
    const start = { ...this.box };
    this.dragging = true;
    this.lift();
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

  // As a press on it would.
  choose(event) {
    const { left, top } = this.overlay.getBoundingClientRect();
    const found = this.find(this.view.toPiece(event.clientX - left, event.clientY - top));
    if (found) choose(found);
  }

  open(event) {
    const at = this.view.toPiece(event.offsetX, event.offsetY);
    const found = this.find(at);
    if (found && !this.panning) openArt(found, at);
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
          NEAR / this.view.zoom,
          this.target.letsPick ? this.others : [],
        );
    } else if (grip === "scale") {
      const ratio = Math.max(Math.hypot(...arm(to)) / Math.max(Math.hypot(...arm(from)), 1), LEAST);
      Object.assign(box, { width: start.width * ratio, height: start.height * ratio });
    } else {
      const angle = (point) => (Math.atan2(...arm(point).reverse()) * 180) / Math.PI;
      const turn = start.rotation_deg + angle(to) - angle(from);
      box.rotation_deg = event.shiftKey ? Math.round(turn / TURN) * TURN : turn;
    }
    this.put(box, guides);
  }

  // What is held, as a cut-out that can follow a hand at once.
  lift() {
    if (this.target?.lifts && !this.target.locked) this.lifted.lift(this.target.lifts);
  }

  put(box, guides = []) {
    this.live = box;
    this.draw(guides);
    if (this.target.lifts?.length && this.lifted.holds(this.target.lifts))
      this.lifted.raise(this.target.box, box);
    say("values-moved", { path: this.target.path, values: this.target.values(box) });
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

  nudge(event) {
    const step = WAYS[event.key];
    const far = event.shiftKey ? FAR : 1;
    const { side, corner, edge } = event.target.dataset;
    if (side && step) {
      event.preventDefault();
      if (this.target.nudge(side, step, far)) this.draw();
      return;
    }
    if (corner && step) return void this.corners.nudge(event, Number(corner), step);
    if (edge && step) return void this.edges.nudge(event, Number(edge), step);
    if (event.key === "Enter" && this.target?.id)
      return void openArt(this.target.id, event.preventDefault());
    if (!step || event.altKey || event.ctrlKey || !this.target || this.target.locked) return;
    event.preventDefault();
    this.lift();
    this.put({ ...this.box, x: this.box.x + step[0] * far, y: this.box.y + step[1] * far });
    this.soon(() => this.finish());
  }
}
