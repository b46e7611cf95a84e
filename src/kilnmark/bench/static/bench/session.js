// The piece as the browser knows it: the stored state, the changes on their way, and the draft under the hand.

import { post } from "./api.js";

export class Session extends EventTarget {
  constructor(base, told) {
    super();
    this.base = base;
    this.told = told;
    this.queue = []; // changes not yet answered, oldest first
    this.draftEdits = [];
    this.busy = false;
  }

  get version() { return this.told.version; }
  get document() { return this.told.document; }
  get unsaved() { return [...this.queue.flatMap((change) => change.edits), ...this.draftEdits]; }

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
    return this.enqueue({ edits, label, url: "change/", options });
  }

  undo() { return this.enqueue({ edits: [], url: "undo/", options: { reload: true } }); }
  redo() { return this.enqueue({ edits: [], url: "redo/", options: { reload: true } }); }
  addLettering(text) { return this.enqueue({ edits: [], url: "lettering/", more: { text }, options: { added: true } }); }

  async addSvg(file) {
    const form = new FormData();
    form.append("file", file);
    form.append("version", this.version);
    return this.take(await post(`${this.base}svg/`, form), { added: true });
  }

  enqueue(change) {
    return new Promise((done) => {
      this.queue.push({ ...change, done });
      this.say("saving");
      this.next();
    });
  }

  async next() {
    if (this.busy || !this.queue.length) return;
    this.busy = true;
    const { url, edits, label, more, options, done } = this.queue[0];
    const answer = await post(this.base + url, { version: this.version, edits, label, ...more });
    this.queue.shift();
    this.busy = false;
    if (!answer.ok) this.queue.splice(0).forEach((waiting) => waiting.done(answer));
    done(this.take(answer, options));
    this.next();
  }

  take(answer, options) {
    if (answer.ok) {
      this.told = answer.data;
      this.say("told", options);
      if (answer.data.note) this.say("trouble", { message: answer.data.note });
    } else {
      this.say("trouble", { message: answer.message, stale: answer.data.reason === "stale" });
      this.say("told", { ...options, refused: true, reload: true });
    }
    return answer;
  }

  // The value at a path, lists addressed by the ids of what they hold.
  at(path) {
    return path.reduce((node, key) => (Array.isArray(node) ? node.find((item) => item.id === key) : node?.[key]), this.document);
  }

  // A mark or group by its id, and the way to it in the document.
  mark(id) { return this.at(this.wayTo(id)); }

  wayTo(id) {
    const group = this.document.stack.find((item) => item.members?.some((member) => member.id === id));
    return group ? ["stack", group.id, "members", id] : ["stack", id];
  }

  say(name, detail = {}) { this.dispatchEvent(new CustomEvent(name, { detail })); }
}
