// The bar of whatever has a history: its title, whether it is saved, undo, redo, and what went wrong. A part of a component
// with a `session`; `heard` is called with what the server said.

import { hear } from "../events.js";

export const historyBar = () => ({
  title: "",
  saved: "",
  undoLabel: "",
  redoLabel: "",
  trouble: "",
  unsaved: false,

  listen(heard) {
    hear("piece-told", (detail) => {
      this.showHistory();
      heard(detail);
    });
    hear("piece-saving", () => this.saving());
    hear("trouble-told", (detail) => this.troubled(detail));
    this.showHistory();
  },

  showHistory() {
    const { title, saved, undo, redo } = this.session.snapshot;
    Object.assign(this, { title, undoLabel: undo, redoLabel: redo });
    Object.assign(this, { saved: `saved ${saved}`, unsaved: false });
  },
  saving() {
    const { waits } = this.session;
    const waiting = `${waits} ${waits === 1 ? "change waits" : "changes wait"} to be saved`;
    Object.assign(this, { saved: waits ? waiting : "saving…", unsaved: true });
  },

  undo() {
    if (!this.cannotUndo) this.session.undo();
  },
  redo() {
    if (this.redoLabel) this.session.redo();
  },
  // What is on its way can be undone too.
  get cannotUndo() {
    return !this.undoLabel && !this.unsaved;
  },
  get cannotRedo() {
    return !this.redoLabel;
  },
  get undoTitle() {
    return `Undo: ${this.undoLabel}`;
  },
  get redoTitle() {
    return `Redo: ${this.redoLabel}`;
  },
});
