// The line of changes on their way to be stored. A change that was let go is never dropped because nobody answers: it waits, in
// order, through reloads. One made on a state that is no longer the newest is made again on the newest; what cannot be is kept,
// to be made or let go.

import { passes, post } from "../../kilnmark/api.js";
import { say } from "../events.js";
import { benchName, forget, keep, left } from "./waiting.js";

const SOON_MS = 1000;
const LATER_MS = 8000;
const OFTEN = 4; // times that the server failed at one change: then it is told

const WORDS = {
  "undo/": "Undo",
  "redo/": "Redo",
  "lettering/": "Words brought in",
  "bring-in/": "Files brought in",
  "replace-everywhere/": "Art replaced everywhere",
};
export const wordsOf = ({ url, more }) => more?.label ?? WORDS[url] ?? "Back to a version";

const newToken = () =>
  [...crypto.getRandomValues(new Uint8Array(12))]
    .map((n) => n.toString(16).padStart(2, "0"))
    .join("");
const goesBack = ({ url }) => url === "undo/" || url === "redo/";

export class Line {
  constructor(session) {
    Object.assign(this, {
      session,
      changes: [],
      kept: [],
      busy: false,
      bench: "",
      made: Date.now(),
      tries: 0,
    });
    window.addEventListener("online", () => this.again());
    document.addEventListener("visibilitychange", () => document.hidden || this.again());
  }

  get waits() {
    return this.tries > 0 ? this.changes.length : 0;
  }

  // What an earlier visit of this page left waiting goes first.
  async takeUp() {
    this.bench = await benchName();
    const before = (await left(this.session.base, this.bench)).map((change) => ({
      ...change,
      options: { reload: true },
      done: () => {},
    }));
    this.kept = before.filter((change) => change.why);
    const waiting = before.filter((change) => !change.why);
    this.changes.unshift(...waiting);
    if (before.length) say("piece-saving");
    this.next();
  }

  enqueue(change) {
    const last = this.changes.at(-1);
    const goesOn =
      change.more?.visit &&
      last?.more?.visit === change.more.visit &&
      !(this.busy && this.changes.length === 1);
    return new Promise((done) => {
      if (goesOn) this.join(last, change, done);
      else this.append(change, done);
      this.store(this.changes.at(-1));
      say("piece-saving");
      this.next();
    });
  }

  append(change, done) {
    const version = this.changes.length ? null : this.session.version;
    this.changes.push({
      ...change,
      version,
      token: newToken(),
      base: this.session.base,
      bench: this.bench,
      made: this.made++,
      done,
    });
  }

  // Of one visit only the last waits. One that was sent before may be stored by now: it is another change then.
  join(last, change, done) {
    const { done: before } = last;
    if (last.version !== null) {
      forget(last.token);
      last.token = newToken();
    }
    Object.assign(last, {
      edits: change.edits,
      done: (answer) => {
        before(answer);
        done(answer);
      },
    });
  }

  store({ done, options, ...change }) {
    return keep(change);
  }

  again() {
    clearTimeout(this.timer);
    if (this.changes.length) this.next();
  }

  async next() {
    if (this.busy || !this.changes.length) return;
    this.busy = true;
    const change = this.changes[0];
    if (change.version === null) {
      change.version = this.session.version;
      await this.store(change);
    }
    const answer = await this.post(change);
    this.busy = false;
    if (passes(answer) || (answer.ok && !answer.data.version))
      return void this.wait(change, answer);
    this.tries = 0;
    if (answer.data.reason === "stale" && answer.data.newest)
      this.renew(change, answer.data.newest);
    else this.settle(change, answer);
    this.next();
  }

  async post(change) {
    const { files, url } = change;
    const told = files && ((sent, ended = false) => say("files-coming", { files, sent, ended }));
    told?.(0);
    const answer = await post(
      url.startsWith("/") ? url : this.session.base + url,
      body(change),
      told,
    );
    told?.(0, true);
    return answer;
  }

  // Nobody answers, or not now: what waits is kept, and sent again.
  wait(change, answer) {
    this.tries += 1;
    change.failures = answer.status === 500 ? (change.failures ?? 0) + 1 : 0;
    this.timer = setTimeout(() => this.next(), Math.min(SOON_MS * 2 ** (this.tries - 1), LATER_MS));
    const often =
      change.failures >= OFTEN &&
      `Kilnmark fails at “${wordsOf(change)}”. It is kept here and tried again.`;
    say("trouble-told", {
      message: often || answer.message,
      signedOut: answer.signedOut,
      waiting: Boolean(often),
    });
    say("piece-saving");
  }

  // Something else changed the piece: what waits is made again on how it is now. Undo and redo were of what was on screen.
  renew(change, newest) {
    for (const one of this.changes) Object.assign(one, { version: null, again: true });
    this.session.take(newest, { reload: true });
    if (goesBack(change))
      this.hold(change, "It was meant for a state that is no longer the newest.");
  }

  // Should the page end before it is forgotten, it is sent again, and known.
  settle(change, answer) {
    const { session } = this;
    if (!answer.ok && change.again) return void this.hold(change, answer.message, answer);
    this.changes.shift();
    forget(change.token);
    if (this.changes.length) this.changes[0].version = null;
    if (answer.ok) session.take(answer.data, change.options);
    else {
      say("trouble-told", { message: answer.message });
      say("piece-told", { ...change.options, refused: true, reload: true });
    }
    change.done(answer);
  }

  // What cannot be made again stands apart until it is made or let go; an undo of it has nothing to undo.
  hold(change, why, answer = { ok: false, data: {} }) {
    this.changes.shift();
    this.kept.push({ ...change, why });
    this.store(this.kept.at(-1));
    if (this.changes.length) this.changes[0].version = null;
    if (this.changes[0]?.url === "undo/")
      this.hold(this.changes[0], "What it would undo could not be made.");
    say("piece-told", { refused: true, reload: true });
    say("changes-kept");
    change.done(answer);
  }

  // One of those that are kept, made after all.
  make(token) {
    const change = this.kept.find((one) => one.token === token);
    this.letGo(token);
    const { url, edits, more, files, options } = change;
    return this.enqueue({ url, edits, more, files, options });
  }

  letGo(token) {
    const waiting = this.changes.findIndex((one) => one.token === token);
    if (waiting === 0 && this.busy) return; // it is on its way
    if (waiting >= 0) this.changes.splice(waiting, 1);
    this.kept = this.kept.filter((one) => one.token !== token);
    forget(token);
    say("changes-kept");
    say("piece-told", { refused: true, reload: true });
  }
}

function body({ files, edits, more, version, token }) {
  if (!files) return { version, token, ...(edits && { edits }), ...more };
  const form = new FormData();
  for (const file of files) form.append("file", file);
  for (const [name, value] of Object.entries(more ?? {})) form.append(name, value);
  form.append("version", version);
  form.append("token", token);
  return form;
}
