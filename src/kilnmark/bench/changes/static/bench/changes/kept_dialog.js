// Changes that could not be made again on the newest state, and those that wait: each is made, or let go.

import { hear } from "../events.js";
import { store } from "../store.js";
import { wordsOf } from "./line.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("keptDialog", () => ({
    nothing: true,

    init() {
      hear("kept-wanted", () => this.open());
      hear("changes-kept", () => this.show());
    },

    open() {
      this.show();
      this.$root.showModal();
    },

    show() {
      const { kept, changes } = store.session.line;
      const rows = [
        ...kept.map((one) => this.row(one, one.why, true)),
        ...changes.map((one) => this.row(one, "Waits to be saved", false)),
      ];
      this.nothing = !rows.length;
      this.$root.querySelector("[data-kept]").replaceChildren(...rows);
    },

    row(change, why, canBeMade) {
      const row = document.createElement("li");
      const [name, reason] = [document.createElement("b"), document.createElement("span")];
      [name.textContent, reason.textContent] = [wordsOf(change), why];
      const acts = [
        canBeMade && this.button("Make it now", "make", change),
        this.button("Let it go", "letGo", change),
      ].filter(Boolean);
      row.append(name, reason, ...acts);
      return row;
    },

    button(words, act, { token }) {
      const button = document.createElement("button");
      Object.assign(button, {
        type: "button",
        className: "btn btn-quiet btn-sm",
        textContent: words,
      });
      Object.assign(button.dataset, { act, token });
      return button;
    },

    pressed({ target }) {
      const { act, token } = target.closest("[data-act]")?.dataset ?? {};
      if (act) store.session.line[act](token);
      this.show();
      if (act && this.nothing) this.$root.close();
    },

    close() {
      this.$root.close();
    },
  }));
});
