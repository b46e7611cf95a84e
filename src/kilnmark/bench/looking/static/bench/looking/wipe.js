// A line across the piece: on its left the piece as it was, on its right as it is. It is dragged, turned, and moved by keys.

import { hear } from "../events.js";
import { getJson } from "../../kilnmark/api.js";
import { store } from "../store.js";

const STEP = 12; // px that an arrow key moves, degrees that it turns with Shift
const FAR = 4000;

document.addEventListener("alpine:init", () => {
  window.Alpine.data("wipe", () => ({
    // of its own: what is not named here would be written on the bench
    open: false,
    at: [0, 0],
    angle: 0,
    shown: null,
    asked: 0,

    init() {
      hear("wipe-wanted", () => (this.open ? this.close() : this.begin()));
      hear("picture-told", ({ quality }) => {
        if (this.open && quality === "exact") this.load();
      });
      hear("view-moved", () => this.open && this.place());
    },

    get stage() {
      return store.stage;
    },
    get canvas() {
      return document.getElementById("before");
    },
    get select() {
      return this.$root.querySelector("[data-before]");
    },
    get percent() {
      return Math.round((this.at[0] / Math.max(this.stage?.view.box.width ?? 1, 1)) * 100);
    },

    async begin() {
      const { session, choice } = store;
      const { width, height } = this.stage.view.box;
      Object.assign(this, { open: true, at: [width / 2, height / 2], angle: 0, shown: null });
      const answer = await getJson(
        `${session.base}versions/?${new URLSearchParams({ step: choice.step })}`,
      );
      const versions = answer.ok
        ? answer.data.versions.filter(({ role }) => role !== "now" && role !== "off")
        : [];
      const chosen = ["bare", "lands"].includes(choice.step)
        ? []
        : [["This step off", JSON.stringify({ without: choice.step })]];
      const off = ["All treatments off", JSON.stringify({ without: "treatments" })];
      const options = [
        ...chosen,
        off,
        ...versions.map(({ name, state }) => [name, JSON.stringify({ state })]),
      ];
      this.select.replaceChildren(...options.map(([words, value]) => new Option(words, value)));
      this.place();
      this.load();
      this.$nextTick(() => this.$root.querySelector("[data-wipe-grip]").focus());
    },

    async load() {
      this.asked += 1;
      const mine = this.asked;
      const { state, without } = JSON.parse(this.select.value);
      const found = state
        ? await this.stage.beside({}, `${store.session.base}versions/${state}/`)
        : await this.stage.beside({ without });
      if (!found || mine !== this.asked || !this.open) return;
      const { canvas } = this;
      Object.assign(canvas, { width: found.image.width, height: found.image.height });
      canvas.getContext("2d").drawImage(found.image, 0, 0);
      canvas.dataset.drawn = this.select.value;
      this.shown = found.asked;
      this.place();
    },

    // The earlier picture where its region is now, cut along the line; the line itself.
    place() {
      const line = this.$root.querySelector("[data-line]");
      line.style.transform = `translate(${this.at[0]}px, ${this.at[1]}px) rotate(${this.angle}deg)`;
      const { canvas, shown } = this;
      canvas.hidden = !this.open || !shown;
      if (canvas.hidden) return;
      const {
        stretch: scale,
        corner: [left, top],
      } = this.stage.placed(canvas, shown);
      const turn = (this.angle * Math.PI) / 180;
      const along = [-Math.sin(turn), Math.cos(turn)];
      const aside = [-Math.cos(turn), -Math.sin(turn)];
      const point = (far, out) =>
        [0, 1].map((n) => (this.at[n] + along[n] * far + aside[n] * out - [left, top][n]) / scale);
      const corners = [point(-FAR, 0), point(FAR, 0), point(FAR, FAR), point(-FAR, FAR)];
      canvas.style.clipPath = `polygon(${corners.map(([x, y]) => `${x.toFixed(1)}px ${y.toFixed(1)}px`).join(", ")})`;
    },

    follow(event, move) {
      const grip = event.currentTarget;
      event.stopPropagation();
      grip.setPointerCapture(event.pointerId);
      const box = this.stage.element.getBoundingClientRect();
      const moved = ({ clientX, clientY }) => {
        move(clientX - box.left, clientY - box.top);
        this.place();
      };
      grip.addEventListener("pointermove", moved);
      grip.addEventListener(
        "lostpointercapture",
        () => grip.removeEventListener("pointermove", moved),
        { once: true },
      );
    },

    drag(event) {
      this.follow(event, (x, y) => {
        this.at = [x, y];
      });
    },
    turn(event) {
      this.follow(event, (x, y) => {
        const angle = (Math.atan2(y - this.at[1], x - this.at[0]) * 180) / Math.PI + 90;
        this.angle =
          Math.abs(angle - Math.round(angle / 45) * 45) < 4 ? Math.round(angle / 45) * 45 : angle;
      });
    },

    keyed(event) {
      const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[
        event.key
      ];
      if (event.key === "Escape") return void this.close(event.stopPropagation());
      if (!way) return;
      event.preventDefault();
      event.stopPropagation();
      if (event.shiftKey) this.angle += (way[0] + way[1]) * STEP;
      else this.at = [this.at[0] + way[0] * STEP, this.at[1] + way[1] * STEP];
      this.place();
    },

    close() {
      this.open = false;
      this.place();
    },
  }));
});
