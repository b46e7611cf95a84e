// What a hand moves is at once under it: the marks as a cut-out over what lies beneath them, until a draft shows them where they are.
// The cut-out still has the colours of where it was; the draft, which follows, has those of where it is.

import { picture } from "../../kilnmark/api.js";
import { hear } from "../events.js";

const BENCH = `lifted ${Math.random().toString(36).slice(2)}`;
const MOST = 12; // marks, as the server takes

export class Lifted {
  constructor(frame, stage, session) {
    const [beneath, cutOut] = frame.querySelectorAll("canvas");
    Object.assign(this, { frame, stage, session, beneath, cutOut, sequence: 0, held: null });
    hear("picture-told", ({ quality }) => quality !== "behind" && this.lower());
    for (const name of ["view-moved", "choice-made"]) hear(name, () => this.drop());
  }

  // Marks that may be moved soon. Of what is not stored yet nothing is asked for.
  async lift(ids) {
    const { session, stage } = this;
    if (!ids?.length || ids.length > MOST || session.queue.length || this.holds(ids)) return;
    if (!this.showsAll) return;
    const asked = stage.asked("draft", 1);
    const held = { ids, version: session.version, asked, image: null };
    this.held = held;
    const answer = await picture(`${session.base}stage/lifted/`, {
      version: held.version,
      view: { ...asked.region, scale: asked.zoom * asked.dpr },
      marks: ids,
      bench: BENCH,
      sequence: ++this.sequence,
    });
    if (this.held !== held) return;
    if (!answer.ok) return void this.drop();
    held.image = answer.image;
    this.fill(answer.image);
  }

  // Whether the stage shows the finished piece: not up to a point, nor without a step, nor with a texture seen over it.
  get showsAll() {
    const { point, see, without } = this.stage;
    return !point && !see && !without;
  }

  holds(ids) {
    const { held } = this;
    return held && held.version === this.session.version && String(held.ids) === String(ids);
  }

  // The upper half lies beneath, the lower one is the cut-out.
  fill(image) {
    const height = image.height / 2;
    for (const [n, canvas] of [this.beneath, this.cutOut].entries()) {
      Object.assign(canvas, { width: image.width, height });
      canvas.getContext("2d").drawImage(image, 0, -n * height);
    }
  }

  // Over the piece, moved from one box to another of the same marks; no boxes, and only what lies beneath is shown.
  raise(from, to) {
    const { held, frame, stage } = this;
    if (!held?.image || !this.showsAll) return;
    const { region, zoom, dpr } = held.asked;
    const stretch = stage.view.zoom / zoom / dpr;
    const [left, top] = stage.view.toStageCorner(region.x, region.y);
    const [width, height] = [this.beneath.width, this.beneath.height].map((n) => n * stretch);
    Object.assign(frame.style, {
      left: `${left}px`,
      top: `${top}px`,
      width: `${width}px`,
      height: `${height}px`,
    });
    this.beneath.style.transform = `scale(${stretch})`;
    this.beneath.classList.toggle("clear", stage.canvas.classList.contains("clear"));
    this.beneath.style.setProperty("--backdrop", stage.canvas.style.getPropertyValue("--backdrop"));
    this.cutOut.hidden = !to;
    if (to) this.cutOut.style.transform = `${this.way(from, to, left, top)} scale(${stretch})`;
    frame.hidden = false;
  }

  // From where the marks lay to where they are, in px of the frame.
  way(from, to, left, top) {
    const { view } = this.stage;
    const [x, y] = view.toStage(from.x, from.y);
    const [nowX, nowY] = view.toStage(to.x, to.y);
    const turn = to.rotation_deg - from.rotation_deg;
    return [
      `translate(${nowX - left}px, ${nowY - top}px)`,
      `rotate(${turn}deg)`,
      `scale(${to.width / from.width})`,
      `translate(${left - x}px, ${top - y}px)`,
    ].join(" ");
  }

  lower() {
    this.frame.hidden = true;
  }

  drop() {
    this.held = null;
    this.lower();
  }
}
