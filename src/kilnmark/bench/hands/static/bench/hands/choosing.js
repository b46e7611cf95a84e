// Choosing what is worked on: a part or a step, one mark more, several, or art that is opened at once.

import { hear, say } from "../events.js";
import { choose, chosenMarks, chooseSeveral, store } from "../store.js";
import { memberAt } from "./finding.js";

const FIRST = "textarea, .field input, .field button, .chain button";

// One mark more, or one less.
export function chooseAlso(part) {
  const now = chosenMarks();
  chooseSeveral(now.includes(part) ? now.filter((id) => id !== part) : [...now, part]);
}

// The art of a mark, ready to be worked on: its words, or the picture. In a group, that of the mark at the point.
export function openArt(id, at) {
  const { session } = store;
  const mark = session.mark(id);
  const inner = at && mark?.members && memberAt(session, mark, at);
  if (inner) return void openArt(inner, at);
  choose(id);
  if (mark?.art?.kind === "lettering" && !mark.art.along && !mark.locked)
    return void say("words-wanted", { mark: id });
  const ended = hear("sheet-loaded", () => {
    ended();
    document.getElementById("sheet").querySelector(FIRST)?.focus();
  });
}

export function chooseWhatIsWanted() {
  hear("choice-wanted", ({ part, step, also }) => (also ? chooseAlso(part) : choose(part, step)));
}
