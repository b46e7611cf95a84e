// What is done to steps and marks that are chosen: added, copied, removed, grouped, locked, left out.

import { hear, say } from "../events.js";
import { choose, chosenMarks, stepOf, store, treatmentOf } from "../store.js";

const LOCKED = "This mark is locked. Unlock it in its sheet to remove it.";
const FLAGGED = {
  locked: { true: "Locked", false: "Unlocked" },
  left_out: { true: "Left out", false: "Fired again" },
};

// Edits that add a step, whose sheet is opened.
async function begin({ edits, label }) {
  const { part } = store.choice;
  const known = new Set(treatmentOf(part).map(({ id }) => id));
  const answer = await store.session.change(edits, label);
  const fresh = answer.ok && treatmentOf(part).find(({ id }) => !known.has(id));
  if (!fresh) return;
  store.focusStep = fresh.id;
  choose(part, fresh.id);
}

// Where the + is.
function addStep({ kind }) {
  const { part } = store.choice;
  const edit = { op: "add_step", part, kind, at: treatmentOf(part).length };
  return begin({ edits: [edit], label: "Step added" });
}

async function copySteps({ of, to, steps }) {
  const known = treatmentOf(to).length;
  const edit = { op: "copy_steps", part: of, to, ...(steps && { steps }) };
  const label = steps ? "Step copied" : "Treatment copied";
  const answer = await store.session.change([edit], label, { reload: true });
  const fresh = answer.ok && treatmentOf(to)[known];
  if (fresh) choose(to, fresh.id);
}

export async function groupChosen() {
  const { session, several } = store;
  if (several.length < 2) return;
  const known = new Set(session.items.map((item) => item.id));
  const edit = { op: "group", marks: several };
  const answer = await session.change([edit], "Grouped", { reload: true });
  const fresh = answer.ok && session.items.find((item) => !known.has(item.id));
  if (fresh) choose(fresh.id);
}

export function flagChosen(flag) {
  const { session } = store;
  const marks = chosenMarks();
  if (!marks.length) return;
  const on = !marks.every((id) => session.mark(id)[flag]);
  session.change([{ op: "flag_marks", marks, flag, on }], FLAGGED[flag][on], { reload: true });
}

// The chosen step, or at its bare art the mark; several marks together.
export function removeChosen() {
  const {
    session,
    choice: { part, step },
    several,
  } = store;
  if (several.length > 1) {
    const edit = { op: "remove_marks", marks: several };
    return void say("marks-going", { edit, label: "Marks removed" });
  }
  if (stepOf(part, step))
    return void session.change([{ op: "remove_step", step }], "Step removed", { reload: true });
  const mark = step === "bare" && session.mark(part);
  if (!mark) return;
  if (mark.locked) return void say("trouble-told", { message: LOCKED });
  say("marks-going", { edit: { op: "remove_mark", mark: part }, label: "Mark removed" });
}

export function chooseOne() {
  if (store.several.length > 1) choose(store.choice.part);
}

export function actOnChosen() {
  hear("step-wanted", addStep);
  hear("steps-wanted", begin);
  hear("copy-wanted", copySteps);
  hear("group-wanted", groupChosen);
}
