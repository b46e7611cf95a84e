// The piece as the browser knows it: the stored state, the changes on their way, and the draft under the hand.
// A change that was let go is never dropped because nobody answers: it waits, in order, and is sent again.

import { passes, post } from "./api.js";
import { benchName, forget, keep, left } from "./waiting.js";

const SOON_MS = 1000;
const LATER_MS = 8000;
const MOST_FAILURES = 4; // of the server at one change: then it is that change

const newToken = () => [...crypto.getRandomValues(new Uint8Array(12))].map((n) => n.toString(16).padStart(2, "0")).join("");

function wayWithin(items, name, id) {
  for (const item of items) {
    if (item.id === id) return [name, id];
    const inner = item.members && wayWithin(item.members, "members", id);
    if (inner) return [name, item.id, ...inner];
  }
  return null;
}

function* within(items) {
  for (const item of items) {
    yield item;
    if (item.members) yield* within(item.members);
  }
}

export class Session extends EventTarget {
  constructor(base, snapshot) {
    super();
    this.base = base;
    this.snapshot = snapshot;
    this.queue = []; // changes not yet answered, oldest first
    this.draftEdits = [];
    this.busy = false;
    this.bench = "";
    this.made = Date.now();
    this.tries = 0;
    window.addEventListener("online", () => this.again());
    document.addEventListener("visibilitychange", () => document.hidden || this.again());
    window.addEventListener("beforeunload", (event) => this.queue.length && event.preventDefault());
    this.takenUp = this.takeUp();
  }

  get version() { return this.snapshot.version; }
  get document() { return this.snapshot.document; }
  get waits() { return this.tries > 0 ? this.queue.length : 0; }

  // All that is not stored yet; of several values for one place only the last.
  get unsaved() {
    const edits = [...this.queue.flatMap((change) => change.edits ?? []), ...this.draftEdits];
    const last = new Map(edits.map((edit, n) => [JSON.stringify(edit.path), n]));
    return edits.filter((edit, n) => edit.op !== "set" || last.get(JSON.stringify(edit.path)) === n);
  }

  draft(edits) {
    this.draftEdits = edits;
    this.say("draft");
  }

  dropDraft() {
    this.draftEdits = [];
    this.say("draft");
  }

  change(edits, label, options = {}) {
    this.draftEdits = [];
    return this.enqueue({ url: "change/", edits, more: { label }, options });
  }

  undo() { return this.enqueue({ url: "undo/", options: { reload: true } }); }
  redo() { return this.enqueue({ url: "redo/", options: { reload: true } }); }
  addLettering(text) { return this.enqueue({ url: "lettering/", more: { text }, options: { added: true } }); }
  // Back to a pinned version, by its address.
  restore(url) { return this.enqueue({ url, options: { reload: true } }); }
  replaceEverywhere(mark, art, fit) { return this.enqueue({ url: "replace-everywhere/", more: { mark, art, fit }, options: { reload: true } }); }
  // place : what they become, marks or the ground; x, y : where a single one was dropped.
  bringIn(files, place = {}) {
    const options = place.as === "ground" ? { reload: true } : { added: true };
    return this.enqueue({ url: "bring-in/", files: [...files], more: place, options });
  }

  // What an earlier visit of this page left waiting goes first.
  async takeUp() {
    this.bench = await benchName();
    const before = await left(this.base, this.bench);
    if (!before.length) return;
    this.queue.unshift(...before.map((change) => ({ ...change, options: { reload: true }, done: () => {} })));
    this.say("saving");
    this.next();
  }

  enqueue(change) {
    return new Promise((done) => {
      const version = this.queue.length ? null : this.version;
      this.queue.push({ ...change, version, token: newToken(), base: this.base, bench: this.bench, made: this.made++, done });
      this.store(this.queue.at(-1));
      this.say("saving");
      this.next();
    });
  }

  store({ done, options, ...change }) { return keep(change); }

  again() {
    clearTimeout(this.timer);
    if (this.queue.length) this.next();
  }

  async next() {
    if (this.busy || !this.queue.length) return;
    this.busy = true;
    const change = this.queue[0];
    if (change.version === null) {
      change.version = this.version;
      await this.store(change);
    }
    const answer = await post(change.url.startsWith("/") ? change.url : this.base + change.url, this.body(change));
    this.busy = false;
    if (passes(answer) && !(answer.status === 500 && this.failures(change) >= MOST_FAILURES)) return void this.wait(answer);
    this.tries = 0;
    this.settle(change, answer);
    this.next();
  }

  body({ files, edits, more, version, token }) {
    if (!files) return { version, token, ...(edits && { edits }), ...more };
    const form = new FormData();
    for (const file of files) form.append("file", file);
    for (const [name, value] of Object.entries(more ?? {})) form.append(name, value);
    form.append("version", version);
    form.append("token", token);
    return form;
  }

  failures(change) {
    change.failures = (change.failures ?? 0) + 1;
    return change.failures;
  }

  // Nobody answers, or not now: what waits is kept, and sent again.
  wait(answer) {
    this.tries += 1;
    this.timer = setTimeout(() => this.next(), Math.min(SOON_MS * 2 ** (this.tries - 1), LATER_MS));
    this.say("trouble", { message: answer.message, signedOut: answer.signedOut });
    this.say("saving");
  }

  // Should the page end before it is forgotten, it is sent again, and known.
  settle(change, answer) {
    const gone = answer.data.reason === "stale" ? this.queue.splice(0) : this.queue.splice(0, 1);
    for (const { token } of gone) forget(token);
    if (this.queue.length) this.queue[0].version = null;
    this.take(answer, change.options);
    for (const one of gone) one.done(answer);
  }

  take(answer, options) {
    if (answer.ok) {
      this.snapshot = answer.data;
      this.say("told", options);
      if (answer.data.note) this.say("trouble", { message: answer.data.note });
    } else {
      this.say("trouble", { message: answer.message, stale: answer.data.reason === "stale" });
      this.say("told", { ...options, refused: true, reload: true });
    }
  }

  // The value at a path, lists addressed by the ids of what they hold.
  at(path) {
    return path.reduce((node, key) => (Array.isArray(node) ? node.find((item) => item.id === key) : node?.[key]), this.document);
  }

  // A mark or group by its id, and the way to it in the document.
  mark(id) { return this.at(this.wayTo(id)); }

  wayTo(id) { return wayWithin(this.document.stack, "stack", id) ?? ["stack", id]; }

  // The groups that an item is in, the outermost first.
  groupsAround(id) {
    const way = this.wayTo(id);
    return way.slice(0, -2).filter((_, n) => n % 2).map((_, n) => this.at(way.slice(0, 2 * n + 2)));
  }

  // All marks and groups, a group before its members.
  get items() { return [...within(this.document.stack)]; }

  say(name, detail = {}) { this.dispatchEvent(new CustomEvent(name, { detail })); }
}
