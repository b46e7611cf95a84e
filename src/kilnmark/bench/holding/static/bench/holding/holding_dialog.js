// Marks that go may hold other things in or out: the designer says what becomes of that.

import { hear } from "../events.js";
import { store } from "../store.js";

function* limitsOf({ landing }) {
  yield* landing.limits;
}

function* allLimits({ ground, treatment }) {
  const parts = [ground, { treatment }, ...store.session.items];
  for (const part of parts) {
    if (part.landing) yield* limitsOf(part);
    for (const step of part.treatment) yield* limitsOf(step);
  }
}

const inside = (item) => [item.id, ...(item.members ?? []).flatMap(inside)];

document.addEventListener("alpine:init", () => {
  window.Alpine.data("holdingDialog", () => ({
    words: "",
    edit: null,
    label: "", // of its own: what is not named here would be written on the bench

    init() {
      hear("marks-going", (detail) => this.ask(detail));
    },

    // Only if something is held: otherwise they go at once.
    ask({ edit, label }) {
      Object.assign(this, { edit, label });
      const count = this.held(edit);
      if (!count) return void this.go({});
      this.words = `${this.named(edit)} ${edit.marks ? "hold" : "holds"} ${count === 1 ? "something" : `${count} others`} in or out.`;
      this.$root.showModal();
    },

    held(edit) {
      const { session } = store;
      const named = (edit.marks ?? [edit.mark ?? edit.group])
        .map((id) => session.mark(id))
        .filter(Boolean);
      const ids = new Set(edit.op === "ungroup" ? [edit.group] : named.flatMap(inside));
      return [...allLimits(session.document)].filter(({ mark }) => ids.has(mark)).length;
    },

    named(edit) {
      if (edit.marks) return "These marks";
      const item = store.session.mark(edit.mark ?? edit.group);
      return `“${(item?.name || item?.art?.text || "This mark").slice(0, 40)}”`;
    },

    region() {
      this.go({ holding: "region" });
    },
    drop() {
      this.go({});
    },

    go(more) {
      this.$root.close();
      store.session.change([{ ...this.edit, ...more }], this.label, { reload: true });
    },

    close() {
      this.$root.close();
    },
  }));
});
