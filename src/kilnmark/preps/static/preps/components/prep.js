// The prep page: a chain of operations between a texture as it was found and as it is ready. Controls say what they draft
// and change; pictures follow as drafts while a control moves, exact once it rests.

import { get, getJson, picture, post } from "../../kilnmark/api.js";
import { historyBar } from "../../bench/changes/history_bar.js";
import { withParts } from "../../controls/lib/with_parts.js";
import { NewestWins, fill } from "../../bench/stage/live_picture.js";
import { Session } from "../../bench/changes/session.js";
import { hear } from "../../bench/events.js";
import { changeOf, draftOf } from "../../controls/lib/saying.js";
import { morph } from "../../controls/lib/morph.js";

const REST_MS = 180;
const AGAIN_MS = 2500;
const PAN_STEP = 0.05;

document.addEventListener("alpine:init", () => {
  window.Alpine.data("prep", () =>
    withParts(historyBar(), {
      stale: false,
      telling: "",
      readings: "",
      way: "fit",
      chosen: "",
      nineSettings: [],
      session: null,
      x: 0.5,
      y: 0.5,
      pictures: null,
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

      // --- what is done ---

      draft({ detail }) {
        draftOf(this.session, detail);
      },
      change({ detail }) {
        changeOf(this.session, { ...detail, reload: true });
      },

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
        else if (event.altKey && acts[event.key])
          this.moveBy(choose, event.key === "ArrowUp" ? -1 : 1);
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
          this.session.change(
            [{ op: "move_operation", path: this.path, operation: id, to }],
            "Moved",
          );
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

      // --- pictures ---

      // What is wanted newest comes next. All of it stays wanted until it is drawn.
      draw(quality, what = "") {
        clearTimeout(this.timer);
        const all = this.pictures.wanted?.what === "all" || this.pictures.running?.left;
        this.pictures.want({ quality, what: all ? "all" : what, yields: quality === "exact" });
      },

      async round(job, signal) {
        job.left = job.what === "all";
        if (!(await this.drawn(job, signal))) return;
        job.left = false;
        if (job.quality === "draft") this.timer = setTimeout(() => this.draw("exact"), REST_MS);
      },

      // Whether all of it was drawn.
      async drawn({ quality, what }, signal) {
        const order = { ready: 0, here: 1, wear: 1, coat: 2, found: 3, stage: 4 };
        const wanted = [...this.$root.querySelectorAll("canvas[data-shown]")]
          .filter(({ dataset: { shown } }) =>
            quality === "exact"
              ? !["stage", "found"].includes(shown)
              : what === "stages"
                ? shown === "stage"
                : what === "all" || shown !== "found",
          )
          .sort((a, b) => order[a.dataset.shown] - order[b.dataset.shown]);
        for (const canvas of wanted) {
          const answer = await this.drawOne(canvas, quality, signal);
          if (!answer.ok && !answer.aborted && !this.pictures.overtaken) this.failed(answer);
          if (this.pictures.overtaken || !answer.ok) return false;
          if (canvas.dataset.shown === "ready")
            this.telling = quality === "exact" ? "Exact" : "Draft";
        }
        if (quality === "exact") await this.measure();
        return true;
      },

      async drawOne(canvas, quality, signal) {
        const { shown, stage, width, height } = canvas.dataset;
        const trial = ["wear", "coat", "here"].includes(shown);
        const size = {
          width: Number(width),
          height: Number(height),
          quality,
          edits: this.session.unsaved,
        };
        const look = shown === "ready" ? { way: this.way, x: this.x, y: this.y } : {};
        const at =
          shown === "found" ? { stage: 0 } : shown === "stage" ? { stage: Number(stage) } : {};
        const asked = trial
          ? { ...size, kind: shown, ...(shown === "here" ? {} : this.triedOn) }
          : { ...size, ...look, ...at };
        const answer = await picture(this.url(trial ? "trial" : "picture"), asked, signal);
        if (answer.ok) this.put(canvas, answer.image);
        return answer;
      },

      put(canvas, image) {
        fill(canvas, image);
        canvas.dataset.there = "";
      },

      failed(answer) {
        this.trouble = answer.message;
        if (answer.status === 0 || answer.status >= 500)
          this.timer = setTimeout(() => this.draw("exact"), AGAIN_MS);
      },

      async measure() {
        const answer = await getJson(this.url("ready"));
        if (answer.ok && !this.session.unsaved.length) this.readings = answer.data.told.join(" · ");
      },

      get triedOn() {
        const at = (name) => this.$root.querySelector(`[data-trial-${name}]`).value;
        const mm = Math.min(Math.max(Number(at("mm")) || 18, 2), 200);
        return { words: at("words"), artwork: at("art"), mm };
      },
      tryOn() {
        this.draw("draft");
      },

      look({ currentTarget }) {
        this.way = currentTarget.dataset.way;
        this.draw("draft");
      },
      get isFit() {
        return String(this.way === "fit");
      },
      get isTrue() {
        return String(this.way === "true");
      },
      get isTiled() {
        return String(this.way === "tiled");
      },
      get panIndex() {
        return this.way === "true" ? "0" : "-1";
      },

      pan(event) {
        if (this.way !== "true") return;
        const canvas = event.currentTarget;
        canvas.setPointerCapture(event.pointerId);
        const from = { x: event.clientX, y: event.clientY, atX: this.x, atY: this.y };
        const [wide, tall] = this.size;
        const follow = (moved) =>
          this.panTo(
            from.atX - (moved.clientX - from.x) / wide,
            from.atY - (moved.clientY - from.y) / tall,
          );
        canvas.addEventListener("pointermove", follow);
        canvas.addEventListener(
          "lostpointercapture",
          () => canvas.removeEventListener("pointermove", follow),
          { once: true },
        );
      },
      get size() {
        return [Number(this.$root.dataset.wide), Number(this.$root.dataset.tall)];
      },
      panKeyed(event) {
        const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[
          event.key
        ];
        if (!way || this.way !== "true") return;
        event.preventDefault();
        this.panTo(this.x + way[0] * PAN_STEP, this.y + way[1] * PAN_STEP);
      },
      panTo(x, y) {
        Object.assign(this, { x: Math.min(Math.max(x, 0), 1), y: Math.min(Math.max(y, 0), 1) });
        this.draw("draft");
      },

      // --- dialogs ---

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

      openNine({ currentTarget }) {
        this.nineSettings = JSON.parse(currentTarget.dataset.nine);
        const select = this.$root.querySelector("[data-nine-of]");
        select.replaceChildren(
          ...this.nineSettings.map(({ title }, n) => new Option(title, String(n))),
        );
        this.openDialog("nine");
        this.fillNine();
      },

      async fillNine() {
        const setting = this.nineSettings[Number(this.$root.querySelector("[data-nine-of]").value)];
        const list = this.$root.querySelector("[data-nine-list]");
        const now = this.session.at(setting.path);
        const nearest = setting.values.reduce(
          (best, value) => (Math.abs(value - now) < Math.abs(best - now) ? value : best),
          setting.values[0],
        );
        list.replaceChildren(
          ...setting.values.map((value) => this.nineCard(setting, value, value === nearest)),
        );
        list.querySelector("[aria-pressed=true]")?.focus();
        for (const button of Array.from(list.children)) {
          const edits = [
            ...this.session.unsaved,
            { op: "set", path: setting.path, value: Number(button.dataset.value) },
          ];
          const answer = await picture(this.url("picture"), {
            edits,
            width: 300,
            height: 168,
            way: this.way,
            x: this.x,
            y: this.y,
          });
          if (!button.isConnected) return;
          if (answer.ok) this.put(button.querySelector("canvas"), answer.image);
        }
      },

      nineCard({ path, factor, unit }, value, pressed) {
        const button = document.createElement("button");
        Object.assign(button, { type: "button", className: "nine-card" });
        Object.assign(button.dataset, { value, path: JSON.stringify(path) });
        button.setAttribute("aria-pressed", String(pressed));
        const name = document.createElement("span");
        name.textContent = `${Number((value * factor).toPrecision(3))} ${unit}`.trim();
        button.append(document.createElement("canvas"), name);
        return button;
      },

      takeNine(event) {
        const button = event.target.closest(".nine-card");
        if (!button) return;
        this.dialog("nine").close();
        this.session.change(
          [
            {
              op: "set",
              path: JSON.parse(button.dataset.path),
              value: Number(button.dataset.value),
            },
          ],
          "One of nine",
        );
      },

      clearTrouble() {
        Object.assign(this, { trouble: "", stale: false });
      },
      showNewest() {
        window.location.reload();
      },
    }),
  );
});
