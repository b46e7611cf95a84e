// How the ready texture is seen: whole, at its true pixels, or repeated; moved by hand or by keys.

const PAN_STEP = 0.05;

export const view = () => ({
  way: "fit",
  x: 0.5,
  y: 0.5,

  look({ currentTarget }) {
    this.way = currentTarget.dataset.way;
    this.draw("draft");
  },

  get isFit() {
    return String(this.way === "fit");
  },

  get isTrue() {
    return String(this.way === "true");
  },

  get isTiled() {
    return String(this.way === "tiled");
  },

  get panIndex() {
    return this.way === "true" ? "0" : "-1";
  },

  pan(event) {
    if (this.way !== "true") return;
    const canvas = event.currentTarget;
    canvas.setPointerCapture(event.pointerId);
    const from = { x: event.clientX, y: event.clientY, atX: this.x, atY: this.y };
    const [wide, tall] = this.size;
    const follow = (moved) =>
      this.panTo(
        from.atX - (moved.clientX - from.x) / wide,
        from.atY - (moved.clientY - from.y) / tall,
      );
    canvas.addEventListener("pointermove", follow);
    canvas.addEventListener(
      "lostpointercapture",
      () => canvas.removeEventListener("pointermove", follow),
      { once: true },
    );
  },

  get size() {
    return [Number(this.$root.dataset.wide), Number(this.$root.dataset.tall)];
  },

  panKeyed(event) {
    const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[
      event.key
    ];
    if (!way || this.way !== "true") return;
    event.preventDefault();
    this.panTo(this.x + way[0] * PAN_STEP, this.y + way[1] * PAN_STEP);
  },

  panTo(x, y) {
    Object.assign(this, { x: Math.min(Math.max(x, 0), 1), y: Math.min(Math.max(y, 0), 1) });
    this.draw("draft");
  },
});
