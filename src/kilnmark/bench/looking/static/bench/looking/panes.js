// Pictures of a piece side by side, with one zoom and one place for all of them.

import { picture } from "../../kilnmark/api.js";
import { fill } from "../stage/live_picture.js";
import { View } from "../stage/view.js";

const REST_MS = 90;
const BENCH = Math.random().toString(36).slice(2);
const FAR = 40; // px that an arrow key moves

export class Panes {
  // size : of the piece, px. panes : () -> those that are drawn in. asked : (pane, shown) -> the address and what is sent to it.
  // told : ({ trouble, told, zoomLabel }) what is to be said, as far as it changed. exact : (pane) its exact picture is there.
  constructor(size, panes, asked, told, exact = () => {}) {
    Object.assign(this, { size, panes, asked, told, exact, sequence: 0, timer: 0, view: null });
  }

  // The view lies in what there is to be drawn in.
  begin() {
    const [first] = this.panes();
    if (!first) return;
    this.view = new View(first.querySelector("[data-view]"), this.size);
    this.moved();
  }

  moved() {
    if (!this.view) return;
    this.told({
      zoomLabel: `${Math.round(this.view.zoom * (window.devicePixelRatio || 1) * 100)} %`,
    });
    for (const pane of this.panes()) this.place(pane);
    clearTimeout(this.timer);
    this.timer = setTimeout(() => this.panes().forEach((pane) => this.draw(pane)), REST_MS);
  }

  // The room for them is another one.
  resized() {
    if (!this.view) return;
    if (this.view.fitted) this.view.fit();
    else this.view.settle();
    this.moved();
  }

  // A draft first, and the exact picture when that is there.
  async draw(pane, quality = "draft") {
    const { view } = this;
    if (!view?.box.width) return;
    const dpr = window.devicePixelRatio || 1;
    const { x, y, width, height } = view.region;
    const at = { x, y, zoom: view.zoom };
    this.sequence += 1;
    pane.turn = this.sequence;
    const bench = `${BENCH} ${this.panes().indexOf(pane)}`;
    const { url, sent, key } = this.asked(pane, {
      view: { x, y, width, height, scale: view.zoom * dpr },
      quality,
      bench,
      sequence: this.sequence,
    });
    const turn = this.sequence;
    const answer = await picture(url, sent);
    if (!answer.ok)
      return void (answer.reason === "superseded" || this.told({ trouble: answer.message }));
    if (pane.turn !== turn) return;
    this.told({ trouble: "", told: answer.told });
    fill(pane.querySelector("canvas"), answer.image);
    pane.shown = { ...at, dpr };
    if (sent.quality !== "draft") pane.dataset.drawn = key;
    this.place(pane);
    if (sent.quality === "draft") this.draw(pane, "exact");
    else this.exact(pane);
  }

  place(pane) {
    if (!pane.shown) return;
    const { x, y, zoom, dpr } = pane.shown;
    const [left, top] = this.view.toStageCorner(x, y);
    Object.assign(pane.querySelector("canvas").style, {
      left: `${left}px`,
      top: `${top}px`,
      transform: `scale(${this.view.zoom / zoom / dpr})`,
    });
  }

  // area : what the hand is in, if that is not what listens.
  drag(event, area = event.currentTarget) {
    area.setPointerCapture(event.pointerId);
    const follow = (moved) => {
      this.view.pan(moved.movementX, moved.movementY);
      this.moved();
    };
    area.addEventListener("pointermove", follow);
    area.addEventListener(
      "lostpointercapture",
      () => area.removeEventListener("pointermove", follow),
      { once: true },
    );
  }

  wheel(event, area = event.currentTarget) {
    const { left, top } = area.getBoundingClientRect();
    if (event.ctrlKey)
      this.view.zoomTo(this.view.zoom * 1.0015 ** -event.deltaY, [
        event.clientX - left,
        event.clientY - top,
      ]);
    else this.view.pan(-event.deltaX, -event.deltaY);
    this.moved();
  }

  // Arrows move all of them, other keys zoom: whether it was one of these. digits : whether 0 and 1 zoom too.
  keyed(event, digits = true) {
    if (event.target.matches("select, input") || event.ctrlKey || event.metaKey) return false;
    const way = { ArrowLeft: [1, 0], ArrowRight: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[
      event.key
    ];
    const act = {
      "+": "zoomIn",
      "=": "zoomIn",
      "-": "zoomOut",
      ...(digits ? { 0: "fit", 1: "truePixels" } : {}),
    }[event.key];
    if (!this.view || (!way && !act)) return false;
    event.preventDefault();
    if (act) return (this[act](), true);
    this.view.pan(way[0] * FAR, way[1] * FAR);
    this.moved();
    return true;
  }

  zoom(act) {
    if (!this.view) return;
    act(this.view);
    this.moved();
  }
  zoomIn() {
    this.zoom((view) => view.zoomTo(view.zoom * 1.5));
  }
  zoomOut() {
    this.zoom((view) => view.zoomTo(view.zoom / 1.5));
  }
  fit() {
    this.zoom((view) => view.fit());
  }
  truePixels() {
    this.zoom((view) => view.zoomTo(1 / (window.devicePixelRatio || 1)));
  }
}
