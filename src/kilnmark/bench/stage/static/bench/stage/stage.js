// The picture on the stage: a draft while something moves, the exact one when it rests.
// One request is on its way at a time; of those that would wait, only the newest is sent.

import { hear, say } from "../events.js";
import { passes, picture } from "../../kilnmark/api.js";
import { bands, within } from "./bands.js";
import { NewestWins, fill } from "./live_picture.js";
import { View } from "./view.js";

const REST_MS = 160;
const WRITING_MS = 450;
const SLOW_MS = 350; // a draft that takes longer is no longer under the hand; at another resolution nothing is kept yet
const BENCH = Math.random().toString(36).slice(2);
const AGAIN_MS = 2500; // after a picture that was lost on its way

export class Stage {
  constructor(element, session, size) {
    this.element = element;
    this.canvas = element.querySelector("canvas");
    this.session = session;
    this.view = new View(element, size);
    this.sequence = 0;
    this.point = null;
    this.see = null; // the id of the step whose texture is seen over the art
    this.without = null; // what is off while one looks: a step's id, or "treatments"
    this.shown = null;
    this.pictures = new NewestWins(({ quality }, signal) =>
      quality === "exact" ? this.sharpen(signal) : this.sketch(),
    );
    hear("draft-moved", () => this.move());
    hear("piece-told", () => (this.writing ? this.move() : this.rest(0)));
    hear("piece-saving", () => this.tellAgain());
    hear("signed-in", () => this.rest(0));
    hear("choice-made", () => this.show(null));
    new ResizeObserver(() => this.resized()).observe(element);
  }

  resized() {
    if (this.view.fitted) this.view.fit();
    else this.view.settle();
    this.look();
  }

  // The page has another size, document px.
  resize(size) {
    this.view.size = size;
    this.view.fit();
    this.look();
  }

  // What lies behind a piece without a ground: a name, or a colour of its own.
  showBackdrop(backdrop) {
    this.element.dataset.backdrop = backdrop;
    this.canvas.style.setProperty("--backdrop", backdrop.startsWith("#") ? backdrop : "");
  }

  // The view changed: stretch what is there, then draw it anew.
  look() {
    this.place();
    say("view-moved");
    this.move();
  }

  show(point) {
    this.point = point;
    this.tellAgain();
    this.rest(0);
  }

  lookWithout(without) {
    if (this.without === without) return;
    this.without = without;
    this.tellAgain();
    this.rest(0);
  }

  seeThrough(step) {
    if (this.see === step) return;
    this.see = step;
    this.move();
  }

  move() {
    this.tellAgain();
    this.want("draft");
    this.rest(this.writing ? WRITING_MS : REST_MS);
  }

  // Whether words are edited on the piece: the next letter comes soon.
  get writing() {
    return this.element.classList.contains("writing");
  }

  rest(delay) {
    clearTimeout(this.timer);
    this.tellAgain();
    this.timer = setTimeout(() => this.want("exact"), delay);
  }

  // An exact picture is given up as soon as something moves.
  want(quality) {
    return this.pictures.want({ quality, yields: quality === "exact" });
  }

  // A draft, at half its resolution while drafts come too slowly to follow the hand.
  async sketch() {
    const asked = this.asked("draft", this.slow ? 2 : 1);
    if (this.isExact()) return;
    const begun = performance.now();
    const image = await this.fetch(asked, asked.region);
    if (!image || this.isExact()) return;
    this.slow = performance.now() - begun > (this.slow ? SLOW_MS / 3 : SLOW_MS);
    this.lay(image, asked);
    this.tell("draft");
  }

  // The exact picture; of a very large piece one band after another, each laid over the draft.
  async sharpen(signal) {
    const asked = this.asked("exact", 1);
    const parts = bands(asked);
    for (const [done, part] of parts.entries()) {
      const image = await this.fetch(asked, part.region, signal);
      if (!image) return;
      if (parts.length === 1) this.lay(image, asked);
      else this.cover(image, asked, part.below);
      if (done === parts.length - 1) break;
      if (this.pictures.overtaken) return; // something moved meanwhile
      this.tell("sharpening", (done + 1) / parts.length);
    }
    this.slow = false; // the next hand begins where all is ready
    this.tell(asked.unsaved || !this.session.resting ? "draft" : "exact");
  }

  // The exact picture of all this, as it lies in the view, is shown: no draft is laid over it.
  isExact() {
    const { shown, told } = this;
    if (told?.quality !== "exact" || shown.of !== this.meant) return false;
    const now = this.asked("exact", 1);
    return (
      shown.dpr === now.dpr &&
      Object.keys(now.region).every((side) => now.region[side] === shown.region[side])
    );
  }

  async fetch(asked, region, signal) {
    const data = {
      ...asked.data,
      sequence: ++this.sequence,
      view: { ...region, scale: asked.zoom * asked.dpr },
    };
    const answer = await picture(`${this.session.base}stage/`, data, signal);
    if (!answer.ok) return void this.failed(answer, asked);
    return answer.image;
  }

  // What to ask for, on whole pixels of what is drawn, so that a coarse picture does not shift.
  asked(quality, coarse) {
    const { left, top, right, bottom } = this.view.region;
    const { zoom } = this.view;
    const [x, y] = [left, top].map((n) => Math.floor(n / coarse) * coarse);
    const place = {
      left: x,
      top: y,
      width: right - x,
      height: bottom - y,
      zoom,
      dpr: (window.devicePixelRatio || 1) / coarse,
    };
    const edits = this.session.unsaved;
    const data = {
      bench: BENCH,
      version: this.session.version,
      edits,
      quality,
      point: this.point,
      see: this.see,
      without: this.without,
    };
    return {
      ...place,
      region: within(x, y, place.width, place.height, zoom),
      data,
      point: this.point,
      see: this.see,
      without: this.without,
      unsaved: edits.length > 0,
      of: this.meant,
      version: data.version,
    };
  }

  // The finished pixels of a part, whatever is shown: for the linen tester.
  async pixels(region) {
    const data = {
      bench: `${BENCH} tester`,
      version: this.session.version,
      edits: this.session.unsaved,
      quality: "exact",
      point: this.point,
      without: this.without,
    };
    const answer = await picture(`${this.session.base}stage/`, {
      ...data,
      sequence: ++this.sequence,
      view: { ...region, scale: 1 },
    });
    return answer.ok ? answer.image : null;
  }

  // A name for pictures of its own: a newer one is asked for in the place of an older one of the same name.
  named(purpose) {
    return `${BENCH} ${purpose}`;
  }

  // The exact picture of the same part as it is shown, of something else: other data, or another address.
  async beside(more, url = `${this.session.base}stage/`) {
    const asked = this.asked("exact", 1);
    const view = { ...asked.region, scale: asked.zoom * asked.dpr };
    const data = url.endsWith("stage/")
      ? { ...asked.data, bench: `${BENCH} beside`, ...more }
      : { bench: `${BENCH} beside`, ...more };
    const answer = await picture(url, { ...data, sequence: ++this.sequence, view });
    return answer.ok ? { image: answer.image, asked } : null;
  }

  lay(image, asked) {
    this.element.querySelector("#first")?.remove(); // the last picture that was known
    fill(this.canvas, image);
    this.canvas.classList.toggle("clear", image.clear);
    this.shown = asked;
    this.place();
  }

  // A band of the exact picture, `below` the top of the draft, which is stretched to the same pixels first.
  cover(image, asked, below) {
    const size = {
      width: Math.round(asked.width * asked.dpr),
      height: Math.round(asked.height * asked.dpr),
    };
    if (this.canvas.width !== size.width || this.canvas.height !== size.height) {
      const draft = document.createElement("canvas");
      Object.assign(draft, { width: this.canvas.width, height: this.canvas.height });
      draft.getContext("2d").drawImage(this.canvas, 0, 0);
      Object.assign(this.canvas, size);
      this.canvas.getContext("2d").drawImage(draft, 0, 0, size.width, size.height);
    }
    this.canvas.getContext("2d").drawImage(image, 0, Math.round(below * asked.dpr));
    this.shown = asked;
    this.place();
  }

  // All that the picture is to show, now.
  get meant() {
    const {
      session: { version, unsaved },
      point,
      see,
      without,
    } = this;
    return JSON.stringify([version, unsaved, point, see, without]);
  }

  // A picture of an older state is told as one that is behind, until a newer one lies there.
  tell(quality, share = 0) {
    const { of, version, point, see, without } = this.shown;
    const now = of === this.meant ? quality : "behind";
    this.told = { quality, share };
    this.element.dataset.quality = now;
    this.element.dataset.version = version;
    say("picture-told", { quality: now, share, point, see, without });
  }

  tellAgain() {
    if (!this.told) return;
    const now = this.shown.of === this.meant ? this.told.quality : "behind";
    if (now !== this.element.dataset.quality) this.tell(this.told.quality, this.told.share);
  }

  failed(answer, asked) {
    if (answer.aborted || answer.reason === "superseded") return;
    if (answer.reason === "stale") return void this.outdated(asked);
    if (passes(answer)) this.rest(AGAIN_MS);
    say("trouble-told", { message: answer.message, signedOut: answer.signedOut });
  }

  // A change of our own was saved while this picture was asked for: the next one is on its way. Else somebody changed the piece.
  outdated(asked) {
    if (!this.session.queue.length && asked.data.version === this.session.version)
      this.session.renew();
  }

  // Lay the picture where its region is now.
  place() {
    if (this.shown) this.placed(this.canvas, this.shown);
  }

  // A canvas where the region that was asked for is now; how much it is stretched, and its corner.
  placed(canvas, { region, zoom, dpr }) {
    const stretch = this.view.zoom / zoom / dpr;
    const [x, y] = this.view.toStageCorner(region.x, region.y);
    Object.assign(canvas.style, {
      left: `${x}px`,
      top: `${y}px`,
      transform: stretch === 1 ? "" : `scale(${stretch})`,
    });
    return { stretch, corner: [x, y] };
  }
}
