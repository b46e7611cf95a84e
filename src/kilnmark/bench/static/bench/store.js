// What the rooms of the bench share: the session of the piece, its page, the stage, the handles, and what is chosen. `choose` alone
// sets what is chosen.

import { say } from "./events.js";

export const store = {
  session: null,
  page: null, // { width, height, ppi } in document px
  stage: null,
  handles: null,
  heldBack: null,
  placing: null,
  drawing: null, // by hand
  words: null, // the editor of words on the piece
  choice: { part: "", step: "bare" },
  several: [], // ids of marks that are chosen together, when they are more than one
  focusStep: null, // the id of a step whose picture has the focus once it is there
};

export function choose(part, step = "bare", several = []) {
  Object.assign(store.choice, { part, step });
  store.several = several;
  say("choice-made");
}

export function chooseSeveral(ids) {
  if (ids.length > 1) choose(ids.at(-1), "bare", ids);
  else if (ids.length) choose(ids[0]);
}

// The marks that are chosen, one or several.
export function chosenMarks() {
  const { session, several, choice } = store;
  if (several.length) return several;
  return session.mark(choice.part) ? [choice.part] : [];
}

// What is % of, in a part: the unit of its frame, document px.
export function unitOf(part) {
  return store.session.snapshot.frames[part]?.unit ?? store.page.height;
}

export function treatmentOf(part) {
  const { document } = store.session;
  return (
    { ground: document.ground.treatment, piece: document.treatment }[part] ??
    store.session.mark(part)?.treatment ??
    []
  );
}

export const stepOf = (part, id) => treatmentOf(part).find((step) => step.id === id);

// How what is chosen lands: a step, or a mark on what lies beneath it.
export function chosenLanding() {
  const { part, step } = store.choice;
  const holder = step === "lands" ? store.session.mark(part) : stepOf(part, step);
  return holder?.landing ?? null;
}
