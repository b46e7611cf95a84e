// Two versions of the piece, side by side with one zoom and one place for both, or what changed from the first to the second.

import { hear } from "../events.js";
import { get, getJson } from "../../kilnmark/api.js";
import { store } from "../store.js";
import { Panes } from "./panes.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("compare", () => ({
    trouble: "",
    zoomLabel: "",
    shown: null,
    apart: false,
    told: "",

    init() {
      hear("compare-wanted", (detail) => this.open(detail));
      new ResizeObserver(() => this.$root.open && this.shown?.moved()).observe(this.$root);
    },

    get sides() {
      return [...this.$root.querySelectorAll("[data-pane]")];
    },
    // What is drawn in: the two versions, or the one picture of what changed.
    get drawn() {
      return this.apart ? [this.$root.querySelector("[data-apart]")] : this.sides;
    },
    get panesClass() {
      return this.apart ? "apart" : "";
    },
    get besidePressed() {
      return String(!this.apart);
    },
    get apartPressed() {
      return String(this.apart);
    },
    get base() {
      return store.session.base;
    },

    async open({ left = "" }) {
      this.trouble = "";
      this.$root.showModal();
      const { step } = store.choice;
      const answer = await getJson(`${this.base}versions/?${new URLSearchParams({ step })}`);
      this.trouble = answer.ok ? "" : answer.message;
      if (!answer.ok) return;
      this.offer(answer.data.versions, left);
      this.turn(this.apart);
    },

    // The piece as it is on the right; on the left what was asked for, or one that differs from it.
    offer(versions, left) {
      const other = (role) => versions.find((one) => one.role === role && !one.same);
      const first =
        versions.find(({ role }) => role === left) ??
        other("pin") ??
        other("direction") ??
        other("before") ??
        versions.find(({ same }) => !same) ??
        versions[0];
      for (const [n, pane] of this.sides.entries()) {
        const select = pane.querySelector("select");
        select.replaceChildren(
          ...versions.map(
            ({ name, state, without }) =>
              new Option(name, JSON.stringify({ state, without: without || null })),
          ),
        );
        select.selectedIndex = versions.indexOf(n ? versions[0] : first);
      }
      for (const pane of this.sides) this.shows(pane);
    },

    turn(apart) {
      this.apart = apart;
      this.shown = new Panes(
        [store.page.width, store.page.height],
        () => this.drawn,
        (pane, view) => this.wants(pane, view),
        (told) => Object.assign(this, told),
      );
      this.$nextTick(() => this.shown.begin());
    },
    besides() {
      this.turn(false);
    },
    difference() {
      this.turn(true);
    },

    choose({ target }) {
      const pane = target.closest("[data-pane]");
      this.shows(pane);
      this.shown.draw(this.apart ? this.drawn[0] : pane);
    },

    asked(pane) {
      return JSON.parse(pane.querySelector("select").value);
    },

    // The readings of the wear that is chosen, as they were in this version.
    async shows(pane) {
      const { part, step } = store.choice;
      const { state, without } = this.asked(pane);
      const answer = await get(
        `${this.base}versions/${state}/readings/?${new URLSearchParams({ part, step, without: without ?? "" })}`,
      );
      const now = this.asked(pane);
      if (answer.ok && now.state === state && now.without === without)
        pane.querySelector("[data-readings]").innerHTML = answer.data.trim();
      if (this.shown?.view?.fitted) this.shown.resized(); // the readings took some of the room
    },

    wants(pane, view) {
      const key = JSON.stringify([this.apart, ...this.sides.map((one) => this.asked(one))]);
      const [before, after] = this.sides.map((one) => this.asked(one));
      if (this.apart) {
        const { quality, ...shown } = view; // what changed is told of exact pictures
        return { url: `${this.base}versions/apart/`, sent: { ...shown, before, after }, key };
      }
      const { state, without } = this.asked(pane);
      return { url: `${this.base}versions/${state}/`, sent: { ...view, without }, key };
    },

    drag(event) {
      this.shown?.drag(event);
    },
    wheel(event) {
      this.shown?.wheel(event);
    },
    keyed(event) {
      this.shown?.keyed(event);
    },
    zoomIn() {
      this.shown?.zoomIn();
    },
    zoomOut() {
      this.shown?.zoomOut();
    },
    fit() {
      this.shown?.fit();
    },
    truePixels() {
      this.shown?.truePixels();
    },

    close() {
      this.$root.close();
    },
  }));
});
