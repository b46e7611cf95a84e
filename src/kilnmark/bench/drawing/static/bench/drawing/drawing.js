// Drawing by hand on the piece, as long as it goes on: with a mouse, a pen, a finger, or by keys. Each stroke is under the hand at
// once, and stored when the pen is lifted.

import { post } from "../../kilnmark/api.js";
import { make, put } from "../hands/svg.js";
import { hear, say } from "../events.js";
import { store } from "../store.js";
import { LEAST_MM, MOST_MM, asStroke, brush, hold, takeTip } from "./brush.js";
import { Covering } from "./covering.js";
import { Way } from "./dabs.js";
import { edgesOf, stuck } from "./edge.js";
import { Footprint } from "./footprint.js";
import { Overlay } from "./overlay.js";
import { Space } from "./space.js";
import { levelsOf } from "./tips.js";

const WAYS = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] };
const NUDGE = 4; // px of the screen that an arrow key moves the tip, with Shift five times as many
const SIZING = 0.01; // of its size that the tip grows with a px, while S is held
const CLICK = 5; // px: less is no drag
const MM = 25.4;

const newSeed = () => crypto.getRandomValues(new Uint32Array(1))[0] >>> 1;

export class Drawing {
  constructor(stage, session) {
    Object.assign(this, { stage, session, held: null, live: null, at: null, edges: null });
    this.overlay = new Overlay(stage, session);
    this.pad = document.getElementById("hand");
    this.ring = this.pad.querySelector("svg");
    this.footprint = new Footprint(this.pad.querySelector("canvas"));
    this.listen();
    hear("view-moved", () => this.again());
    hear("piece-told", (told) => this.told(told));
    hear("picture-told", (told) => this.pictured(told));
    hear("choice-made", () => this.stop());
    hear("brush-moved", () => this.showTip());
  }

  // held : { path, name, part, bends }, of what the strokes are of.
  start(held) {
    if (this.session.at(held.path) === undefined) return;
    Object.assign(this, { held, edges: null });
    this.space = new Space(this.stage, this.session.snapshot.frames[held.part]);
    this.pad.hidden = false;
    this.stage.element.classList.add("by-hand");
    this.again();
    this.showTip();
    say("drawing-told", { path: JSON.stringify(held.path) });
  }

  stop() {
    if (!this.held) return;
    this.lift();
    this.held = null;
    this.pad.hidden = true;
    this.stage.element.classList.remove("by-hand");
    this.overlay.forget();
    say("drawing-told", { path: "" });
  }

  // What the overlay shows is of another view, or of another state.
  again() {
    if (!this.held) return;
    this.lift();
    this.overlay.forget();
    this.stale = true;
    this.showTip();
    setTimeout(() => this.prepare()); // if nothing is to be drawn anew
  }

  // The pictures that the overlay goes between, once the exact picture leaves time for them.
  prepare() {
    if (!this.held || !this.stale || this.live || !this.stage.isExact()) return;
    this.stale = false;
    this.overlay.takeBase();
    const { path, name } = this.held;
    const everything = path.at(-1) === "art" ? this.space.allInView() : undefined;
    this.overlay.prepare(path, name, everything).then((came) => {
      this.stale ||= !came; // asked for again after the next exact picture
    });
  }

  told({ stroke }) {
    if (!this.held) return;
    if (this.session.at(this.held.path) === undefined) return void this.stop();
    this.space = new Space(this.stage, this.session.snapshot.frames[this.held.part]);
    if (!stroke) this.again();
  }

  // A picture came: it lies beneath what the hand draws; once it is exact there is time for the others.
  pictured({ quality }) {
    if (!this.held || quality === "hand") return;
    this.overlay.base = null;
    if (this.live) {
      this.drawAgain();
    } else if (quality === "exact") {
      this.overlay.takeBase();
      this.prepare();
    }
  }

  // What all of it would come to: what a stroke goes towards.
  get end() {
    return brush.back ? "none" : "all";
  }

  listen() {
    const { pad } = this;
    pad.addEventListener("pointerdown", (event) => this.press(event));
    pad.addEventListener("pointermove", (event) => this.move(event));
    for (const name of ["pointerup", "pointercancel"])
      pad.addEventListener(name, (event) => this.release(event));
    pad.addEventListener("pointerleave", () => !this.live && this.showTip(null));
    document.addEventListener("keydown", (event) => this.keyed(event), true);
    document.addEventListener("keyup", (event) => this.unkeyed(event), true);
  }

  place({ clientX, clientY }) {
    const { left, top } = this.pad.getBoundingClientRect();
    return [clientX - left, clientY - top];
  }

  press(event) {
    if (event.button || store.handles.panning || this.live) return;
    event.preventDefault();
    event.stopPropagation();
    this.pad.setPointerCapture(event.pointerId);
    this.pad.focus({ preventScroll: true });
    this.at = this.place(event);
    this.pressed = true;
    if (brush.line) return void this.beginLine();
    this.down(pressureOf(event)).then(() => this.pressed || this.lift());
  }

  async down(pressure = 1) {
    if (this.starting) return;
    this.starting = true;
    const { ppi } = store.page;
    const levels = this.levels?.tip === brush.tip ? this.levels.found : await this.tipLevels();
    this.starting = false;
    if (!this.held) return;
    if (brush.tip && !levels) takeTip("", {}); // thrown away, or nobody answers
    const told = asStroke(ppi, this.space.frame.unit, { seed: newSeed() });
    if (pressure !== null && pressure !== 1) Object.assign(told, { thins: 0.7, eases: 0.4 });
    const { canvas } = this.stage;
    this.overlay.begin(this.end, this.held.bends);
    const way = new Way(told);
    const covering = new Covering(canvas.width, canvas.height, levels, way.told);
    this.live = { way, covering };
    this.draw([[this.at, pressure]]);
    if (!told.follows) this.dot();
  }

  // What was drawn so far lies over another picture now, perhaps of another resolution.
  drawAgain() {
    const { way, covering } = this.live;
    this.overlay.begin(this.end, this.held.bends);
    const { width, height } = this.stage.canvas;
    this.live = {
      way: new Way(way.told),
      covering: new Covering(width, height, covering.levels, way.told),
    };
    for (const [n, at] of way.points.entries())
      for (const one of this.live.way.add(at, way.pressures[n])) this.cover(one);
    if (!way.told.follows) this.dot();
    this.overlay.draw(this.live.covering);
  }

  async tipLevels() {
    const { tip } = brush;
    const found = await levelsOf(tip);
    this.levels = { tip, found };
    return found;
  }

  // Places of the stage, each [at, pressure].
  draw(places) {
    const { way } = this.live;
    for (const [at, pressure] of places) {
      const own = this.stuckTo(this.space.own(at));
      if (own.every(Number.isFinite)) for (const one of way.add(own, pressure)) this.cover(one);
    }
    this.overlay.draw(this.live.covering);
  }

  cover(segment) {
    const { way, covering } = this.live;
    if (covering.levels) {
      for (const dab of way.dabsOn(segment)) covering.stamp(this.space.onPictureDab(dab));
      return;
    }
    const radius = way.radius * this.space.pxOfPicture;
    const radii = segment.pressures.map((one) => radius * (1 - (way.told.thins ?? 0) * (1 - one)));
    covering.sweep(this.space.onPicture(segment.from), this.space.onPicture(segment.to), radii);
  }

  // A stroke that has not gone anywhere yet.
  dot() {
    const { way } = this.live;
    const [at] = way.points;
    if (!at || way.points.length > 1) return;
    this.cover({ from: at, to: at, pressures: [way.pressures[0], way.pressures[0]] });
    this.overlay.draw(this.live.covering);
  }

  stuckTo(own) {
    if (!brush.sticksMm) return own;
    if (!this.edges) {
      this.edges = [];
      edgesOf(this.held.part).then((loops) => {
        this.edges = loops;
      });
    }
    const near = (brush.sticksMm * store.page.ppi) / MM / this.space.frame.unit;
    return stuck(this.edges, own, near);
  }

  move(event) {
    const at = this.place(event);
    if (this.sizing) return void this.size(at);
    const events = event.getCoalescedEvents?.() ?? [];
    this.at = at;
    if (this.line) this.drawLine();
    else if (this.live)
      this.draw(
        (events.length ? events : [event]).map((one) => [this.place(one), pressureOf(one)]),
      );
    this.showTip();
  }

  release(event) {
    this.pressed = false;
    if (this.line && this.pad.hasPointerCapture(event.pointerId)) this.endLine(this.place(event));
    else this.lift();
  }

  // The pen is lifted: what it drew is a change like every other.
  lift() {
    const { live } = this;
    if (!live) return;
    if (live.way.points.length === 1 && live.way.told.follows) this.dot();
    this.live = null;
    if (live.way.points.length) this.store([live.way.stroke]);
  }

  store(strokes, label = null) {
    const { path, name } = this.held;
    const told =
      label ??
      (path.at(-1) === "art"
        ? "Drawn"
        : name === "strokes"
          ? "Laid on"
          : brush.back
            ? "Brought back"
            : "Hidden");
    const edits =
      strokes.length === 1
        ? [{ op: "add_stroke", path, stroke: strokes[0] }]
        : [{ op: "add_strokes", path, strokes }];
    return this.session.change(edits, `${told} by hand`, { stroke: true });
  }

  // --- a scratch from place to place ---

  beginLine() {
    if (this.line) return; // the second click ends it
    this.line = { from: this.at };
  }

  drawLine() {
    this.showTip();
  }

  async endLine(to) {
    const { from } = this.line;
    const far = Math.hypot(to[0] - from[0], to[1] - from[1]);
    if (far < CLICK && !this.line.clicked) {
      this.line.clicked = true;
      return;
    }
    this.line = null;
    this.showTip();
    const [start, end] = [from, to].map((at) => this.space.own(at));
    await this.lay({ what: "scratch", start, end }, "Scratched");
  }

  // Strokes that the server lays by a seed.
  async lay(more, label) {
    await this.tipLevels();
    const { part } = this.held;
    const told = asStroke(store.page.ppi, this.space.frame.unit);
    const asked = { version: this.session.version, part, brush: told, seed: newSeed(), ...more };
    const answer = await post(`${this.session.base}laid/`, asked);
    if (!answer.ok) return void say("trouble-told", { message: answer.message });
    if (!answer.data.strokes.length || !this.held)
      return void say("trouble-told", { message: "There is no edge there to go along." });
    this.store(answer.data.strokes, label);
  }

  // --- by keys ---

  keyed(event) {
    if (!this.held || document.querySelector("dialog[open]")) return;
    const { key, target } = event;
    const typing = target.closest(
      "input:not([type=range], [type=radio], [type=checkbox]), textarea",
    );
    if (key === "Escape" && !typing) return void this.escape(event);
    if (key.toLowerCase() === "s" && !typing && !event.ctrlKey && !event.metaKey) {
      event.preventDefault();
      event.stopPropagation();
      if (!event.repeat) this.sizing = { from: this.at, size: brush.sizeMm };
      return;
    }
    if (target !== this.pad) return;
    const step = WAYS[key];
    if (step) this.nudge(event, step);
    else if (key === " ") this.toggle(event);
    else if (key === "[" || key === "]") this.grow(key === "]" ? 1.15 : 1 / 1.15);
  }

  unkeyed({ key }) {
    if (key.toLowerCase() === "s") this.sizing = null;
  }

  escape(event) {
    event.stopPropagation();
    event.preventDefault();
    if (this.line) this.line = null;
    else if (this.live) this.lift();
    else this.stop();
  }

  nudge(event, [dx, dy]) {
    event.preventDefault();
    event.stopPropagation();
    const far = NUDGE * (event.shiftKey ? 5 : 1);
    const { width, height } = this.stage.view.box;
    const [x, y] = this.at ?? [width / 2, height / 2];
    this.at = [
      Math.min(Math.max(x + dx * far, 0), width),
      Math.min(Math.max(y + dy * far, 0), height),
    ];
    if (this.live) this.draw([[this.at, 1]]);
    this.showTip();
  }

  // Space puts the tip down, and lifts it again.
  toggle(event) {
    event.preventDefault();
    event.stopPropagation();
    if (event.repeat) return;
    const { width, height } = this.stage.view.box;
    this.at ??= [width / 2, height / 2];
    if (this.live) this.lift();
    else this.down();
    this.showTip();
  }

  grow(times) {
    hold({ sizeMm: Math.min(Math.max(brush.sizeMm * times, LEAST_MM), MOST_MM) });
    say("brush-moved");
  }

  // S held and dragged.
  size([x]) {
    const { from, size } = this.sizing;
    const by = Math.exp((x - (from ?? [x])[0]) * SIZING);
    this.sizing.from ??= [x];
    hold({ sizeMm: Math.min(Math.max(size * by, LEAST_MM), MOST_MM) });
    say("brush-moved");
  }

  // --- the tip at the pointer ---

  showTip(at = this.at) {
    if (!this.held) return;
    const radius = (brush.sizeMm * store.page.ppi * this.stage.view.zoom) / MM / 2;
    const shown = [];
    if (at) {
      const circle = { cx: at[0], cy: at[1], r: Math.max(radius, 2) };
      shown.push(make("circle", { class: "ring-back", ...circle }));
      shown.push(make("circle", { class: this.live ? "ring down" : "ring", ...circle }));
    }
    if (this.line && at) {
      const [[x1, y1], [x2, y2]] = [this.line.from, at];
      shown.push(make("line", { class: "ring-back", x1, y1, x2, y2 }));
      shown.push(make("line", { class: "ring", x1, y1, x2, y2 }));
    }
    put(this.ring, shown);
    this.footprint.show(
      this.live ? null : at,
      radius,
      this.levels?.tip === brush.tip && this.levels.found,
    );
    if (this.levels?.tip !== brush.tip) this.tipLevels().then(() => this.showTip());
  }
}

// Of a pen; a mouse and a finger press as hard as can be.
function pressureOf({ pointerType, pressure }) {
  return pointerType === "pen" && pressure > 0 ? pressure : 1;
}
