// How large the surface is: two clicks on the piece, and how far apart they are in the world.

import { hear, say } from "../events.js";
import { store } from "../store.js";
import { pickPoint } from "../stage/picking.js";

const SVG = "http://www.w3.org/2000/svg";
const NEAR = 4; // screen px: too near to be told apart
const TOO_NEAR =
  "The two places lie too near one another to measure by. Nothing was changed. Click two places that lie farther apart.";
const UNITS = { mm: 1, cm: 10, m: 1000 };

document.addEventListener("alpine:init", () => {
  window.Alpine.data("surfaceDialog", () => ({
    px: 0,
    long: "",
    unit: "mm",
    trouble: "",
    drawn: null, // of its own

    init() {
      hear("surface-wanted", () => this.measure());
    },

    async measure() {
      const first = await pickPoint(store.stage);
      if (!first) return;
      this.draw([first.at]);
      const second = await pickPoint(store.stage);
      this.clear();
      if (!second) return;
      const [dx, dy] = [0, 1].map((axis) => second.at[axis] - first.at[axis]);
      const far = Math.hypot(dx, dy);
      if (far * store.stage.view.zoom < NEAR)
        return void say("trouble-told", { message: TOO_NEAR });
      this.draw([first.at, second.at]);
      this.ask(far);
    },

    ask(far) {
      Object.assign(this, { px: Math.round(far * 10) / 10, long: "", trouble: "" });
      this.$root.showModal();
      this.$root.querySelector("[data-long-mm]").focus();
    },

    // The places, and the way between them, over the piece.
    draw(places) {
      const points = places.map((at) => store.stage.view.toStage(...at));
      this.drawn = document.createElementNS(SVG, "g");
      this.drawn.setAttribute("class", "measured");
      const line = document.createElementNS(SVG, "polyline");
      line.setAttribute("points", points.join(" "));
      const dots = points.map(([cx, cy]) => {
        const dot = document.createElementNS(SVG, "circle");
        for (const [name, value] of Object.entries({ cx, cy, r: 5 })) dot.setAttribute(name, value);
        return dot;
      });
      this.drawn.append(line, ...dots);
      document.getElementById("overlay").append(this.drawn);
    },

    clear() {
      this.drawn?.remove();
    },

    choose({ target }) {
      this.unit = target.value;
    },
    typed({ target }) {
      this.long = target.value;
    },
    typedPx({ target }) {
      this.px = Number(target.value);
    },

    take() {
      const mm = Number(this.long) * UNITS[this.unit];
      if (!(mm > 0) || !(this.px >= 1)) {
        this.trouble = "Both lengths must be above 0. Type how long this way is on the surface.";
        return;
      }
      this.close();
      store.session.change([{ op: "measure_surface", px: this.px, mm }], "Surface measured", {
        reload: true,
      });
    },

    close() {
      this.$root.close();
      this.clear();
    },
  }));
});
