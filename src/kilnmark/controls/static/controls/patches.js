// Patches of a texture that are painted over and refilled: strokes on a picture of it, each with "another" and "remove".

import { showSource } from "./lib/source.js";

const MOST_POINTS = 70;
const MOST = 24;
const round = (n) => Math.round(n * 1e4) / 1e4;

document.addEventListener("alpine:init", () => {
  window.Alpine.data("patches", () => ({
    cross: [0.5, 0.5],
    patches: [],

    init() {
      this.refresh();
    },

    async refresh() {
      const { path, of, patches } = this.$root.dataset;
      this.patches = JSON.parse(patches);
      this.list();
      await showSource(this.part("source"), { path, of });
      this.mark();
    },

    part(name) {
      return this.$root.querySelector(`[data-${name}]`);
    },
    get tip() {
      return Number(this.part("tip").value) / 100;
    },

    list() {
      this.part("list").replaceChildren(
        ...this.patches.map((_, n) => {
          const item = document.createElement("li");
          item.append(
            `Patch ${n + 1}`,
            this.button("another", `Patch ${n + 1}: fill from another place`, () =>
              this.another(n),
            ),
            this.button("remove", `Remove patch ${n + 1}`, () =>
              this.put(
                this.patches.filter((patch) => patch !== this.patches[n]),
                "Patch removed",
              ),
            ),
          );
          return item;
        }),
      );
    },

    button(words, label, act) {
      const button = Object.assign(document.createElement("button"), {
        type: "button",
        className: "link",
        textContent: words,
      });
      button.setAttribute("aria-label", label);
      button.addEventListener("click", act);
      return button;
    },

    another(n) {
      this.put(
        this.patches.map((patch, other) =>
          other === n ? { ...patch, another: (patch.another + 1) % 12 } : patch,
        ),
        "Filled from another place",
      );
    },

    paint(event) {
      const canvas = event.currentTarget;
      event.preventDefault();
      canvas.focus();
      canvas.setPointerCapture(event.pointerId);
      const points = [this.at(event)];
      const follow = (moved) => {
        for (const one of moved.getCoalescedEvents().length ? moved.getCoalescedEvents() : [moved])
          points.push(this.at(one));
        this.mark(points);
      };
      canvas.addEventListener("pointermove", follow);
      canvas.addEventListener(
        "lostpointercapture",
        () => {
          canvas.removeEventListener("pointermove", follow);
          this.add(points);
        },
        { once: true },
      );
      this.mark(points);
    },

    at(event) {
      const { left, top, width, height } = this.part("marks").getBoundingClientRect();
      return [round((event.clientX - left) / width), round((event.clientY - top) / height)];
    },

    add(points) {
      const step = Math.ceil(points.length / MOST_POINTS);
      const held = points
        .filter((_, n) => n % step === 0 || n === points.length - 1)
        .map((point) => point.map((n) => Math.min(Math.max(n, -0.2), 1.2)));
      this.put(
        [...this.patches, { points: held, width: this.tip, another: 0 }].slice(-MOST),
        "Patch cleaned",
      );
    },

    keyed(event) {
      const way = { ArrowLeft: [-1, 0], ArrowRight: [1, 0], ArrowUp: [0, -1], ArrowDown: [0, 1] }[
        event.key
      ];
      if (event.key === "Enter") this.add([this.cross]);
      else if (way)
        this.cross = this.cross.map((n, axis) =>
          round(Math.min(Math.max(n + way[axis] * (event.shiftKey ? 0.05 : 0.01), 0), 1)),
        );
      else return;
      event.preventDefault();
      this.mark();
    },

    put(patches, label) {
      this.patches = patches;
      this.list();
      this.mark();
      this.$dispatch("control-change", {
        edits: [{ op: "set", path: JSON.parse(this.$root.dataset.path), value: patches }],
        label,
      });
    },

    // Outlines of the patches, hatched; the stroke under the hand; the cross while the keys have it.
    mark(stroke = null) {
      const source = this.part("source");
      const canvas = this.part("marks");
      Object.assign(canvas, { width: source.width, height: source.height });
      const context = canvas.getContext("2d");
      const [wide, tall] = [canvas.width, canvas.height];
      const draw = (points, width, style) => {
        Object.assign(context, {
          lineWidth: width * Math.max(wide, tall),
          lineCap: "round",
          lineJoin: "round",
          strokeStyle: style,
        });
        context.beginPath();
        points.forEach(([x, y], n) => context[n ? "lineTo" : "moveTo"](x * wide, y * tall));
        if (points.length === 1) context.lineTo(points[0][0] * wide + 0.01, points[0][1] * tall);
        context.stroke();
      };
      for (const { points, width } of this.patches) draw(points, width, this.hatch(context));
      if (Array.isArray(stroke)) draw(stroke, this.tip, this.hatch(context));
      if (document.activeElement === canvas) {
        const [x, y] = [this.cross[0] * wide, this.cross[1] * tall];
        Object.assign(context, { lineWidth: 3, strokeStyle: "#20262a" });
        context.strokeRect(x - 12, y, 24, 0);
        context.strokeRect(x, y - 12, 0, 24);
      }
    },

    hatch(context) {
      const tile = Object.assign(document.createElement("canvas"), { width: 12, height: 12 });
      const paint = tile.getContext("2d");
      for (const [style, shift] of [
        ["#ffffffb0", 0],
        ["#20262a90", 3],
      ]) {
        Object.assign(paint, { strokeStyle: style, lineWidth: 2 });
        paint.beginPath();
        for (const from of [-12, 0, 12]) {
          paint.moveTo(from + shift, 12);
          paint.lineTo(from + 12 + shift, 0);
        }
        paint.stroke();
      }
      return context.createPattern(tile, "repeat");
    },
  }));
});
