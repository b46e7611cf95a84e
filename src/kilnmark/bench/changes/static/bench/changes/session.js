// The piece as the browser knows it: the stored state, the changes on their way, and the draft under the hand.

import { hear, say } from "../events.js";
import { getJson } from "../../kilnmark/api.js";
import { Line } from "./line.js";

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

const same = (a, b) => JSON.stringify(a) === JSON.stringify(b);

export class Session {
  constructor(base, snapshot) {
    this.base = base;
    this.snapshot = snapshot;
    this.draftEdits = [];
    this.begun = null; // what a hand has begun and not yet let go of
    this.line = new Line(this);
    window.addEventListener("pagehide", () => this.flush());
    document.addEventListener("visibilitychange", () => document.hidden && this.flush());
    window.addEventListener("beforeunload", (event) => this.queue.length && event.preventDefault());
    this.takenUp = this.line.takeUp();
  }

  get version() {
    return this.snapshot.version;
  }
  get document() {
    return this.snapshot.document;
  }
  get queue() {
    return this.line.changes;
  } // changes not yet answered, oldest first
  get waits() {
    return this.line.waits;
  }
  get resting() {
    return !this.queue.length && !this.begun;
  }

  // All that is not stored yet; of several values for one place only the last.
  get unsaved() {
    const edits = [...this.queue.flatMap((change) => change.edits ?? []), ...this.draftEdits];
    const last = new Map(edits.map((edit, n) => [JSON.stringify(edit.path), n]));
    return edits.filter(
      (edit, n) => edit.op !== "set" || last.get(JSON.stringify(edit.path)) === n,
    );
  }

  draft(edits) {
    this.draftEdits = edits;
    say("draft-moved");
  }

  dropDraft() {
    this.draftEdits = [];
    say("draft-moved");
  }

  // Done when the hand rests, and before anything else is done: a nudge, a key held down on a slider.
  later(work, delay, of = "") {
    clearTimeout(this.begun?.timer);
    this.begun = { work, of, timer: setTimeout(() => this.flush(), delay) };
    say("piece-saving");
  }

  // Another hand takes hold: what the one before began is stored first.
  handOver(of) {
    if (this.begun?.of !== of) this.flush();
  }

  flush() {
    const { begun } = this;
    if (!begun) return;
    clearTimeout(begun.timer);
    this.begun = null;
    begun.work();
  }

  change(edits, label, { visit, ...options } = {}) {
    this.flush();
    this.draftEdits = [];
    const change = { url: "change/", edits, more: { label, ...(visit && { visit }) }, options };
    return this.line.enqueue(change);
  }

  // As `change`, unless it says what is there already; what waits may still change that, so then it is said all the same.
  changeValues(edits, label, options) {
    this.flush();
    const there = (edit) => edit.op === "set" && same(this.at(edit.path), edit.value);
    if (this.queue.length === 0 && edits.every(there)) return void this.dropDraft();
    return this.change(edits, label, options);
  }

  undo() {
    return this.send({ url: "undo/", options: { reload: true } });
  }
  redo() {
    return this.send({ url: "redo/", options: { reload: true } });
  }
  addLettering(text) {
    return this.send({ url: "lettering/", more: { text }, options: { added: true } });
  }
  // Back to a pinned version, by its address.
  restore(url) {
    return this.send({ url, options: { reload: true } });
  }
  replaceEverywhere(mark, art, fit) {
    return this.send({
      url: "replace-everywhere/",
      more: { mark, art, fit },
      options: { reload: true },
    });
  }
  // place : what they become, marks or the ground; x, y : where a single one was dropped.
  bringIn(files, place = {}) {
    const options = place.as === "ground" ? { reload: true } : { added: true };
    return this.send({ url: "bring-in/", files: [...files], more: place, options });
  }

  send(change) {
    this.flush();
    return this.line.enqueue(change);
  }

  again() {
    this.line.again();
  }

  // Whether all that was changed is stored, once nothing is on its way any more; false if it waits.
  settled() {
    this.flush();
    if (this.resting) return Promise.resolve(true);
    return new Promise((done) => {
      const look = () => {
        if (!this.resting && !this.waits) return;
        for (const end of ended) end();
        done(this.resting);
      };
      const ended = ["piece-told", "piece-saving"].map((name) => hear(name, look));
    });
  }

  // The newest state, when something else has changed the piece.
  async renew() {
    const answer = await getJson(`${this.base}snapshot/`);
    if (answer.ok && answer.data.version > this.version)
      this.take(answer.data, { reload: true, elsewhere: true });
  }

  take(snapshot, options = {}) {
    this.snapshot = snapshot;
    say("piece-told", options);
    if (options.elsewhere)
      say("trouble-told", {
        message: "This piece was changed elsewhere, perhaps in another tab. Here is how it is now.",
      });
    if (snapshot.note) say("trouble-told", { message: snapshot.note });
  }

  // The value at a path, lists addressed by the ids of what they hold.
  at(path) {
    return path.reduce(
      (node, key) => (Array.isArray(node) ? node.find((item) => item.id === key) : node?.[key]),
      this.document,
    );
  }

  // The same with what is not stored yet.
  meant(path) {
    const edit = this.unsaved.findLast((one) => one.op === "set" && same(one.path, path));
    return edit ? edit.value : this.at(path);
  }

  // A mark or group by its id, and the way to it in the document.
  mark(id) {
    return this.at(this.wayTo(id));
  }

  wayTo(id) {
    return wayWithin(this.document.stack, "stack", id) ?? ["stack", id];
  }

  // The groups that an item is in, the outermost first.
  groupsAround(id) {
    const way = this.wayTo(id);
    return way
      .slice(0, -2)
      .filter((_, n) => n % 2)
      .map((_, n) => this.at(way.slice(0, 2 * n + 2)));
  }

  // All marks and groups, a group before its members.
  get items() {
    return [...within(this.document.stack)];
  }
}
