// The page of the piece: its size, room at its sides, its resolution, which way up it stands.

import { store } from "../store.js";

const MM = 25.4;
const short = (value) => String(Math.round(value * 10) / 10);

document.addEventListener("alpine:init", () => {
  window.Alpine.data("page", () => ({
    unit: "px",
    all: true,

    get size() {
      return { width: Number(this.$root.dataset.width), height: Number(this.$root.dataset.height) };
    },
    get ppi() {
      return Number(this.$root.dataset.ppi);
    },
    get grows() {
      return String(this.all);
    },
    get stays() {
      return String(!this.all);
    },
    get otherUnit() {
      return this.unit === "px" ? "In mm" : "In px";
    },

    at(name) {
      return this.$root.querySelector(`[data-side="${name}"], [data-room="${name}"]`);
    },
    toPx(value) {
      return Math.round(this.unit === "mm" ? (value * this.ppi) / MM : value);
    },
    fromPx(px) {
      return this.unit === "mm" ? short((px * MM) / this.ppi) : String(Math.round(px));
    },
    read(name) {
      return this.toPx(Number(this.at(name).value) || 0);
    },

    growAll() {
      this.all = true;
      this.follow("width");
    },
    onlyPage() {
      this.all = false;
    },

    // While all grows, the page keeps its proportions.
    resized({ target }) {
      if (this.all && target.dataset.side) this.follow(target.dataset.side);
    },
    follow(side) {
      const { size } = this;
      const other = side === "width" ? "height" : "width";
      this.at(other).value = this.fromPx((this.read(side) * size[other]) / size[side]);
    },

    // A side was dragged on the piece.
    moved({ detail: { room } }) {
      for (const [side, px] of Object.entries(room)) this.at(side).value = this.fromPx(px);
    },

    turnUnit() {
      const names = ["width", "height", "left", "top", "right", "bottom"];
      const px = Object.fromEntries(names.map((name) => [name, this.read(name)]));
      this.unit = this.unit === "px" ? "mm" : "px";
      for (const name of names) this.at(name).value = this.fromPx(px[name]);
    },

    change(edit, label) {
      store.session.change([edit], label, { reload: true });
    },

    resize() {
      const { size } = this;
      const [width, height] = [this.read("width"), this.read("height")];
      if (this.all) return void this.change({ op: "scale_piece", width }, "Size of the piece");
      const [across, down] = [width - size.width, height - size.height];
      const [left, top] = [Math.floor(across / 2), Math.floor(down / 2)];
      this.change(
        { op: "trim_piece", left, top, right: across - left, bottom: down - top },
        "Size of the page",
      );
    },

    trim() {
      const sides = Object.fromEntries(
        ["left", "top", "right", "bottom"].map((side) => [side, this.read(side)]),
      );
      this.change({ op: "trim_piece", ...sides }, "Room at the sides");
    },

    resolve(resample) {
      const ppi = Number(this.$root.querySelector("[data-ppi-field]").value);
      this.change({ op: "set_ppi", ppi, resample }, "Resolution");
    },
    keepPixels() {
      this.resolve(false);
    },
    keepSize() {
      this.resolve(true);
    },

    turnLeft() {
      this.change({ op: "turn_piece", quarters: 3 }, "Turned left");
    },
    turnRight() {
      this.change({ op: "turn_piece", quarters: 1 }, "Turned right");
    },
  }));
});
