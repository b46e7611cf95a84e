// The bench: what is chosen, and how stage, strip and sheet are told of it.

import { Stage } from "./stage.js";
import { FireDialog } from "./firing.js";
import { Handles } from "./handles.js";
import { listen } from "./keys.js";
import { panning } from "./panning.js";
import { Session } from "./session.js";
import { Sheet } from "./sheet.js";
import { signingIn } from "./signing.js";
import { Strip } from "./strip.js";
import { MarkTarget, TextureTarget } from "./targets.js";
import { TextureDialog } from "./textures.js";

const byId = (id) => document.getElementById(id);
const WAITING = { true: "Drawing…", false: "The kiln is warming up: the first picture takes a few seconds" };
const TELLING = { draft: "Draft", exact: "Exact · this is what fires" };

class Bench {
  constructor(root) {
    const { base, part, width, height, ppi, warm, ...urls } = root.dataset;
    this.waiting = WAITING[warm];
    this.page = { width: Number(width), height: Number(height), ppi: Number(ppi) };
    this.session = new Session(base, JSON.parse(byId("told").textContent));
    this.choice = { part, step: "bare" };
    this.stage = new Stage(byId("stage"), this.session, [this.page.width, this.page.height]);
    this.strip = new Strip(byId("strip"), this.session, this.choice);
    this.sheet = new Sheet(byId("sheet"), this.session, this.page);
    this.handles = new Handles(byId("overlay"), this.stage, this.session, this.page);
    this.textures = new TextureDialog(byId("texture-dialog"), urls);
    this.fire = new FireDialog(byId("fire-dialog"), urls, this.session);
    this.connect();
    this.choose(part, this.firstStep(part));
    this.stage.rest(0);
  }

  connect() {
    this.session.addEventListener("told", (event) => this.told(event.detail));
    this.strip.onchoose = (part, step) => this.choose(part, step);
    this.strip.onaddstep = (kind) => this.addStep(kind);
    this.strip.onaddmark = () => byId("mark-dialog").showModal();
    this.sheet.onchoose = (path) => this.chooseTexture(path);
    this.sheet.onplace = (button) => this.placeTexture(button);
    this.sheet.onupto = (button) => this.upTo(button);
    this.sheet.onopen = () => this.hold();
    this.handles.onpick = (id) => this.choose(id, "bare");
    this.handles.onvalues = (path, values) => this.sheet.showValues(path, values);
    panning(this.stage, this.handles);
    this.markDialog(byId("mark-dialog"));
    signingIn(byId("sign-in-dialog"), byId("bench").dataset.signIn, this.session);
    for (const button of document.querySelectorAll("[data-close]")) button.addEventListener("click", () => button.closest("dialog").close());
  }

  firstStep(part) {
    return this.session.mark(part)?.treatment[0]?.id ?? "bare";
  }

  choose(part, step) {
    Object.assign(this.choice, { part, step });
    this.placing = false;
    this.stage.show(null);
    this.hold();
    this.strip.load();
    return this.sheet.open(part, step);
  }

  // Handles hold the mark that is chosen, or the texture while it is being placed.
  hold() {
    const { part } = this.choice;
    const placement = this.placing && byId("sheet").querySelector("[data-placement]");
    if (placement) this.handles.hold(new TextureTarget(this.session, JSON.parse(placement.dataset.path), part, this.page));
    else this.handles.hold(this.session.mark(part) ? new MarkTarget(this.session, part, this.page) : null);
    byId("sheet").querySelector("[data-place-texture]")?.setAttribute("aria-pressed", Boolean(placement));
  }

  told({ reload, added }) {
    this.page.ppi = this.session.document.ppi;
    const { stack } = this.session.document;
    if (added && stack.length) return void this.choose(stack.at(-1).id, "bare");
    if (!["ground", "piece"].includes(this.choice.part) && !this.session.mark(this.choice.part)) return void this.choose("ground", "bare");
    this.sheetIsOld ||= reload;
    if (reload && !this.exists()) return void this.choose(this.choice.part, "bare");
    this.strip.load();
    if (!this.sheetIsOld || this.session.queue.length) return; // a sheet is not replaced under a hand that is still at work on it
    this.sheetIsOld = false;
    this.sheet.open(this.choice.part, this.choice.step);
  }

  get treatment() {
    const { part } = this.choice;
    const { document } = this.session;
    return { ground: document.ground.treatment, piece: document.treatment }[part] ?? this.session.mark(part)?.treatment ?? [];
  }

  exists() {
    return ["bare", "lands"].includes(this.choice.step) || this.treatment.some((step) => step.id === this.choice.step);
  }

  async addStep(kind) {
    const { part } = this.choice;
    const place = this.treatment.findIndex((step) => step.id === this.choice.step);
    const at = place >= 0 ? place + 1 : this.treatment.length; // after the chosen step, or last
    const known = new Set(this.treatment.map((step) => step.id));
    const answer = await this.session.change([{ op: "add_step", part, kind, at }], "Step added");
    const fresh = answer.ok && this.treatment.find((step) => !known.has(step.id));
    if (fresh) this.choose(part, fresh.id);
  }

  async chooseTexture(path) {
    const ref = await this.textures.choose();
    if (!ref) return;
    const ground = path.length === 2 && path[0] === "ground";
    const value = ground ? { kind: "texture", texture: ref } : ref;
    this.session.change([{ op: "set", path, value }], "Texture chosen", { reload: true });
  }

  placeTexture() {
    this.placing = !this.placing;
    this.hold();
    if (this.placing) byId("overlay").querySelector(".body")?.focus();
  }

  upTo(button) {
    const on = button.getAttribute("aria-pressed") !== "true";
    button.setAttribute("aria-pressed", on);
    this.stage.show(on ? { part: button.dataset.part, number: Number(button.dataset.number) } : null);
  }

  // While a key is held: the bare art, or the piece up to the chosen step.
  peek(which) {
    const place = this.treatment.findIndex((step) => step.id === this.choice.step);
    this.stage.show(which ? { part: this.choice.part, number: which === "bare" ? 0 : place + 1 } : null);
  }

  remove() {
    const { part, step } = this.choice;
    if (this.treatment.some((item) => item.id === step)) this.session.change([{ op: "remove_step", step }], "Step removed", { reload: true });
    else if (step === "bare" && this.session.mark(part)) this.session.change([{ op: "remove_mark", mark: part }], "Mark removed", { reload: true });
  }

  markDialog(dialog) {
    const trouble = dialog.querySelector("[data-mark-trouble]");
    const finish = (answer) => {
      trouble.textContent = answer.ok ? "" : answer.message;
      if (answer.ok) dialog.close();
    };
    dialog.querySelector("[data-lettering]").addEventListener("submit", async (event) => {
      event.preventDefault();
      const words = dialog.querySelector("textarea");
      finish(await this.session.addLettering(words.value));
      words.value = "";
    });
    dialog.querySelector("[data-svg-file]").addEventListener("change", async ({ target }) => {
      if (target.files.length) finish(await this.session.addSvg(target.files[0]));
      target.value = "";
    });
  }
}

// What the top bar and the labels show.
document.addEventListener("alpine:init", () => {
  window.Alpine.data("bench", () => ({
    title: "", saved: "", undoLabel: "", redoLabel: "", zoomLabel: "", fitted: "true", atTrue: "false", telling: "", tellingClass: "", trouble: "", stale: false, signedOut: false,
    init() {
      const bench = new Bench(this.$root);
      this.bench = () => bench;
      this.show();
      this.telling = bench.waiting;
      bench.session.addEventListener("told", ({ detail }) => { this.show(); if (!detail?.refused) this.clearTrouble(); });
      bench.session.addEventListener("saving", () => this.saving());
      bench.session.addEventListener("trouble", ({ detail }) => this.troubled(detail));
      bench.session.addEventListener("signed-in", () => this.clearTrouble());
      bench.stage.addEventListener("told", ({ detail }) => this.tell(detail));
      bench.stage.addEventListener("view", () => this.zoomed());
      this.zoomed();
      listen(bench, this);
    },
    show() {
      const { title, saved, undo, redo } = this.bench().session.told;
      Object.assign(this, { title, saved: `saved ${saved}`, undoLabel: undo, redoLabel: redo });
    },
    saving() {
      const count = this.bench().session.waits;
      this.saved = count ? `${count} ${count === 1 ? "change waits" : "changes wait"} to be saved` : "saving…";
    },
    troubled({ message, stale, signedOut }) {
      Object.assign(this, { trouble: message, stale: Boolean(stale), signedOut: Boolean(signedOut) });
    },
    tell({ quality, share, point }) {
      if (this.signedOut || this.trouble.includes("does not answer")) this.clearTrouble();
      this.tellingClass = point ? "partial" : quality === "exact" ? "exact" : "draft";
      if (quality === "sharpening") this.telling = `Draft, ${Math.round(share * 100)} % of it exact`;
      else this.telling = point ? "Part of the way · not what fires" : TELLING[quality];
    },
    zoomed() {
      const { view } = this.bench().stage;
      const shown = view.zoom * (window.devicePixelRatio || 1);
      Object.assign(this, { zoomLabel: `${Math.round(shown * 100)} %`, fitted: String(view.fitted), atTrue: String(shown === 1) });
    },
    get cannotUndo() { return !this.undoLabel; },
    get cannotRedo() { return !this.redoLabel; },
    get undoTitle() { return `Undo: ${this.undoLabel}`; },
    get redoTitle() { return `Redo: ${this.redoLabel}`; },
    undo() { if (this.undoLabel) this.bench().session.undo(); },
    redo() { if (this.redoLabel) this.bench().session.redo(); },
    zoom(act) { act(this.bench().stage.view); this.bench().stage.look(); },
    zoomIn() { this.zoom((view) => view.zoomTo(view.zoom * 1.5)); },
    zoomOut() { this.zoom((view) => view.zoomTo(view.zoom / 1.5)); },
    fit() { this.zoom((view) => view.fit()); },
    truePixels() { this.zoom((view) => view.zoomTo(1 / (window.devicePixelRatio || 1))); },
    openFire() { this.bench().fire.open(); },
    help() { byId("keys-dialog").showModal(); },
    clearTrouble() { Object.assign(this, { trouble: "", stale: false, signedOut: false }); },
    signIn() { byId("sign-in-dialog").showModal(); },
    showNewest() { window.location.reload(); },
  }));
});
