// The prep page: a chain of operations between a texture as it was found and as it is ready. Controls say what they draft
// and change; pictures follow as drafts while a control moves, exact once it rests.

import { chain } from "../chain.js";
import { dialogs } from "../dialogs.js";
import { nine } from "../nine.js";
import { pictures } from "../pictures.js";
import { view } from "../view.js";
import { get } from "../../kilnmark/api.js";
import { historyBar } from "../../bench/changes/history_bar.js";
import { withParts } from "../../controls/lib/with_parts.js";
import { NewestWins } from "../../bench/stage/live_picture.js";
import { Session } from "../../bench/changes/session.js";
import { hear } from "../../bench/events.js";
import { changeOf, draftOf } from "../../controls/lib/saying.js";
import { morph } from "../../controls/lib/morph.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("prep", () =>
    withParts(historyBar(), chain(), pictures(), view(), nine(), dialogs(), {
      stale: false,
      session: null,
      asked: 0,

      init() {
        const { session } = this.$root.dataset;
        this.session = new Session(
          session,
          JSON.parse(document.getElementById("snapshot").textContent),
        );
        this.chosen =
          this.$root.querySelector(".stage-open[aria-pressed=true]")?.dataset.choose ?? "found";
        hear("draft-moved", () => this.draw("draft"));
        for (const name of ["draft-moved", "piece-saving"])
          hear(name, () => {
            this.telling &&= "Catching up…";
          });
        this.pictures = new NewestWins((job, signal) => this.round(job, signal));
        this.listen((detail) => this.heard(detail));
        this.draw("draft", "all");
      },

      prep() {
        return this;
      }, // for whoever looks in from outside

      // --- what the server said ---

      troubled({ message, stale }) {
        Object.assign(this, { trouble: message, stale: Boolean(stale) });
      },

      heard({ refused }) {
        if (!refused) this.clearTrouble();
        if (!this.session.resting) return;
        this.load();
        this.draw("draft", "all");
      },

      url(name, more = {}) {
        const { base, query } = this.$root.dataset;
        const asked = new URLSearchParams({ ...(query && { path: query }), ...more });
        return `${base}${name}/${String(asked) && `?${asked}`}`;
      },

      async load() {
        this.asked += 1;
        const mine = this.asked;
        const answer = await get(this.url("sheet", { operation: this.chosen }));
        if (mine !== this.asked || this.session.queue.length) return; // a newer one is on its way, or will be
        if (!answer.ok) return void Object.assign(this, { trouble: answer.message });
        const fresh = document.createElement("div");
        fresh.innerHTML = answer.data;
        for (const part of ["chain", "form"])
          morph(
            this.$root.querySelector(`[data-${part}]`),
            fresh.querySelector(`[data-part=${part}]`).innerHTML,
          );
        this.chosen =
          this.$root.querySelector(".stage-open[aria-pressed=true]")?.dataset.choose ?? "found";
        this.draw("draft", "stages");
      },

      draft({ detail }) {
        draftOf(this.session, detail);
      },
      change({ detail }) {
        changeOf(this.session, { ...detail, reload: true });
      },

      keyed(event) {
        const typing = event.target.matches(
          "input:not([type=range],[type=checkbox]), textarea, select",
        );
        const key = event.key.toLowerCase();
        if (
          typing ||
          document.querySelector("dialog[open]") ||
          !(event.ctrlKey || event.metaKey) ||
          !["z", "y"].includes(key)
        )
          return;
        event.preventDefault();
        if (key === "y" || event.shiftKey) this.redo();
        else this.undo();
      },

      // --- dialogs ---

      clearTrouble() {
        Object.assign(this, { trouble: "", stale: false });
      },
      showNewest() {
        window.location.reload();
      },
    }),
  );
});
