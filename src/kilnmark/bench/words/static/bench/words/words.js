// Words edited on the piece: a field laid over them, set as they are, in which only the caret and what is selected show.
// What is typed is drawn beneath it and goes into the line at once, one state for one visit. Escape, Ctrl and Enter, or a click
// elsewhere, ends it.

import { hear, say } from "../events.js";
import { newVisit } from "../../controls/lib/visits.js";

const ASCENT = 0.8; // of every face, so that the browser puts the baseline where we do
const STAND_INS = ["noto-sans-bold", "rubik-bold"];
const CASES = { typed: "none", capitals: "uppercase", small: "lowercase" };
const loaded = new Map();

// The font itself, under a name of its own.
function faceOf(ref, base) {
  if (!loaded.has(ref)) {
    const face = new FontFace(`kiln-${ref}`, `url("${base}${ref}/face.ttf")`, {
      ascentOverride: "80%",
      descentOverride: "20%",
      lineGapOverride: "0%",
    });
    document.fonts.add(face);
    loaded.set(
      ref,
      face.load().catch(() => null),
    );
  }
  return loaded.get(ref);
}

export class WordsOnPiece {
  constructor(stage, session, base, lifted) {
    Object.assign(this, { stage, session, base, lifted, id: null, field: null });
    hear("view-moved", () => this.place());
    hear("piece-told", () => this.told());
    hear("words-wanted", ({ mark }) => this.open(mark));
    hear("picture-told", ({ quality }) => quality !== "behind" && this.show(false));
  }

  get art() {
    return this.session.mark(this.id)?.art;
  }
  get path() {
    return [...this.session.wayTo(this.id), "art", "text"];
  }

  async open(id) {
    if (this.id) this.close();
    this.id = id;
    this.visit = newVisit();
    const { art } = this;
    const field = document.createElement("textarea");
    Object.assign(field, {
      className: "words-on-piece",
      value: art.text,
      maxLength: 500,
      spellcheck: false,
      dir: "auto",
      rows: 1,
    });
    field.setAttribute("aria-label", "Words on the piece");
    field.wrap = "off";
    Object.assign(this, { field, sent: art.text });
    this.listen(field);
    this.stage.element.append(field);
    this.stage.element.classList.add("writing");
    this.place();
    this.lifted.lift([id]);
    field.focus({ preventScroll: true });
    field.select();
    await Promise.all([art.font, ...STAND_INS].map((ref) => faceOf(ref, this.base))); // what is typed meanwhile is not lost
    this.place();
  }

  listen(field) {
    field.addEventListener("input", () => this.typed());
    field.addEventListener("blur", () => this.close());
    field.addEventListener("pointerdown", (event) => event.stopPropagation());
    field.addEventListener("dblclick", (event) => event.stopPropagation());
    field.addEventListener("keydown", (event) => {
      event.stopPropagation(); // the keys of the bench are letters here
      if (event.key === "Escape" || (event.key === "Enter" && (event.ctrlKey || event.metaKey))) {
        event.preventDefault();
        this.close();
      }
    });
  }

  typed() {
    this.place();
    const { value } = this.field;
    if (!this.art || value === this.sent) return;
    this.sent = value;
    this.session.change([{ op: "set", path: this.path, value }], "Words", {
      reload: true,
      visit: this.visit,
    });
    this.show(true);
    this.stage.move();
  }

  // What is typed shows at once, plainly, over what lies beneath it, until it is drawn.
  show(plainly) {
    if (!this.field) return;
    this.field.style.color = plainly ? this.art.colour : "";
    if (plainly) this.lifted.raise();
  }

  told() {
    if (!this.field) return;
    if (!this.art) return void this.end();
    this.place();
  }

  close() {
    if (!this.field) return void (this.id = null);
    this.typed();
    this.end();
  }

  end() {
    const { field } = this;
    Object.assign(this, { field: null, id: null });
    this.stage.element.classList.remove("writing");
    this.lifted.lower();
    this.stage.rest(0);
    field.remove();
    say("words-closed");
  }

  // Over the words: the alignment point of the first baseline is where the engine has it.
  place() {
    const at = this.field && this.session.snapshot.words[this.id];
    if (!at) return;
    const { field, art } = this;
    const { zoom } = this.stage.view;
    const em = at.em * zoom;
    const lead = art.line_spacing * em;
    const spacing = (art.tracking / 1000) * em;
    Object.assign(field.style, {
      fontFamily: [art.font, ...STAND_INS].map((ref) => `"kiln-${ref}"`).join(", "),
      fontSize: `${em}px`,
      lineHeight: `${lead}px`,
      letterSpacing: `${spacing}px`,
      textAlign: { centre: "center" }[art.align] ?? art.align,
      textTransform: CASES[art.case],
      fontKerning: art.kerning ? "normal" : "none",
      fontFeatureSettings:
        Object.entries(art.features)
          .map(([tag, on]) => `"${tag}" ${on ? 1 : 0}`)
          .join(", ") || "normal",
      fontVariationSettings:
        Object.entries(art.axes)
          .map(([tag, value]) => `"${tag}" ${value}`)
          .join(", ") || "normal",
    });
    field.style.width = "0px";
    const width = field.scrollWidth + em;
    const [x, y] = this.stage.view.toStage(at.x, at.y);
    const share = { left: 0, centre: 0.5, right: 1 }[art.align];
    const left = share * width - share * spacing; // the last letter's spacing hangs out
    const top = (lead - em) / 2 + ASCENT * em;
    const shown = at.plane
      ? { left: `${-left}px`, top: `${-top}px`, transform: this.inPlane(at, zoom) }
      : { left: `${x - left}px`, top: `${y - top}px`, transform: `rotate(${at.rotation_deg}deg)` };
    Object.assign(field.style, {
      width: `${width}px`,
      height: `${field.value.split("\n").length * lead}px`,
      transformOrigin: `${left}px ${top}px`,
      ...shown,
    });
  }

  // From px of the field, about the alignment point, to the stage, of words that lie in a plane.
  inPlane({ plane, x, y, rotation_deg }, zoom) {
    const [cos, sin] = [Math.cos, Math.sin].map((of) => of((rotation_deg * Math.PI) / 180) / zoom);
    const [dx, dy] = this.stage.view.toStage(0, 0);
    const [a, b, c, d, e, f, g, h, i] = product(
      product([zoom, 0, dx, 0, zoom, dy, 0, 0, 1], plane),
      [cos, -sin, x, sin, cos, y, 0, 0, 1],
    );
    return `matrix3d(${[a, d, 0, g, b, e, 0, h, 0, 0, 1, 0, c, f, 0, i].map((one) => one / i).join(",")})`;
  }
}

// Of two 3 x 3 matrices, rows one after another.
function product(one, other) {
  return one.map((_, n) => {
    const [row, column] = [n - (n % 3), n % 3];
    return [0, 1, 2].reduce((sum, k) => sum + one[row + k] * other[3 * k + column], 0);
  });
}
