// What walls of live pictures have in common: moving in them by keys, and telling the stage which one lies under the cursor.

import { get } from "../../kilnmark/api.js";
import { store } from "../store.js";
import { drawn } from "../stage/live_picture.js";

const SETTLED_MS = 120;
const AT_ONCE = 2; // pictures that are drawn side by side: more would all come late
export const CARDS = "[data-edits]";

export function moveIn(list, event, cards = CARDS) {
  const all = [...list.querySelectorAll(cards)];
  const here = all.indexOf(document.activeElement);
  if (here < 0) return;
  const rows = (way) => nearest(all, here, way);
  const to = {
    ArrowLeft: here - 1,
    ArrowRight: here + 1,
    ArrowUp: rows(-1),
    ArrowDown: rows(1),
    Home: 0,
    End: all.length - 1,
  }[event.key];
  if (to === undefined) return;
  event.preventDefault();
  all[Math.min(Math.max(to, 0), all.length - 1)].focus();
}

// The card above or below, whatever headings lie between.
function nearest(all, here, way) {
  const box = all[here].getBoundingClientRect();
  const others = all
    .map((card, n) => ({ n, ...place(card) }))
    .filter(({ top }) => (top - box.top) * way > box.height / 2);
  const row = Math.min(...others.map(({ top }) => Math.abs(top - box.top)));
  const found = others.filter(({ top }) => Math.abs(Math.abs(top - box.top) - row) < 2);
  return (
    found.sort((a, b) => Math.abs(a.left - box.left) - Math.abs(b.left - box.left))[0]?.n ?? here
  );
}

function place(card) {
  const { left, top } = card.getBoundingClientRect();
  return { left, top };
}

// A list that shows a wall: all at once, or, where drawing all takes long, card by card and then in order.
export class Wall {
  constructor(dialog, list, beside) {
    Object.assign(this, { dialog, list, beside, asked: 0 });
  }

  // asked : of the address. Says why there is none, or nothing; null if another wall was asked for meanwhile.
  async load(asked) {
    this.asked += 1;
    const mine = this.asked;
    const ask = (more) =>
      get(`${store.session.base}tryouts/?${new URLSearchParams({ ...asked, ...more })}`);
    const wanted = () => this.dialog.open && mine === this.asked;
    this.list.textContent = "Drawing them…";
    const answer = await ask({ first: 1 });
    if (!wanted()) return null;
    this.list.innerHTML = answer.ok ? answer.data : "";
    this.beside.mark();
    (this.list.querySelector("[aria-current]") ?? this.list.querySelector(CARDS))?.focus();
    if (answer.ok && answer.filling) this.fill(ask, wanted);
    return answer.message;
  }

  async fill(ask, wanted) {
    const images = [...this.list.querySelectorAll("img")].values();
    const one = async () => {
      for (const image of images) if (wanted()) await drawn(image);
    };
    await Promise.all(Array.from({ length: AT_ONCE }, one));
    const answer = wanted() ? await ask({}) : { ok: false };
    if (!wanted() || !answer.ok) return;
    if (this.list.matches(":hover"))
      this.list.addEventListener("pointerleave", () => wanted() && this.order(answer.data), {
        once: true,
      });
    else this.order(answer.data);
  }

  // In order; what has the focus keeps it, and stays where it is on the screen. Nothing changes places under the pointer: it waits
  // until that has left.
  order(data) {
    const here = this.list.contains(document.activeElement) ? document.activeElement : null;
    const { words } = here?.closest(CARDS)?.dataset ?? {};
    const top = here?.getBoundingClientRect().top;
    this.list.innerHTML = data;
    this.beside.mark();
    const card =
      words && [...this.list.querySelectorAll(CARDS)].find((one) => one.dataset.words === words);
    if (!card) return;
    card.focus({ preventScroll: true });
    this.list.scrollTop += card.getBoundingClientRect().top - top;
  }
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
    this.timer = setTimeout(() => this.dialog.open && store.session.draft(edits), SETTLED_MS);
  }

  leave() {
    clearTimeout(this.timer);
    store.session.dropDraft();
  }
}

const MOST_PINNED = 3;

// Up to three cards pinned side by side, larger, above the wall. told : says why one more has no room.
export class Beside {
  constructor(row, list, told) {
    Object.assign(this, { row, list, told });
  }

  get count() {
    return this.row.children.length;
  }

  clear() {
    this.row.replaceChildren();
  }

  // Beside the others; once more takes it away again.
  turn(card) {
    const known = [...this.row.children].find((one) => one.dataset.words === card.dataset.words);
    if (known) known.remove();
    else if (this.count < MOST_PINNED) this.row.append(this.large(card));
    else this.told("Three are pinned. Press one again to make room.");
    this.mark();
  }

  // The cards of the list that are pinned show it.
  mark() {
    const words = new Set([...this.row.children].map((one) => one.dataset.words));
    for (const button of this.list.querySelectorAll("[data-pin-card]"))
      button.setAttribute("aria-pressed", String(words.has(button.dataset.pinCard)));
  }

  large(card) {
    const shown = document.createElement("button");
    shown.type = "button";
    shown.className = "choice pinned-look";
    Object.assign(shown.dataset, { edits: card.dataset.edits, words: card.dataset.words });
    if (card.hasAttribute("aria-current")) shown.setAttribute("aria-current", "true");
    const image = document.createElement("img");
    image.src = `${card.dataset.picture}&large=1`;
    image.alt = "";
    const name = document.createElement("b");
    name.textContent = card.dataset.words;
    shown.append(image, name);
    return shown;
  }
}

// P on a card, or its button, pins it: whether that was meant.
export function pinned(event, beside) {
  const card =
    event.type === "keydown"
      ? event.target.closest(CARDS)
      : event.target.closest("[data-pin-card]")?.closest(".tryout-card").querySelector(CARDS);
  if (!card || (event.type === "keydown" && event.key.toLowerCase() !== "p")) return false;
  event.preventDefault();
  beside.turn(card);
  return true;
}
