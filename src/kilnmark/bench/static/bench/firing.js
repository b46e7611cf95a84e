// The fire dialog: ask for the file, watch the kiln, save what came out.

import { getJson, post } from "./api.js";

const LOOK_MS = 400;

export class FireDialog {
  constructor(dialog, urls, session) {
    Object.assign(this, { dialog, urls, session });
    this.at = (name) => dialog.querySelector(`[data-fire-${name}]`);
    this.at("start").addEventListener("click", () => this.start());
    this.at("stop").addEventListener("click", () => post(`${this.urls.firings}${this.id}/stop/`, {}));
    dialog.addEventListener("change", () => this.idle());
  }

  open() {
    this.at("ppi").textContent = this.session.document.ppi;
    this.idle();
    this.dialog.showModal();
  }

  idle() {
    this.show({ start: true });
    this.dialog.querySelector("[data-kiln]").hidden = true;
  }

  show({ start = false, stop = false, file = false }) {
    this.at("start").hidden = !start;
    this.at("stop").hidden = !stop;
    this.at("file").hidden = !file;
  }

  async start() {
    const withGround = this.dialog.querySelector("[name=with-ground]:checked").value === "yes";
    const answer = await post(this.urls.fire, { with_ground: withGround });
    this.dialog.querySelector("[data-kiln]").hidden = false;
    if (!answer.ok) return void (this.at("told").textContent = answer.message);
    this.id = answer.data.id;
    this.show({ stop: true });
    this.watch();
  }

  async watch() {
    const { ok, data, message } = await getJson(`${this.urls.firings}${this.id}/status/`);
    if (!ok) return void (this.at("told").textContent = message);
    this.at("progress").value = data.progress;
    this.at("told").textContent = this.words(data);
    if (data.stage === "waiting" || data.stage === "running") return void setTimeout(() => this.watch(), LOOK_MS);
    this.at("file").href = `${this.urls.firings}${this.id}/file/`;
    this.show(data.stage === "done" ? { file: true } : { start: true });
  }

  words({ stage, stage_label: label, progress, bytes, seconds, message }) {
    if (stage === "done") return `Fired: ${(bytes / 1e6).toFixed(1)} MB in ${seconds.toFixed(1)} s`;
    return message || `${label}${stage === "running" ? `, ${Math.round(progress * 100)} %` : ""}`;
  }
}
