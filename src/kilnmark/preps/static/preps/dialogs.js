// Dialogs of the page: operations to add, keeping, named preps, where it is used.

import { get, post } from "../kilnmark/api.js";

export const dialogs = () => ({
  dialog(name) {
    return this.$root.querySelector(`[data-dialog=${name}]`);
  },

  openDialog(name) {
    this.dialog(name).showModal();
  },

  openSaving() {
    this.openDialog("saving");
  },

  openKeeping() {
    this.openDialog("keeping");
  },

  openPreps() {
    this.openDialog("preps");
  },

  closeDialog({ currentTarget }) {
    currentTarget.closest("dialog").close();
  },

  addChosen(event) {
    const button = event.target.closest("[data-edit]");
    if (!button) return;
    button.closest("dialog").close();
    this.act(button, { at: this.ids.indexOf(this.chosen) + 1 || this.after });
  },

  async openUses() {
    const list = this.$root.querySelector("[data-uses]");
    const answer = await get(this.url("uses"));
    list.innerHTML = answer.ok ? answer.data : "";
    this.$root.querySelector("[data-everywhere]").disabled = !list.querySelector("li");
    this.openDialog("uses");
  },

  async everywhere() {
    const answer = await post(this.url("everywhere"), {});
    this.dialog("uses").close();
    const { count } = answer.data;
    this.trouble = answer.ok
      ? `Prepared so on ${count} piece${count === 1 ? "" : "s"}. Each can undo it.`
      : answer.message;
    this.stale = answer.ok && Boolean(this.$root.dataset.query); // this piece has one more state
  },
});
