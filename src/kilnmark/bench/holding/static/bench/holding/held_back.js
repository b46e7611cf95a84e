// What a landing holds back, laid over the stage: while it is asked for, and while one of its controls moves. It is labelled, and
// never what fires.

import { picture } from "../../kilnmark/api.js";
import { hear, say } from "../events.js";
import { chosenLanding, store } from "../store.js";
import { NewestWins, fill } from "../stage/live_picture.js";

const BENCH = Math.random().toString(36).slice(2);
const LINGERS_MS = 1400; // after a control came to rest
const AGAIN_MS = 1000;
const REFUSED = 422;
const HOLDS = ["ranges", "limits", "fade"];

const holds = ({ path }) =>
  Array.isArray(path) &&
  path.includes("landing") &&
  HOLDS.includes(path[path.indexOf("landing") + 1]);

function holdsAnything(landing) {
  const held = landing && [landing.ranges, landing.limits, landing.touch].some((one) => one.length);
  return Boolean(held || landing?.fade);
}

export class HeldBack {
  constructor(stage, session) {
    Object.assign(this, {
      stage,
      session,
      look: "", // "hatched", "grey", or "" for none
      of: "landing", // or "torn", for where a mark folds over itself
      moving: false,
      sequence: 0,
      shown: null,
    });
    this.pictures = new NewestWins(() => this.draw());
    this.canvas = stage.element.querySelector("#held");
    this.label = stage.element.querySelector("[data-held-label]");
    hear("draft-moved", () => this.drafted());
    hear("piece-told", () => this.again());
    hear("view-moved", () => {
      this.place();
      this.again();
    });
    hear("held-wanted", (wanted) => this.wanted(wanted));
    hear("choice-made", () => this.show(""));
  }

  get on() {
    return Boolean(this.look) || this.moving;
  }

  // Asked for once more, it goes.
  wanted({ look = "hatched", of = "landing" }) {
    if (this.look === look && this.of === of) this.show("");
    else if (of === "torn" || holdsAnything(chosenLanding())) this.show(look, of);
  }

  show(look, of = "landing") {
    Object.assign(this, { look, of });
    say("held-told", { look });
    this.again();
  }

  drafted() {
    if (!this.look && this.session.draftEdits.some(holds))
      Object.assign(this, { moving: true, of: "landing" });
    clearTimeout(this.lingering);
    this.again();
  }

  again() {
    if (!this.on) return void this.clear();
    this.pictures.want({});
  }

  clear() {
    this.shown = null;
    this.canvas.hidden = this.label.hidden = true;
  }

  end() {
    this.moving = false;
    this.clear();
  }

  async draw() {
    const { stage, session, look, sequence } = this;
    const { part, step } = store.choice;
    const asked = stage.asked("draft", 1);
    const view = { ...asked.region, scale: asked.zoom * asked.dpr };
    const data = {
      bench: BENCH,
      sequence: sequence + 1,
      version: session.version,
      edits: session.unsaved,
      part,
      step: step === "lands" ? null : step,
      look: look || "hatched",
      of: this.of,
      view,
    };
    this.sequence += 1;
    const answer = await picture(`${session.base}held-back/`, data);
    if (answer.ok && this.on) this.lay(answer.image, asked);
    else if (!this.pictures.overtaken) this.end();
    if (!answer.ok && this.look && answer.status !== REFUSED)
      setTimeout(() => this.again(), AGAIN_MS); // not now: it is asked for still
  }

  lay(image, asked) {
    fill(this.canvas, image);
    this.canvas.hidden = this.label.hidden = false;
    this.canvas.dataset.look = this.look || "hatched";
    this.label.textContent =
      this.of === "torn"
        ? "Hatched: folded over itself · not what fires"
        : this.look === "grey"
          ? "White comes through, black is held back · not what fires"
          : "Hatched: held back · not what fires";
    this.shown = asked;
    this.place();
    clearTimeout(this.lingering);
    if (this.moving)
      this.lingering = setTimeout(() => {
        this.moving = false;
        this.again();
      }, LINGERS_MS); // from when it was seen
  }

  place() {
    if (this.shown) this.stage.placed(this.canvas, this.shown);
  }
}
