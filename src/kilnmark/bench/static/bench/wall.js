// What walls of live pictures have in common: moving in them by keys, and telling the stage which one lies under the cursor.

import { context } from "./context.js";

const SETTLED_MS = 120;
export const CARDS = "[data-edits]";

export function moveIn(list, event) {
  const all = [...list.querySelectorAll(CARDS)];
  const here = all.indexOf(document.activeElement);
  if (here < 0) return;
  const rows = (way) => nearest(all, here, way);
  const to = { ArrowLeft: here - 1, ArrowRight: here + 1, ArrowUp: rows(-1), ArrowDown: rows(1), Home: 0, End: all.length - 1 }[event.key];
  if (to === undefined) return;
  event.preventDefault();
  all[Math.min(Math.max(to, 0), all.length - 1)].focus();
}

// The card above or below, whatever headings lie between.
function nearest(all, here, way) {
  const box = all[here].getBoundingClientRect();
  const others = all.map((card, n) => ({ n, ...place(card) })).filter(({ top }) => (top - box.top) * way > box.height / 2);
  const row = Math.min(...others.map(({ top }) => Math.abs(top - box.top)));
  const found = others.filter(({ top }) => Math.abs(Math.abs(top - box.top) - row) < 2);
  return found.sort((a, b) => Math.abs(a.left - box.left) - Math.abs(b.left - box.left))[0]?.n ?? here;
}

function place(card) {
  const { left, top } = card.getBoundingClientRect();
  return { left, top };
}

// Resting on a card shows it on the piece, as long as its dialog is open.
export class Looking {
  constructor(dialog) {
    this.dialog = dialog;
    dialog.addEventListener("close", () => this.leave());
  }

  at(target) {
    const card = target.closest(CARDS);
    clearTimeout(this.timer);
    if (!card) return;
    const edits = card.hasAttribute("aria-current") ? [] : JSON.parse(card.dataset.edits);
    this.timer = setTimeout(() => this.dialog.open && context.session.draft(edits), SETTLED_MS);
  }

  leave() {
    clearTimeout(this.timer);
    context.session.dropDraft();
  }
}
