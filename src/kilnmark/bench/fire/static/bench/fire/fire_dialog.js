// The fire dialog: ask for the file, watch the kiln, save what came out.

import { hear } from "../events.js";
import { once } from "../../controls/lib/once.js";
import { getJson, post } from "../../kilnmark/api.js";
import { store } from "../store.js";

const LOOK_MS = 400;
const UNDER_WAY = ["waiting", "running"];

document.addEventListener("alpine:init", () => {
  window.Alpine.data("fireDialog", () => ({
    ppi: "",
    size: "",
    title: "file",
    telling: "",
    progress: 0,
    stage: "idle",
    file: "",
    id: null,
    stopping: false,
    content: "piece",
    fileFormat: "png",

    init() {
      hear("fire-wanted", () => this.open());
      for (const name of ["piece-told", "piece-saving", "draft-moved"])
        hear(name, () => this.changed());
    },

    get canStart() {
      return !UNDER_WAY.includes(this.stage) && this.stage !== "done";
    },
    get canStop() {
      return UNDER_WAY.includes(this.stage);
    },
    get canSave() {
      return this.stage === "done";
    },
    get watched() {
      return this.stage !== "idle";
    },
    get isWhole() {
      return this.content === "piece";
    },
    get contentTold() {
      return this.told(`[data-fire-content] [value="${this.content}"]`);
    },
    get formatTold() {
      return this.told(`[data-fire-format] [value="${this.fileFormat}"]`);
    },
    told(option) {
      return this.$root.querySelector(option)?.dataset.sentence ?? "";
    },
    get saveWords() {
      return `Save the ${this.title}`;
    },
    get withGround() {
      return this.$root.querySelector("[name=with-ground]:checked").value === "yes";
    },

    async open() {
      this.measure();
      this.$root.showModal();
      if (UNDER_WAY.includes(this.stage)) return;
      this.idle();
      const { ok, data } = await getJson(this.$root.dataset.fire);
      if (
        ok &&
        data.id &&
        this.stage === "idle" &&
        (UNDER_WAY.includes(data.stage) ||
          (data.current &&
            data.with_ground === this.withGround &&
            data.file_format === this.fileFormat &&
            data.content === this.content))
      )
        this.follow(data);
    },

    // As large as the piece is now.
    measure() {
      const {
        ppi,
        size_px: [width, height],
      } = store.session.document;
      Object.assign(this, { ppi: String(ppi), size: `${width} × ${height} px` });
    },

    // What was fired is of the state before: the next file is another one.
    changed() {
      this.measure();
      if (!UNDER_WAY.includes(this.stage)) this.idle();
    },

    idle() {
      Object.assign(this, { stage: "idle", telling: "", progress: 0, id: null, stopping: false });
    },

    start: once(async function start() {
      const { session } = store;
      this.idle();
      Object.assign(this, {
        stage: "waiting",
        telling: "Waiting for what you changed to be saved",
      });
      this.focusOn("[data-fire-stop]");
      if (!(await session.settled()))
        return void this.fail(
          "What you changed still waits to be saved. Make the file when it is.",
        );
      const answer = await post(this.$root.dataset.fire, {
        with_ground: this.withGround,
        file_format: this.fileFormat,
        content: this.content,
        version: session.version,
      });
      if (!answer.ok) {
        if (answer.data?.reason === "stale") session.renew();
        return void this.fail(answer.message);
      }
      this.follow(answer.data);
    }),

    fail(telling) {
      Object.assign(this, { stage: "failed", telling });
      this.focusOn("[data-fire-start]");
    },

    follow(data) {
      this.title = data.format_title;
      this.id = data.id;
      this.stage = data.stage;
      if (this.stopping) this.stop();
      this.watch(data.id);
    },

    // Also before it is known which firing it is.
    stop() {
      this.stopping = !this.id;
      if (this.id) post(`${this.$root.dataset.firings}${this.id}/stop/`, {});
    },

    async watch(id) {
      const { ok, data, message } = await getJson(`${this.$root.dataset.firings}${id}/status/`);
      if (id !== this.id) return;
      if (!ok) {
        this.telling = message; // nobody answers, for now: the firing goes on
        return void setTimeout(() => this.watch(id), 5 * LOOK_MS);
      }
      Object.assign(this, {
        progress: data.progress,
        stage: data.stage,
        telling: this.words(data),
      });
      if (UNDER_WAY.includes(data.stage)) return void setTimeout(() => this.watch(id), LOOK_MS);
      this.file = `${this.$root.dataset.firings}${id}/file/`;
      const next = data.stage === "done" ? "[data-fire-file]" : "[data-fire-start]";
      if (
        this.$root.open &&
        [document.body, this.$root.querySelector("[data-fire-stop]")].includes(
          document.activeElement,
        )
      )
        this.focusOn(next);
    },

    words({ stage, stage_label: label, progress, bytes, seconds, message }) {
      if (stage === "done")
        return `Fired: ${(bytes / 1e6).toFixed(1)} MB in ${seconds.toFixed(1)} s`;
      return message || `${label}${stage === "running" ? `, ${Math.round(progress * 100)} %` : ""}`;
    },

    // What was hidden is shown with the next frame, and takes no focus before.
    focusOn(button) {
      const focus = () => this.$root.querySelector(button).focus();
      this.$nextTick(() => requestAnimationFrame(() => requestAnimationFrame(focus)));
    },

    close() {
      this.$root.close();
    },
  }));
});
