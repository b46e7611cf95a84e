// The bench: the rooms of a piece put together, the bar above them, and what they are told when a change has been stored.

import { swallowSecond } from "../controls/lib/once.js";
import { historyBar } from "./changes/history_bar.js";
import { withParts } from "../controls/lib/with_parts.js";
import { Session } from "./changes/session.js";
import { hear, say } from "./events.js";
import { chooseWhatIsWanted } from "./hands/choosing.js";
import { Drawing } from "./drawing/drawing.js";
import { doEarly } from "./hands/early_hand.js";
import { Handles } from "./hands/handles.js";
import { Placing } from "./hands/placing.js";
import { answerControls } from "./holding/asking.js";
import { HeldBack } from "./holding/held_back.js";
import { tellTones } from "./holding/tones.js";
import { listen } from "./keys.js";
import { dropping, pasting } from "./marks/dropping.js";
import { panning } from "./stage/panning.js";
import { Stage } from "./stage/stage.js";
import { choose, stepOf, store } from "./store.js";
import { actOnChosen } from "./strip/acts.js";
import { WordsOnPiece } from "./words/words.js";

const byId = (id) => document.getElementById(id);
const BETWEEN_LETTERS_MS = 700;
const UNSAVED = "What you changed still waits to be saved. Open the directions when it is.";

function start({ base, part, width, height, ppi, faces }) {
  store.page = { width: Number(width), height: Number(height), ppi: Number(ppi) };
  store.session = new Session(base, JSON.parse(byId("snapshot").textContent));
  store.choice = { part, step: "bare" };
  const { session, page } = store;
  store.stage = new Stage(byId("stage"), session, [page.width, page.height]);
  store.handles = new Handles(byId("overlay"), store.stage, session, page);
  store.heldBack = new HeldBack(store.stage, session);
  store.words = new WordsOnPiece(
    store.stage,
    session,
    faces.replace("choices/", ""),
    store.handles.lifted,
  );
  store.placing = new Placing();
  store.drawing = new Drawing(store.stage, session);
  chooseWhatIsWanted();
  actOnChosen();
  answerControls();
  panning(store.stage, store.handles);
  dropping(store);
  pasting(store);
  tellTones(store.stage);
  swallowSecond();
  keepFocus();
}

// A dialog that closed with nowhere to go back to leaves the keyboard at what is chosen; words that are no longer edited, too.
function keepFocus() {
  document.addEventListener("close", () => setTimeout(focusChosen), true);
  hear("words-closed", focusChosen);
}

function focusChosen() {
  if (document.activeElement !== document.body || document.querySelector("dialog[open]")) return;
  const there =
    byId("overlay").querySelector(".body") ??
    byId("strip").querySelector('[role="tab"][aria-selected="true"]');
  there?.focus({ preventScroll: true });
}

// The page may have another size, resolution or backdrop now.
function showPage() {
  const {
    session: { document },
    page,
    stage,
  } = store;
  stage.showBackdrop(document.backdrop);
  page.ppi = document.ppi;
  const [width, height] = document.size_px;
  if (page.width === width && page.height === height) return;
  Object.assign(page, { width, height });
  stage.resize([width, height]);
}

// Its looks, large, on a page of their own, which shows what is stored.
async function openDirections() {
  const { session, choice } = store;
  if (!(await session.settled())) return void say("trouble-told", { message: UNSAVED });
  window.location.assign(
    `${session.base}directions/?${new URLSearchParams({ part: choice.part })}`,
  );
}

document.addEventListener("alpine:init", () => {
  window.Alpine.data("bench", () =>
    withParts(historyBar(), {
      waiting: false,
      signedOut: false,
      kept: 0,
      sheetIsOld: false,
      marks: 0,

      init() {
        start(this.$root.dataset);
        const { session, stage } = store;
        this.session = session;
        this.marks = session.document.stack.length;
        this.listen((detail) => this.heard(detail));
        this.trouble = session.snapshot.note ?? "";
        hear("signed-in", () => this.clearTrouble());
        hear("changes-kept", () => this.countKept());
        hear("picture-told", ({ quality }) => this.answered(quality));
        hear("sheet-loaded", ({ old }) => {
          this.sheetIsOld ||= old;
        });
        hear("directions-wanted", openDirections);
        hear("words-closed", () => this.sheetIsOld && this.tellRooms());
        session.takenUp.then(() => this.countKept());
        showPage();
        listen(this);
        this.$nextTick(() => this.begin());
        stage.rest(0);
      },

      bench() {
        return store;
      }, // for whoever looks in from outside

      begin() {
        const { part } = store.choice;
        choose(part, store.session.mark(part)?.treatment[0]?.id ?? "bare");
        requestAnimationFrame(() => doEarly(store.handles));
      },

      // --- what the server said ---

      heard({ reload, added, refused, elsewhere }) {
        if (!refused && !elsewhere) this.clearTrouble();
        const { session, choice } = store;
        showPage();
        const { stack } = session.document;
        if (!added) this.marks = stack.length;
        this.keepChosen();
        if (added && stack.length) return void this.arrived(stack, added);
        if (!["ground", "piece"].includes(choice.part) && !session.mark(choice.part))
          return void choose("ground");
        this.sheetIsOld = true; // nothing on it is told of an older state
        if (reload && !this.exists(choice)) return void choose(choice.part);
        clearTimeout(this.telling);
        if (store.words.field)
          this.telling = setTimeout(() => this.tellRooms(), BETWEEN_LETTERS_MS);
        else this.tellRooms();
      },

      // The strip and the sheet are drawn anew; not with every letter, whose own picture would wait for theirs.
      tellRooms() {
        clearTimeout(this.telling);
        const { session } = store;
        say("piece-changed");
        if (!this.sheetIsOld || !session.resting) return; // a sheet is not replaced under a hand that is still at work on it
        this.sheetIsOld = false;
        say("sheet-changed");
      },

      keepChosen() {
        store.several = store.several.filter((id) => store.session.mark(id));
        if (store.several.length < 2) store.several = [];
      },

      exists({ part, step }) {
        return ["bare", "lands"].includes(step) || Boolean(stepOf(part, step));
      },

      // Art that came in is chosen; a single mark is offered looks to start from, unless it is a copy: that has its treatment.
      arrived(stack, added) {
        const one = stack.length - this.marks === 1;
        this.marks = stack.length;
        choose(stack.at(-1).id);
        if (one && added !== "copy" && this.$root.dataset.offersLooks !== undefined)
          say("looks-wanted", { starts: true });
      },

      // --- what went wrong, and what waits ---

      troubled({ message, signedOut, waiting }) {
        Object.assign(this, {
          trouble: message,
          signedOut: Boolean(signedOut),
          waiting: Boolean(waiting),
        });
      },
      clearTrouble() {
        Object.assign(this, { trouble: "", waiting: false, signedOut: false });
      },

      // A picture came: somebody answers again.
      answered(quality) {
        if (quality !== "behind" && (this.signedOut || this.trouble.includes("does not answer")))
          this.clearTrouble();
      },

      countKept() {
        this.kept = store.session.line.kept.length;
      },
      get keptTold() {
        return this.kept === 1
          ? "One change could not be made again on the newest state. It is kept."
          : `${this.kept} changes could not be made again on the newest state. They are kept.`;
      },

      // A button that says what is wanted.
      says({ currentTarget }) {
        say(currentTarget.dataset.say);
      },
    }),
  );
});
