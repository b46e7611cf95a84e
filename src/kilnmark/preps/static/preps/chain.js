// What is done with the chain: an operation chosen, added, moved, removed.

export const chain = () => ({
  chosen: "",

  // A button that says which edit it makes; an operation more comes after the chosen one.
  act(button, more = {}) {
    const { edit, label } = button.dataset;
    if (!edit) return;
    const known = new Set(this.ids);
    return this.session
      .change([{ ...JSON.parse(edit), ...more }], label, { reload: true })
      .then(() => {
        const fresh = this.ids.find((id) => !known.has(id));
        if (fresh) this.choose(fresh);
      });
  },

  get after() {
    return this.chosen === "found" ? 0 : this.ids.length;
  },

  get ids() {
    return (this.session.at(this.path) ?? []).map((one) => one.id);
  },

  get path() {
    return this.$root.dataset.query
      ? [...JSON.parse(this.$root.dataset.query), "chain"]
      : ["chain"];
  },

  clicked(event) {
    const button = event.target.closest("button");
    if (!button) return;
    if (button.dataset.choose) this.choose(button.dataset.choose);
    else if (button.dataset.edit) this.act(button);
    else if ("add" in button.dataset) this.openDialog("add");
  },

  choose(id) {
    this.chosen = id;
    this.load();
  },

  // Alt with an arrow moves the operation, arrows choose, Delete removes.
  chainKeyed(event) {
    const open = event.target.closest(".stage-open");
    if (!open) return;
    const acts = { ArrowUp: "earlier", ArrowDown: "later" };
    const all = [...this.$root.querySelectorAll(".stage-open")];
    const { choose } = open.dataset;
    if (event.key === "Delete" && choose !== "found")
      this.session.change(
        [{ op: "remove_operation", path: this.path, operation: choose }],
        "Removed",
      );
    else if (event.altKey && acts[event.key]) this.moveBy(choose, event.key === "ArrowUp" ? -1 : 1);
    else if (acts[event.key])
      all[
        Math.min(
          Math.max(all.indexOf(open) + (event.key === "ArrowUp" ? -1 : 1), 0),
          all.length - 1,
        )
      ].focus();
    else return;
    event.preventDefault();
  },

  moveBy(id, by) {
    const to = this.ids.indexOf(id) + by;
    if (to >= 0 && to < this.ids.length)
      this.session.change([{ op: "move_operation", path: this.path, operation: id, to }], "Moved");
  },

  lift(event) {
    const item = event.target.closest("[data-lift]");
    if (item) event.dataTransfer.setData("text/x-operation", item.dataset.lift);
  },

  over(event) {
    if (event.dataTransfer.types.includes("text/x-operation")) event.preventDefault();
  },

  drop(event) {
    const id = event.dataTransfer.getData("text/x-operation");
    const place = event.target.closest("[data-place]")?.dataset.place;
    if (!id || place === undefined) return;
    event.preventDefault();
    this.session.change(
      [{ op: "move_operation", path: this.path, operation: id, to: Number(place) }],
      "Moved",
    );
  },
});
