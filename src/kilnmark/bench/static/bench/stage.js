// The picture on the stage: a draft while something moves, the exact one when it rests.
// One request is on its way at a time; of those that would wait, only the newest is sent.

import { picture } from "./api.js";
import { View } from "./view.js";

const REST_MS = 160;
const BENCH = Math.random().toString(36).slice(2);

export class Stage extends EventTarget {
  constructor(element, session, size) {
    super();
    this.element = element;
    this.canvas = element.querySelector("canvas");
    this.session = session;
    this.view = new View(element, size);
    this.sequence = 0;
    this.point = null;
    this.shown = null;
    session.addEventListener("draft", () => this.move());
    session.addEventListener("told", () => this.rest(0));
    new ResizeObserver(() => this.resized()).observe(element);
  }

  resized() {
    if (this.view.fitted) this.view.fit();
    else this.view.settle();
    this.look();
  }

  // The view changed: stretch what is there, then draw it anew.
  look() {
    this.place();
    this.dispatchEvent(new Event("view"));
    this.move();
  }

  show(point) {
    this.point = point;
    this.rest(0);
  }

  move() {
    this.abort?.abort();
    this.wanted = "draft";
    this.send();
    this.rest(REST_MS);
  }

  rest(delay) {
    clearTimeout(this.timer);
    this.timer = setTimeout(() => {
      this.wanted = "exact";
      this.send();
    }, delay);
  }

  async send() {
    if (this.sending || !this.wanted) return;
    const quality = this.wanted;
    this.wanted = null;
    this.sending = true;
    this.abort = quality === "exact" ? new AbortController() : null;
    const asked = this.asked(quality);
    const answer = await picture(`${this.session.base}stage/`, asked.data, this.abort?.signal);
    this.sending = false;
    if (answer.ok) await this.paint(answer.blob, asked, quality);
    else this.failed(answer, asked);
    this.send();
  }

  asked(quality) {
    const { left, top, ...region } = this.view.region;
    const dpr = window.devicePixelRatio || 1;
    const edits = this.session.unsaved;
    const data = { bench: BENCH, sequence: ++this.sequence, version: this.session.version, edits, quality, point: this.point,
      view: { ...region, scale: this.view.zoom * dpr } };
    return { data, region, zoom: this.view.zoom, dpr, point: this.point, unsaved: edits.length > 0 };
  }

  async paint(blob, asked, quality) {
    const image = await createImageBitmap(blob);
    this.canvas.width = image.width;
    this.canvas.height = image.height;
    this.canvas.getContext("2d").drawImage(image, 0, 0);
    this.shown = asked;
    this.canvas.classList.toggle("clear", blob.type === "image/png");
    this.place();
    const newest = !this.wanted && this.session.unsaved.length === 0 && !asked.unsaved;
    this.tell(quality === "exact" && newest ? "exact" : "draft");
  }

  tell(quality) {
    this.element.dataset.quality = quality;
    this.element.dataset.version = this.session.version;
    this.dispatchEvent(new CustomEvent("told", { detail: { quality, point: this.shown.point } }));
  }

  failed(answer, asked) {
    if (answer.aborted || answer.reason === "superseded") return;
    // a change of our own was saved while this picture was asked for: the next one is on its way
    if (answer.reason === "stale" && (this.session.queue.length || asked.data.version !== this.session.version)) return;
    this.session.say("trouble", { message: answer.message, stale: answer.reason === "stale" });
  }

  // Lay the picture where its region is now.
  place() {
    if (!this.shown) return;
    const { region, zoom, dpr } = this.shown;
    const stretch = this.view.zoom / zoom / dpr;
    const [x, y] = this.view.toStageCorner(region.x, region.y);
    Object.assign(this.canvas.style, { left: `${x}px`, top: `${y}px`, transform: stretch === 1 ? "" : `scale(${stretch})` });
  }
}
