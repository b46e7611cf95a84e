// Two versions of the piece, side by side with one zoom and one place for both, or what changed from the first to the second.

import { get, getJson, picture } from "../api.js";
import { context } from "../context.js";
import { View } from "../view.js";

const REST_MS = 90;
const BENCH = Math.random().toString(36).slice(2);
const FAR = 40; // px that an arrow key moves

document.addEventListener("alpine:init", () => {
  window.Alpine.data("compare", () => ({
    trouble: "", zoomLabel: "", sequence: 0, view: null, timer: 0, apart: false, told: "",

    init() {
      window.addEventListener("compare-wanted", ({ detail }) => this.open(detail));
      new ResizeObserver(() => this.$root.open && this.moved()).observe(this.$root);
    },

    get panes() { return [...this.$root.querySelectorAll("[data-pane]")]; },
    // What is drawn in: the two versions, or the one picture of what changed.
    get drawn() { return this.apart ? [this.$root.querySelector("[data-apart]")] : this.panes; },
    get panesClass() { return this.apart ? "apart" : ""; },
    get besidePressed() { return String(!this.apart); },
    get apartPressed() { return String(this.apart); },
    get base() { return context.session.base; },

    async open({ left = "" }) {
      this.trouble = "";
      this.$root.showModal();
      const { step } = context.choice;
      const answer = await getJson(`${this.base}versions/?${new URLSearchParams({ step })}`);
      this.trouble = answer.ok ? "" : answer.message;
      if (!answer.ok) return;
      const { versions } = answer.data;
      const first = versions.find(({ role }) => role === left) ?? versions.find(({ role }) => role === "pin") ?? versions[1] ?? versions[0];
      for (const [n, pane] of this.panes.entries()) {
        const select = pane.querySelector("select");
        select.replaceChildren(...versions.map(({ name, state, without }) => new Option(name, JSON.stringify({ state, without: without || null }))));
        select.selectedIndex = versions.indexOf(n ? versions[0] : first);
      }
      for (const pane of this.panes) this.shows(pane);
      this.turn(this.apart);
    },

    // The view lies in what is there to be drawn in.
    turn(apart) {
      this.apart = apart;
      this.$nextTick(() => {
        this.view = new View(this.drawn[0].querySelector("[data-view]"), [context.page.width, context.page.height]);
        this.moved();
      });
    },
    besides() { this.turn(false); },
    difference() { this.turn(true); },

    choose({ target }) {
      const pane = target.closest("[data-pane]");
      this.shows(pane);
      this.draw(this.apart ? this.drawn[0] : pane);
    },

    asked(pane) { return JSON.parse(pane.querySelector("select").value); },

    // The readings of the wear that is chosen, as they were in this version.
    async shows(pane) {
      const { part, step } = context.choice;
      const { state, without } = this.asked(pane);
      const answer = await get(`${this.base}versions/${state}/readings/?${new URLSearchParams({ part, step, without: without ?? "" })}`);
      const now = this.asked(pane);
      if (answer.ok && now.state === state && now.without === without) pane.querySelector("[data-readings]").innerHTML = answer.data.trim();
      if (!this.view?.fitted) return;
      this.view.fit(); // the readings took some of the room
      this.moved();
    },

    moved() {
      if (!this.view) return;
      this.zoomLabel = `${Math.round(this.view.zoom * (window.devicePixelRatio || 1) * 100)} %`;
      for (const pane of this.drawn) this.place(pane);
      clearTimeout(this.timer);
      this.timer = setTimeout(() => this.drawn.forEach((pane) => this.draw(pane)), REST_MS);
    },

    async draw(pane) {
      const { view } = this;
      const dpr = window.devicePixelRatio || 1;
      const { x, y, width, height } = view.region;
      const asked = { x, y, width, height, zoom: view.zoom };
      const wanted = this.wanted;
      this.sequence += 1;
      const shown = { view: { x, y, width, height, scale: view.zoom * dpr }, bench: `${BENCH} ${this.panes.indexOf(pane)}`, sequence: this.sequence };
      const answer = await this.picture(pane, shown);
      if (!answer.ok) return void (answer.reason === "superseded" || Object.assign(this, { trouble: answer.message }));
      if (this.wanted !== wanted) return;
      Object.assign(this, { trouble: "", told: this.apart ? answer.told : "" });
      const canvas = pane.querySelector("canvas");
      Object.assign(canvas, { width: answer.image.width, height: answer.image.height });
      canvas.getContext("2d").drawImage(answer.image, 0, 0);
      pane.shown = { ...asked, dpr };
      pane.dataset.drawn = wanted;
      this.place(pane);
    },

    // What is chosen now, as one word.
    get wanted() { return JSON.stringify([this.apart, ...this.panes.map((pane) => this.asked(pane))]); },

    picture(pane, shown) {
      if (this.apart) {
        const [before, after] = this.panes.map((one) => this.asked(one));
        return picture(`${this.base}versions/apart/`, { ...shown, before, after });
      }
      const { state, without } = this.asked(pane);
      return picture(`${this.base}versions/${state}/`, { ...shown, without });
    },

    place(pane) {
      if (!pane.shown) return;
      const { x, y, zoom, dpr } = pane.shown;
      const [left, top] = this.view.toStageCorner(x, y);
      Object.assign(pane.querySelector("canvas").style, { left: `${left}px`, top: `${top}px`, transform: `scale(${this.view.zoom / zoom / dpr})` });
    },

    drag(event) {
      const { currentTarget: area } = event;
      area.setPointerCapture(event.pointerId);
      const follow = (moved) => {
        this.view.pan(moved.movementX, moved.movementY);
        this.moved();
      };
      area.addEventListener("pointermove", follow);
      area.addEventListener("lostpointercapture", () => area.removeEventListener("pointermove", follow), { once: true });
    },

    wheel(event) {
      const { left, top } = event.currentTarget.getBoundingClientRect();
      if (event.ctrlKey) this.view.zoomTo(this.view.zoom * 1.0015 ** -event.deltaY, [event.clientX - left, event.clientY - top]);
      else this.view.pan(-event.deltaX, -event.deltaY);
      this.moved();
    },

    keyed(event) {
      if (event.target.matches("select") || event.ctrlKey || event.metaKey) return;
      const way = { ArrowLeft: [1, 0], ArrowRight: [-1, 0], ArrowUp: [0, 1], ArrowDown: [0, -1] }[event.key];
      const act = { "+": this.zoomIn, "=": this.zoomIn, "-": this.zoomOut, 0: this.fit, 1: this.truePixels }[event.key];
      if (!way && !act) return;
      event.preventDefault();
      if (act) return void act.call(this);
      this.view.pan(way[0] * FAR, way[1] * FAR);
      this.moved();
    },

    zoom(act) {
      act(this.view);
      this.moved();
    },
    zoomIn() { this.zoom((view) => view.zoomTo(view.zoom * 1.5)); },
    zoomOut() { this.zoom((view) => view.zoomTo(view.zoom / 1.5)); },
    fit() { this.zoom((view) => view.fit()); },
    truePixels() { this.zoom((view) => view.zoomTo(1 / (window.devicePixelRatio || 1))); },

    close() { this.$root.close(); },
  }));
});
