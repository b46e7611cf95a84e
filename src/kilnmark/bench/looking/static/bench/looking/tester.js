// The linen tester: a square lens with millimetre ticks. It shows the true pixels under the pointer while the whole piece stays in
// view, and parks where it covers no art.

import { hear } from "../events.js";
import { store } from "../store.js";
import { parked } from "./parking.js";

const SIDE = 240; // px of the screen, as bench.css has it
const [WIDE, HIGH] = [248, 270]; // of it all
const REST_MS = 60;
const ZOOMS = [1, 2, 3, 4, 6, 8];
const STEP = 20; // document px that an arrow key moves

document.addEventListener("alpine:init", () => {
  window.Alpine.data("tester", () => ({
    // of its own: what is not named here would be written on the bench
    open: false,
    zoom: 0,
    at: [0, 0],
    timer: 0,
    asked: 0,
    follow: null,
    label: "",
    place: null,

    init() {
      hear("tester-wanted", () => (this.open ? this.close() : this.begin()));
      this.follow = ({ clientX, clientY }) => {
        const { left, top } = this.stage.element.getBoundingClientRect();
        this.look(this.stage.view.toPiece(clientX - left, clientY - top));
      };
      hear("picture-told", () => this.open && this.draw());
    },

    get stage() {
      return store.stage;
    },
    get canvas() {
      return this.$root.querySelector("canvas");
    },
    get times() {
      return ZOOMS[this.zoom];
    },

    begin() {
      const { width, height } = store.page;
      Object.assign(this, { open: true, place: null, at: [width / 2, height / 2] });
      this.stage.element.addEventListener("pointermove", this.follow);
      this.$nextTick(() => this.$root.focus());
      this.look(this.at);
    },

    look([x, y]) {
      const { width, height } = store.page;
      this.at = [Math.min(Math.max(x, 0), width), Math.min(Math.max(y, 0), height)];
      this.park();
      clearTimeout(this.timer);
      this.timer = setTimeout(() => this.draw(), REST_MS);
    },

    // Where it covers no art, or least; there it stays until what is looked at comes near.
    park() {
      const { view } = this.stage;
      const { boxes, document } = store.session.snapshot;
      const marks = document.stack.filter((item) => !item.left_out).map(({ id }) => boxes[id]);
      this.place = parked(
        view,
        [this.$root.offsetWidth || WIDE, this.$root.offsetHeight || HIGH],
        view.toStage(...this.at),
        marks,
        this.place,
      );
      const [left, top] = this.place;
      Object.assign(this.$root.style, { left: `${left}px`, top: `${top}px` });
    },

    // Whole pixels around the place, within the piece.
    get region() {
      const across = Math.ceil(SIDE / this.times);
      const { width, height } = store.page;
      const [x, y] = [this.at[0] - across / 2, this.at[1] - across / 2].map(Math.round);
      const [left, top] = [Math.max(x, 0), Math.max(y, 0)];
      const [right, bottom] = [Math.min(x + across, width), Math.min(y + across, height)];
      return {
        x: left,
        y: top,
        width: Math.max(right - left, 1),
        height: Math.max(bottom - top, 1),
        off: [left - x, top - y],
      };
    },

    async draw() {
      if (!this.open) return;
      this.asked += 1;
      const mine = this.asked;
      const { off, ...region } = this.region;
      const image = await this.stage.pixels(region);
      if (!image || mine !== this.asked) return;
      const { canvas, times } = this;
      Object.assign(canvas, { width: SIDE, height: SIDE });
      const pen = canvas.getContext("2d");
      pen.imageSmoothingEnabled = false;
      pen.drawImage(
        image,
        off[0] * times,
        off[1] * times,
        image.width * times,
        image.height * times,
      );
      this.ticks(pen);
      this.label = `${times * 100} %, ${Math.round(this.at[0])}, ${Math.round(this.at[1])} px`;
      canvas.dataset.drawn = `${region.x} ${region.y} ${region.width} ${region.height}`;
    },

    // Millimetres in print along two sides, every fifth longer.
    ticks(pen) {
      const mm = (store.page.ppi / 25.4) * this.times;
      for (const [colour, wide] of [
        ["#fff", 3],
        ["#20262a", 1],
      ]) {
        pen.fillStyle = colour;
        for (let n = 0; n * mm < SIDE; n += 1) {
          const at = Math.round(n * mm) - (wide - 1) / 2;
          const long = n % 5 ? 5 : 10;
          pen.fillRect(at, 0, wide, long);
          pen.fillRect(0, at, long, wide);
        }
      }
    },

    keyed(event) {
      const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[
        event.key
      ];
      if (event.key === "Escape") return void this.close(event.stopPropagation());
      const zoom = { "+": 1, "=": 1, "-": -1 }[event.key];
      if (!way && !zoom) return;
      event.preventDefault();
      event.stopPropagation();
      if (zoom) {
        this.zoom = Math.min(Math.max(this.zoom + zoom, 0), ZOOMS.length - 1);
        return void this.draw();
      }
      const far = event.shiftKey ? 1 : STEP;
      this.look([this.at[0] + way[0] * far, this.at[1] + way[1] * far]);
    },

    close() {
      this.open = false;
      this.stage.element.removeEventListener("pointermove", this.follow);
    },
  }));
});
