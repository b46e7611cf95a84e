// The fire dialog: ask for the file, watch the kiln, save what came out.

import { getJson, post } from "../api.js";
import { context } from "../context.js";

const LOOK_MS = 400;
const UNDER_WAY = ["waiting", "running"];

document.addEventListener("alpine:init", () => {
  window.Alpine.data("fireDialog", () => ({
    ppi: "", telling: "", progress: 0, stage: "idle", file: "",

    init() { context.openFire = () => this.open(); },

    get canStart() { return !UNDER_WAY.includes(this.stage) && this.stage !== "done"; },
    get canStop() { return UNDER_WAY.includes(this.stage); },
    get canSave() { return this.stage === "done"; },
    get watched() { return this.stage !== "idle"; },

    open() {
      this.ppi = String(context.session.document.ppi);
      this.idle();
      this.$root.showModal();
    },

    idle() { Object.assign(this, { stage: "idle", telling: "", progress: 0 }); },

    async start() {
      const withGround = this.$root.querySelector("[name=with-ground]:checked").value === "yes";
      const { fire } = this.$root.dataset;
      const answer = await post(fire, { with_ground: withGround });
      if (!answer.ok) return void Object.assign(this, { stage: "failed", telling: answer.message });
      this.id = answer.data.id;
      this.stage = "waiting";
      this.watch(this.id);
    },

    stop() { post(`${this.$root.dataset.firings}${this.id}/stop/`, {}); },

    async watch(id) {
      const { ok, data, message } = await getJson(`${this.$root.dataset.firings}${id}/status/`);
      if (id !== this.id || this.stage === "idle") return;
      if (!ok) {
        this.telling = message; // nobody answers, for now: the firing goes on
        return void setTimeout(() => this.watch(id), 5 * LOOK_MS);
      }
      Object.assign(this, { progress: data.progress, stage: data.stage, telling: this.words(data) });
      if (UNDER_WAY.includes(data.stage)) return void setTimeout(() => this.watch(id), LOOK_MS);
      this.file = `${this.$root.dataset.firings}${id}/file/`;
    },

    words({ stage, stage_label: label, progress, bytes, seconds, message }) {
      if (stage === "done") return `Fired: ${(bytes / 1e6).toFixed(1)} MB in ${seconds.toFixed(1)} s`;
      return message || `${label}${stage === "running" ? `, ${Math.round(progress * 100)} %` : ""}`;
    },

    close() { this.$root.close(); },
  }));
});
