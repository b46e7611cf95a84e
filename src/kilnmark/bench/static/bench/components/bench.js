// The bench: what is chosen, the top bar, and what strip, sheet and stage are told of it.

import { announce, context, treatmentOf } from "../context.js";
import { HeldBack } from "../held_back.js";
import { historyBar, withParts } from "../history_bar.js";
import { Handles } from "../handles.js";
import { listen } from "../keys.js";
import { dropping, pasting } from "../dropping.js";
import { PageEdges } from "../page_edges.js";
import { panning } from "../panning.js";
import { measured } from "../screen.js";
import { Session } from "../session.js";
import { Stage } from "../stage.js";
import { memberAt } from "../finding.js";
import { drawFrame, drawOutline } from "../drawing.js";
import { FadeTarget } from "../fade_target.js";
import {
  MarkTarget,
  PageRegionTarget,
  RegionTarget,
  SeveralTarget,
  TextureTarget,
} from "../targets.js";
import { tellTones } from "../tones.js";
import { swallowSecond } from "../../controls/lib/once.js";
import { doEarly } from "../early_hand.js";
import { WordsOnPiece } from "../words.js";

const MM_PER_INCH = 25.4;
const byId = (id) => document.getElementById(id);
const WAITING = {
  true: "Drawing…",
  false: "The kiln is warming up: the first picture takes a few seconds",
};
const TELLING = {
  draft: "Draft",
  exact: "Exact · this is what fires",
  behind: "Catching up with what you changed…",
};

function start(root) {
  const { base, part, width, height, ppi } = root.dataset;
  context.page = { width: Number(width), height: Number(height), ppi: Number(ppi) };
  context.session = new Session(base, JSON.parse(byId("snapshot").textContent));
  context.choice = { part, step: "bare" };
  context.stage = new Stage(byId("stage"), context.session, [
    context.page.width,
    context.page.height,
  ]);
  context.handles = new Handles(byId("overlay"), context.stage, context.session, context.page);
  context.heldBack = new HeldBack(context.stage, context.session);
  context.words = new WordsOnPiece(
    context.stage,
    context.session,
    root.dataset.faces.replace("choices/", ""),
  );
  panning(context.stage, context.handles);
  dropping(context);
  pasting(context);
  tellTones(context.stage);
  swallowSecond();
  keepFocus();
}

// A dialog that closed with nowhere to go back to leaves the keyboard at what is chosen.
function keepFocus() {
  document.addEventListener("close", () => setTimeout(focusChosen), true);
}

function focusChosen() {
  if (document.activeElement !== document.body || document.querySelector("dialog[open]")) return;
  const there =
    byId("overlay").querySelector(".body") ??
    byId("strip").querySelector('[role="tab"][aria-selected="true"]');
  there?.focus({ preventScroll: true });
}

document.addEventListener("alpine:init", () => {
  window.Alpine.data("bench", () =>
    withParts(historyBar(), {
      zoomLabel: "",
      fitted: "true",
      atTrue: "false",
      telling: "",
      tellingClass: "",
      waiting: false,
      signedOut: false,
      kept: 0,
      sheetIsOld: false,
      placing: null,
      marks: 0,

      init() {
        start(this.$root);
        const { session, stage, handles } = context;
        this.marks = session.document.stack.length;
        this.session = session;
        this.listen(session, (detail) => this.heard(detail));
        this.telling = WAITING[this.$root.dataset.warm];
        this.trouble = session.snapshot.note ?? "";
        session.addEventListener("signed-in", () => this.clearTrouble());
        session.addEventListener("kept", () => this.countKept());
        session.takenUp.then(() => this.countKept());
        stage.addEventListener("told", ({ detail }) => this.tell(detail));
        stage.addEventListener("view", () => this.zoomed());
        handles.onpick = (id) => this.pick(id, "bare");
        handles.onopen = (id, at) => this.open(id, at);
        handles.onadd = (id) => this.chooseAlso({ detail: { part: id } });
        handles.onseveral = (ids) => this.pickSeveral(ids);
        context.words.onclose = () => {
          this.hold();
          focusChosen();
        };
        handles.onvalues = (path, values) => announce("values-moved", { path, values });
        this.zoomed();
        this.resized();
        listen(this);
        const { part } = context.choice;
        this.$nextTick(() => {
          this.pick(part, session.mark(part)?.treatment[0]?.id ?? "bare");
          requestAnimationFrame(() => doEarly(handles));
        });
        stage.rest(0);
      },

      bench() {
        return context;
      }, // for whoever looks in from outside

      // --- what is chosen ---

      choose({ detail }) {
        this.pick(detail.part, detail.step);
      },

      // Another mark chosen with those that are, or left again.
      chooseAlso({ detail: { part } }) {
        const { session, several, choice } = context;
        const now = several.length ? several : session.mark(choice.part) ? [choice.part] : [];
        this.pickSeveral(now.includes(part) ? now.filter((id) => id !== part) : [...now, part]);
      },

      pickSeveral(ids) {
        if (ids.length > 1) this.pick(ids.at(-1), "bare", ids);
        else if (ids.length) this.pick(ids[0], "bare");
      },

      pick(part, step, several = []) {
        Object.assign(context.choice, { part, step });
        context.several = several;
        context.stage.show(null);
        this.place(null);
        announce("choice-made");
      },

      // The art of a mark, ready to be worked on: its words, or the picture.
      // In a group, that of the mark at the point.
      open(id, at) {
        const group = at && context.session.mark(id)?.members && context.session.mark(id);
        const inner = group && memberAt(context.session, group, at);
        if (inner) return void this.open(inner, at);
        this.pick(id, "bare");
        if (context.session.mark(id)?.art?.kind === "lettering" && !context.session.mark(id).locked)
          return void context.words.open(id);
        window.addEventListener(
          "sheet-loaded",
          () =>
            byId("sheet")
              .querySelector("textarea, .field input, .field button, .chain button")
              ?.focus(),
          { once: true },
        );
      },

      // Handles hold the mark that is chosen, or the texture while it is being placed by hand.
      place(path) {
        this.placing = path;
        this.seeThrough();
        this.hold();
        announce("placing", { path });
      },

      hold() {
        const { session, page, choice, handles } = context;
        if (this.placing) handles.hold(this.placed(JSON.parse(this.placing)));
        else if (context.several.length > 1)
          handles.hold(new SeveralTarget(session, context.several));
        else if (choice.part === "piece") handles.hold(new PageEdges(session, page));
        else
          handles.hold(
            session.mark(choice.part) ? new MarkTarget(session, choice.part, page) : null,
          );
      },

      // While the texture of a wear is placed, it is seen over the art.
      seeThrough() {
        const path = this.placing && JSON.parse(this.placing);
        const wears =
          path?.at(-1) === "placement" &&
          path.length > 3 &&
          context.session.at(path.slice(0, -2))?.kind === "wear";
        context.stage.seeThrough(wears ? path.at(-3) : null);
      },

      placed(path) {
        const { session, page, choice } = context;
        if (path.at(-1) === "fade") return new FadeTarget(session, path, page);
        const Target = path.includes("limits")
          ? PageRegionTarget
          : path.at(-1) === "region"
            ? RegionTarget
            : TextureTarget;
        return new Target(session, path, choice.part, page);
      },

      async drawRegion({ detail: { path, freehand } }) {
        const frame = await (freehand ? drawOutline : drawFrame)(context.stage, byId("overlay"));
        if (!frame) return;
        const target = this.placed(path);
        const there = context.session.at(path);
        const shape = freehand
          ? { shape: "outline", outline: frame.outline }
          : there?.shape === "outline"
            ? { shape: "rectangle" }
            : {};
        const values = { ...target.values({ ...target.flat(frame), rotation_deg: 0 }), ...shape };
        const fresh = { shape: "ellipse", feather: { value: 4, unit: "px" }, ...values };
        const edits = there
          ? Object.entries(values).map(([name, value]) => ({
              op: "set",
              path: [...path, name],
              value,
            }))
          : [{ op: "set", path, value: fresh }];
        await context.session.change(edits, "Region drawn", { reload: true });
        this.place(JSON.stringify(path));
      },

      // Where a reading was taken, hatched on the piece until something else is done.
      showPlace({ target }) {
        const button = target.closest("[data-place]");
        if (button) context.handles.mark(JSON.parse(button.dataset.place));
      },

      placeTexture({ detail }) {
        this.place(detail.path);
        if (this.placing) byId("overlay").querySelector(".body")?.focus();
      },

      // What was drawn while changes were on their way is drawn again when they are stored.
      sheetLoaded({ detail }) {
        this.sheetIsOld ||= detail.old;
        const path = this.placing && JSON.parse(this.placing);
        if (path && (context.session.at(path) ?? null) === null) this.place(null);
        else announce("placing", { path: this.placing });
      },

      // --- what the server said ---

      heard({ reload, added, refused, elsewhere }) {
        if (!refused && !elsewhere) this.clearTrouble();
        const { session, choice } = context;
        this.resized();
        if (!added) this.marks = session.document.stack.length;
        context.several = context.several.filter((id) => session.mark(id));
        if (context.several.length < 2) context.several = [];
        const { stack } = session.document;
        if (added && stack.length) return void this.arrived(stack, added);
        if (!["ground", "piece"].includes(choice.part) && !session.mark(choice.part))
          return void this.pick("ground", "bare");
        this.sheetIsOld = true; // nothing on it is told of an older state
        if (reload && !this.exists()) return void this.pick(choice.part, "bare");
        announce("piece-changed");
        if (!this.sheetIsOld || !session.resting) return; // a sheet is not replaced under a hand that is still at work on it
        this.sheetIsOld = false;
        announce("sheet-changed");
      },

      // Art that came in is chosen; a single mark is offered looks to start from, unless it is a copy: that has its treatment.
      arrived(stack, added) {
        const one = stack.length - this.marks === 1;
        this.marks = stack.length;
        this.pick(stack.at(-1).id, "bare");
        if (one && added !== "copy" && this.$root.dataset.offersLooks !== undefined)
          announce("looks-wanted", { starts: true });
      },

      // The page may have another size or resolution now.
      resized() {
        byId("stage").dataset.backdrop = context.session.document.backdrop;
        byId("picture").style.setProperty(
          "--backdrop",
          context.session.document.backdrop.startsWith("#")
            ? context.session.document.backdrop
            : "",
        );
        const {
          session: { document },
          page,
          stage,
        } = context;
        page.ppi = document.ppi;
        const [width, height] = document.size_px;
        if (page.width === width && page.height === height) return;
        Object.assign(page, { width, height });
        stage.view.size = [width, height];
        stage.view.fit();
        stage.look();
      },

      exists() {
        const { part, step } = context.choice;
        return (
          ["bare", "lands"].includes(step) || treatmentOf(part).some((item) => item.id === step)
        );
      },

      // --- what is done ---

      addStep({ detail: { kind } }) {
        const { part } = context.choice;
        this.begin({
          detail: {
            edits: [{ op: "add_step", part, kind, at: treatmentOf(part).length }],
            label: "Step added",
          },
        }); // where the + is
      },

      // Edits that add a step, whose sheet is opened.
      async begin({ detail: { edits, label } }) {
        const {
          session,
          choice: { part },
        } = context;
        const known = new Set(treatmentOf(part).map(({ id }) => id));
        const answer = await session.change(edits, label);
        const fresh = answer.ok && treatmentOf(part).find(({ id }) => !known.has(id));
        if (!fresh) return;
        context.focusStep = fresh.id;
        this.pick(part, fresh.id);
      },

      async chooseTexture({ detail: { path } }) {
        const ref = await context.chooseTexture(path);
        if (!ref) return;
        const ground = path.length === 2 && path[0] === "ground";
        const value = ground ? { kind: "texture", texture: ref } : ref;
        context.session.change([{ op: "set", path, value }], "Texture chosen", { reload: true });
      },

      copySteps({ detail: { of, to, steps } }) {
        const known = treatmentOf(to).length;
        const edit = { op: "copy_steps", part: of, to, ...(steps && { steps }) };
        context.session
          .change([edit], steps ? "Step copied" : "Treatment copied", { reload: true })
          .then((answer) => {
            const fresh = answer.ok && treatmentOf(to)[known];
            if (fresh) this.pick(to, fresh.id);
          });
      },

      wantFace({ detail }) {
        context.chooseFace(detail);
      },

      // While a key is held: the bare art, or the piece up to the chosen step.
      peek(which) {
        const { part, step } = context.choice;
        const place = treatmentOf(part).findIndex((item) => item.id === step);
        context.stage.show(which ? { part, number: which === "bare" ? 0 : place + 1 } : null);
      },

      // While a key is held: the chosen step off, or all treatments.
      lookWithout(which) {
        const { part, step } = context.choice;
        const chosen = treatmentOf(part).some((item) => item.id === step) ? step : null;
        context.stage.lookWithout(which === "step" ? chosen : which);
      },

      remove() {
        const {
          session,
          choice: { part, step },
          several,
        } = context;
        if (several.length > 1)
          return void announce("marks-going", {
            edit: { op: "remove_marks", marks: several },
            label: "Marks removed",
          });
        if (session.mark(part)?.locked && step === "bare")
          return void session.say("trouble", {
            message: "This mark is locked. Unlock it in its sheet to remove it.",
          });
        if (treatmentOf(part).some((item) => item.id === step))
          session.change([{ op: "remove_step", step }], "Step removed", { reload: true });
        else if (step === "bare" && session.mark(part))
          announce("marks-going", {
            edit: { op: "remove_mark", mark: part },
            label: "Mark removed",
          });
      },

      chooseOne() {
        if (context.several.length > 1) this.pick(context.choice.part, "bare");
      },

      async groupChosen() {
        const { session, several } = context;
        if (several.length < 2) return;
        const known = new Set(session.items.map((item) => item.id));
        const answer = await session.change([{ op: "group", marks: several }], "Grouped", {
          reload: true,
        });
        const fresh = answer.ok && session.items.find((item) => !known.has(item.id));
        if (fresh) this.pick(fresh.id, "bare");
      },

      flagChosen(flag) {
        const { session, several, choice } = context;
        const marks = several.length > 1 ? several : session.mark(choice.part) ? [choice.part] : [];
        if (!marks.length) return;
        const on = !marks.every((id) => session.mark(id)[flag]);
        session.change(
          [{ op: "flag_marks", marks, flag, on }],
          { locked: on ? "Locked" : "Unlocked", left_out: on ? "Left out" : "Fired again" }[flag],
          { reload: true },
        );
      },

      // --- the top bar ---

      troubled({ message, signedOut, waiting }) {
        Object.assign(this, {
          trouble: message,
          signedOut: Boolean(signedOut),
          waiting: Boolean(waiting),
        });
      },
      countKept() {
        this.kept = context.session.line.kept.length;
      },
      get keptTold() {
        return this.kept === 1
          ? "One change could not be made again on the newest state. It is kept."
          : `${this.kept} changes could not be made again on the newest state. They are kept.`;
      },
      openKept() {
        announce("kept-wanted");
      },

      tell({ quality, share, point, see, without }) {
        if (quality !== "behind" && (this.signedOut || this.trouble.includes("does not answer")))
          this.clearTrouble();
        this.tellingClass =
          point || see || without ? "partial" : quality === "exact" ? "exact" : "draft";
        if (quality === "behind") this.telling = TELLING.behind;
        else if (quality === "sharpening")
          this.telling = `Draft, ${Math.round(share * 100)} % of it exact`;
        else if (without)
          this.telling =
            without === "treatments"
              ? "All treatments off · not what fires"
              : "This step off · not what fires";
        else if (see) this.telling = "Seen through · not what fires";
        else this.telling = point ? "Part of the way · not what fires" : TELLING[quality];
      },
      zoomed() {
        const { view } = context.stage;
        const shown = view.zoom * (window.devicePixelRatio || 1);
        Object.assign(this, {
          zoomLabel: `${Math.round(shown * 100)} %`,
          fitted: String(view.fitted),
          atTrue: String(shown === 1),
        });
      },
      zoom(act) {
        act(context.stage.view);
        context.stage.look();
      },
      zoomIn() {
        this.zoom((view) => view.zoomTo(view.zoom * 1.5));
      },
      zoomOut() {
        this.zoom((view) => view.zoomTo(view.zoom / 1.5));
      },
      fit() {
        this.zoom((view) => view.fit());
      },
      times(factor) {
        this.zoom((view) => view.zoomTo(factor / (window.devicePixelRatio || 1)));
      },
      truePixels() {
        this.times(1);
      },
      twice() {
        this.times(2);
      },
      fourTimes() {
        this.times(4);
      },
      // As large as it will be in print, on a screen that was measured once with a ruler.
      printSize() {
        const perMm = measured();
        if (!perMm) return void this.measureScreen();
        this.zoom((view) => view.zoomTo((perMm * MM_PER_INCH) / context.page.ppi));
      },
      measureScreen() {
        announce("screen-wanted");
      },
      screenMeasured() {
        this.printSize();
      },
      reverseFade() {
        byId("sheet").querySelector("[data-reverse-fade]")?.click();
      },
      openFire() {
        context.openFire();
      },
      openPins() {
        context.openPins();
      },
      openTester() {
        announce("tester-wanted");
      },
      showHeld() {
        announce("held-wanted");
      },
      openPast() {
        announce("past-wanted");
      },
      openWipe() {
        announce("wipe-wanted");
      },
      openCompare() {
        announce("compare-wanted");
      },
      openLooks() {
        announce("looks-wanted");
      },
      // Its looks, large, on a page of their own, which shows what is stored.
      async openDirections() {
        const {
          session,
          choice: { part },
        } = context;
        if (!(await session.settled()))
          return void (this.trouble =
            "What you changed still waits to be saved. Open the directions when it is.");
        window.location.assign(`${session.base}directions/?${new URLSearchParams({ part })}`);
      },
      openMark() {
        context.openMark();
      },
      help() {
        byId("keys-dialog").showModal();
      },
      clearTrouble() {
        Object.assign(this, { trouble: "", waiting: false, signedOut: false });
      },
      signIn() {
        context.openSignIn();
      },
    }),
  );
});
