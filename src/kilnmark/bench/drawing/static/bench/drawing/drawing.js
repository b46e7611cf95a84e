// Drawing by hand on the piece, as long as it goes on: with a mouse, a pen, a finger, or by keys. Each stroke is under the hand at
// once, and stored when the pen is lifted.

import { post } from "../../kilnmark/api.js";
import { make, put } from "../hands/svg.js";
import { hear, say } from "../events.js";
import { store } from "../store.js";
import { asStroke, brush, takeTip } from "./brush.js";
import { DrawingKeys } from "./drawing_keys.js";
import { edgesOf, stuck } from "./edge.js";
import { Footprint } from "./footprint.js";
import { LiveStroke } from "./live_stroke.js";
import { Overlay } from "./overlay.js";
import { Space } from "./space.js";
import { levelsOf } from "./tips.js";

const CLICK = 5; // px: less is no drag
const MM = 25.4;
const WAITS = "What you changed still waits to be saved. Scrape the edges when it is.";
const NO_EDGE = "There is no edge there to go along.";

const newSeed = () => crypto.getRandomValues(new Uint32Array(1))[0] >>> 1;

export class Drawing {
  constructor(stage, session) {
    Object.assign(this, { stage, session, held: null, live: null, at: null, edges: null });
    this.overlay = new Overlay(stage, session);
    this.pad = document.getElementById("hand");
    this.ring = this.pad.querySelector("svg");
    this.footprint = new Footprint(this.pad.querySelector("canvas"));
    this.keys = new DrawingKeys(this);
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
      this.overlay.begin(this.end, this.held.bends);
      this.live.drawAgain();
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
  }

  place({ clientX, clientY }) {
    const { left, top } = this.pad.getBoundingClientRect();
    return [clientX - left, clientY - top];
  }

  // Where the tip is: at first in the middle.
  place0() {
    const { width, height } = this.stage.view.box;
    return this.at ?? [width / 2, height / 2];
  }

  press(event) {
    if (event.button || store.handles.panning || this.live) return;
    event.preventDefault();
    event.stopPropagation();
    this.pad.setPointerCapture(event.pointerId);
    this.pad.focus({ preventScroll: true });
    this.at = this.place(event);
    if (brush.line) return void this.beginLine();
    this.pressed = true;
    this.down(pressureOf(event)).then(() => this.pressed || this.lift());
  }

  // What is drawn before the tip is known waits for it.
  async down(pressure = 1) {
    if (this.waiting) return;
    this.waiting = [[this.at, pressure]];
    const levels = this.levels?.tip === brush.tip ? this.levels.found : await this.tipLevels();
    const { waiting } = this;
    this.waiting = null;
    if (!this.held) return;
    if (!levels && brush.tip.startsWith("own-")) this.missTip();
    const told = asStroke(store.page.ppi, this.space.frame.unit, { seed: newSeed() });
    if (pressure !== 1) Object.assign(told, { thins: 0.7, eases: 0.4 });
    this.overlay.begin(this.end, this.held.bends);
    this.live = new LiveStroke(this.stage, this.space, this.overlay, told, levels ?? null);
    this.draw(waiting);
    if (!told.follows) this.live.dot();
  }

  missTip() {
    takeTip("", {});
    say("brush-moved");
    say("trouble-told", {
      message: "This tip cannot be had now. The soft round one is in the hand.",
    });
  }

  async tipLevels() {
    const { tip } = brush;
    const found = await levelsOf(tip);
    this.levels = { tip, found };
    return found;
  }

  // Places of the stage, each [at, pressure].
  draw(places) {
    if (this.waiting) this.waiting.push(...places);
    else this.live?.draw(places.map(([at, one]) => [this.stuckTo(this.space.own(at)), one]));
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
    if (this.keys.sizing) return void this.keys.size(at);
    const events = event.getCoalescedEvents?.() ?? [];
    this.at = at;
    this.draw((events.length ? events : [event]).map((one) => [this.place(one), pressureOf(one)]));
    this.showTip();
  }

  // By keys.
  moveTo(at) {
    this.at = at;
    this.draw([[at, 1]]);
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
    if (live.way.told.follows) live.dot();
    this.live = null;
    if (live.stroke) this.store([{ op: "add_stroke", path: this.held.path, stroke: live.stroke }]);
  }

  store(edits, label = null) {
    const { path, name } = this.held;
    const hides = brush.back ? "Brought back" : "Hidden";
    const told = label ?? (path.at(-1) === "art" ? "Drawn" : name === "touch" ? hides : "Laid on");
    return this.session.change(edits, `${told} by hand`, { stroke: true });
  }

  // The tip down, and lifted again, by keys.
  toggle() {
    this.at = this.place0();
    if (brush.line && this.line) this.scratchTo(this.at);
    else if (brush.line) this.beginLine();
    else if (this.live) this.lift();
    else this.down();
    this.showTip();
  }

  escape() {
    if (this.line) this.line = null;
    else if (this.live) this.lift();
    else return void this.stop();
    this.showTip();
  }

  // --- scratches, and strokes along edges ---

  beginLine() {
    this.line ??= { from: this.at }; // a second click ends it
  }

  endLine(to) {
    const { from, clicked } = this.line;
    const far = Math.hypot(to[0] - from[0], to[1] - from[1]);
    if (far < CLICK && !clicked) this.line.clicked = true;
    else this.scratchTo(to);
  }

  scratchTo(to) {
    const [start, end] = [this.line.from, to].map((at) => this.space.own(at));
    this.line = null;
    this.showTip();
    this.scratch({ op: "add_scratch", start, end });
  }

  // Several over the part, as many as `count`.
  scratches(count) {
    const { part } = this.held;
    const box = this.session.snapshot.boxes[part] ?? store.page;
    const across = [box.width, box.height].map((one) => one / this.space.frame.unit);
    this.scratch({ op: "add_scratches", across, count });
  }

  scratch(edit) {
    const brush_ = asStroke(store.page.ppi, this.space.frame.unit);
    const told = { width: 2 * brush_.radius, back: brush_.back, strength: brush_.strength };
    this.store([{ ...edit, ...told, path: this.held.path, seed: newSeed() }], "Scratched");
  }

  // Strokes that the server lays along the edges of the part as it is stored.
  async scrape(side) {
    await this.tipLevels();
    if (!(await this.session.settled()) || !this.held)
      return void say("trouble-told", { message: WAITS });
    const { part, path } = this.held;
    const told = asStroke(store.page.ppi, this.space.frame.unit);
    const asked = { version: this.session.version, part, brush: told, seed: newSeed(), side };
    const answer = await post(`${this.session.base}scrapes/`, asked);
    if (!answer.ok) return void say("trouble-told", { message: answer.message });
    const { strokes } = answer.data;
    if (!strokes.length || !this.held) return void say("trouble-told", { message: NO_EDGE });
    this.store([{ op: "add_strokes", path, strokes }], "Edges scraped");
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
