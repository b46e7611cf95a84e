// Drawing by hand on the piece, as long as it goes on: the pad over the stage, what the strokes are of, and the way in which the hand
// draws: freely, by points, from place to place, or taking hold of strokes that are there.

import { make, put } from "../hands/svg.js";
import { hear, say } from "../events.js";
import { store } from "../store.js";
import { asStroke, brush } from "./brush.js";
import { DrawingKeys } from "./drawing_keys.js";
import { edgesOf, stuck } from "./edge.js";
import { Footprint } from "./footprint.js";
import { Freehand } from "./freehand.js";
import { LiveStroke } from "./live_stroke.js";
import { Overlay } from "./overlay.js";
import { Points } from "./points.js";
import { Scratch } from "./scratch.js";
import { newSeed } from "./seeds.js";
import { Space } from "./space.js";
import { StrokeHold } from "./stroke_hold.js";
import { levelsOf } from "./tips.js";

const MM = 25.4;
const LEAST_TILT = 12; // degrees

export class Drawing {
  constructor(stage, session) {
    Object.assign(this, { stage, session, held: null, live: null, at: null, edges: null });
    this.lean = 0; // degrees, of a pen: a rough tip turns with it
    this.overlay = new Overlay(stage, session);
    this.pad = document.getElementById("hand");
    this.ring = this.pad.querySelector("svg");
    this.footprint = new Footprint(this.pad.querySelector("canvas"));
    this.ways = {
      free: new Freehand(this),
      points: new Points(this),
      scratch: new Scratch(this),
      choose: new StrokeHold(this),
    };
    this.keys = new DrawingKeys(this);
    this.listen();
    hear("view-moved", () => this.again());
    hear("piece-told", (told) => this.told(told));
    hear("picture-told", (told) => this.pictured(told));
    hear("choice-made", () => this.stop());
    hear("brush-moved", () => this.brushMoved());
  }

  // How the hand draws now.
  get way() {
    if (this.choosing) return this.ways.choose;
    return brush.line ? this.ways.scratch : (this.ways[brush.way] ?? this.ways.free);
  }

  get hold() {
    return this.ways.choose;
  }

  // held : { path, name, part, bends }, of what the strokes are of. choosing : to take hold of those that are there.
  start(held, { choosing = false } = {}) {
    if (this.session.at(held.path) === undefined) return;
    if (this.held) this.way.finish();
    Object.assign(this, { held, edges: null, choosing });
    this.space = new Space(this.stage, this.session.snapshot.frames[held.part]);
    this.pad.hidden = false;
    this.pad.classList.toggle("choosing", choosing);
    this.stage.element.classList.add("by-hand");
    this.again();
    this.was = this.way;
    this.way.begin();
    this.showTip();
    this.tell();
  }

  tell() {
    const path = this.held ? JSON.stringify(this.held.path) : "";
    say("drawing-told", { path, choosing: Boolean(this.held && this.choosing) });
  }

  stop() {
    if (!this.held) return;
    this.way.finish();
    this.held = null;
    this.choosing = false;
    this.pad.hidden = true;
    this.stage.element.classList.remove("by-hand");
    this.overlay.forget();
    this.tell();
  }

  // What the overlay shows is of another view, or of another state.
  again() {
    if (!this.held) return;
    this.way.viewMoved();
    this.overlay.forget();
    this.stale = true;
    this.showTip();
    setTimeout(() => this.prepare()); // if nothing is to be drawn anew
  }

  // The pictures that the overlay goes between, once the exact picture leaves time for them.
  prepare() {
    const busy = this.choosing || (this.live && !this.way.rests);
    if (!this.held || !this.stale || busy || !this.stage.isExact()) return;
    this.stale = false;
    if (!this.live) this.overlay.takeBase();
    const { path, name } = this.held;
    const everything = path.at(-1) === "art" ? this.space.allInView() : undefined;
    this.overlay.prepare(path, name, everything).then((came) => {
      this.stale ||= !came; // asked for again after the next exact picture
      if (came && this.live && this.way.rests) this.inkAgain();
    });
  }

  // What is drawn by now, over the picture that is there by now.
  inkAgain() {
    this.overlay.begin(this.end, this.held.bends);
    this.live.drawAgain();
  }

  told(told) {
    if (!this.held) return;
    if (this.session.at(this.held.path) === undefined) return void this.stop();
    this.space = new Space(this.stage, this.session.snapshot.frames[this.held.part]);
    if (!told.stroke || told.refused) this.again();
    this.way.told(told);
  }

  // A picture came: it lies beneath what the hand draws; once it is exact there is time for the others.
  pictured({ quality }) {
    if (!this.held || quality === "hand") return;
    this.overlay.base = null;
    if (this.live) this.inkAgain();
    else if (quality === "exact") this.overlay.takeBase();
    if (quality === "exact") this.prepare();
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
      pad.addEventListener(name, (event) => {
        if (this.held) this.way.release(event);
      });
    pad.addEventListener("dblclick", (event) => this.way.twice?.(this.place(event)));
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
    if (event.button || store.handles.panning) return;
    event.preventDefault();
    event.stopPropagation();
    this.pad.setPointerCapture(event.pointerId);
    this.pad.focus({ preventScroll: true });
    this.at = this.place(event);
    this.lean = leanOf(event);
    this.way.press(event);
    this.showTip();
  }

  move(event) {
    const at = this.place(event);
    if (this.keys.sizing) return void this.keys.size(at);
    this.at = at;
    this.lean = leanOf(event);
    this.way.move(event);
    this.showTip();
  }

  // By keys.
  moveTo(at) {
    this.at = at;
    this.way.movedTo(at);
    this.showTip();
  }

  brushMoved() {
    if (!this.held) return;
    if (this.was !== this.way) {
      this.was?.finish();
      this.was = this.way;
    }
    this.way.brushMoved?.();
    this.showTip();
  }

  // Another stroke under the hand, once its tip is known; null of none. pressure : of a pen, 0..1.
  async newLive(pressure = 1) {
    const levels = this.levels?.tip === brush.tip ? this.levels.found : await this.tipLevels();
    if (!this.held) return null;
    if (!levels && brush.tip.startsWith("own-")) this.ways.free.missTip();
    const told = this.inHand({ seed: newSeed(), id: newSeed() });
    if (pressure !== 1) Object.assign(told, { thins: brush.thins, eases: brush.eases });
    if (told.tip) told.turn_deg = (told.turn_deg + this.lean) % 360;
    this.overlay.begin(this.end, this.held.bends);
    return new LiveStroke(this.stage, this.space, this.overlay, told, levels ?? null);
  }

  // What is in the hand, as strokes here are told it.
  inHand(more) {
    return asStroke(store.page.ppi, this.space.frame.unit, more);
  }

  async tipLevels() {
    const { tip } = brush;
    const found = await levelsOf(tip);
    this.levels = { tip, found };
    return found;
  }

  stuckTo(own) {
    if (!brush.sticksMm || this.held.path.at(-1) === "art") return own;
    if (!this.edges) {
      this.edges = [];
      edgesOf(this.held.part).then((loops) => {
        this.edges = loops;
      });
    }
    return stuck(this.edges, own, this.ofMm(brush.sticksMm));
  }

  // In the frame's units.
  ofMm(mm) {
    return (mm * store.page.ppi) / MM / this.space.frame.unit;
  }
  inMm(units) {
    return (units * this.space.frame.unit * MM) / store.page.ppi;
  }

  // A stroke that is lifted is a change like every other.
  keep({ stroke }) {
    const { path } = this.held;
    if (stroke) this.store([{ op: "add_stroke", path, stroke }]);
  }

  store(edits, label = null, options = {}) {
    const { path, name } = this.held;
    const hides = brush.back ? "Brought back" : "Hidden";
    const told = label ?? (path.at(-1) === "art" ? "Drawn" : name === "touch" ? hides : "Laid on");
    return this.session.change(edits, `${told} by hand`, { stroke: true, ...options });
  }

  // The tip down, and lifted again, by keys.
  toggle(corner) {
    this.at = this.place0();
    this.way.toggle(corner);
    this.showTip();
  }

  escape() {
    if (!this.way.escape()) this.stop();
    this.showTip();
  }

  // The tip at the pointer, and what the way of drawing shows.
  showTip(at = this.at) {
    if (!this.held) return;
    const radius = (brush.sizeMm * store.page.ppi * this.stage.view.zoom) / MM / 2;
    const shown = this.way.shapes(at);
    if (at && !this.choosing) {
      const circle = { cx: at[0], cy: at[1], r: Math.max(radius, 2) };
      shown.push(make("circle", { class: "ring-back", ...circle }));
      shown.push(make("circle", { class: this.live ? "ring down" : "ring", ...circle }));
    }
    put(this.ring, shown);
    const levels = this.levels?.tip === brush.tip && this.levels.found;
    this.footprint.show(this.live || this.choosing ? null : at, radius, levels, this.lean);
    if (this.levels?.tip !== brush.tip) this.tipLevels().then(() => this.showTip());
  }
}

// The way that a pen leans as it comes down, degrees clockwise from the right; 0 of one that stands upright, and of all else.
function leanOf({ pointerType, tiltX = 0, tiltY = 0 }) {
  if (pointerType !== "pen" || Math.hypot(tiltX, tiltY) < LEAST_TILT) return 0;
  const [x, y] = [tiltX, tiltY].map((one) => Math.tan((one * Math.PI) / 180));
  return (Math.atan2(y, x) * 180) / Math.PI;
}
