// The pictures of the page: of each operation, of what is ready, and of what it is tried on. Drafts while something moves, exact at rest.

import { getJson, picture } from "../kilnmark/api.js";
import { fill } from "../bench/stage/live_picture.js";

const REST_MS = 180;
const AGAIN_MS = 2500;

export const pictures = () => ({
  telling: "",
  readings: "",
  pictures: null,

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
      if (canvas.dataset.shown === "ready") this.telling = quality === "exact" ? "Exact" : "Draft";
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
    const at = shown === "found" ? { stage: 0 } : shown === "stage" ? { stage: Number(stage) } : {};
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
});
