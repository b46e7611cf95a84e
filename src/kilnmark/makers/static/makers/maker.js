// A maker's page: what it would make, looked at in five ways, while its settings move; and others to take: starting points,
// nine seeds, more like it.

import { get } from "../kilnmark/api.js";

const REST_MS = 600; // after the last move of a setting
const MM = 25.4 / 300; // of a px at 300 ppi
const THUMB = { width: 384, height: 288, shown: 132 };
const NONE_CAME = "No picture came. The last one stands; move a setting to try again.";
const SAID = {
  true: "At true pixels.",
  tiled: "Tiled, at half size: no seam.",
  wear: "As the mask that wears a word of it away.",
  coat: "As a coat over a word.",
  follow: "As the map that a word follows.",
  piece: "On the piece, in the place of the one that is there: 1,024 px of it at most, repeated.",
};

document.addEventListener("alpine:init", () => {
  window.Alpine.data("maker", () => ({
    way: "true",
    wall: "starts",
    timer: 0,
    drawing: false,
    wanted: false,

    init() {
      for (const field of this.$root.querySelectorAll("[data-length]")) withUnit(field);
      this.at("[data-unit]").addEventListener("change", ({ target }) => this.inUnit(target.value));
      this.at("[data-map]")?.addEventListener("change", () => this.show());
      this.show();
      this.fillWall();
    },

    at(selector) {
      return this.$root.querySelector(selector);
    },

    changed({ target }) {
      if (target.matches("[data-unit], [data-map], [name=maps], [name=name]")) return;
      this.show();
      if (this.wall === "starts") return;
      clearTimeout(this.timer);
      this.timer = setTimeout(() => this.fillWall(), REST_MS); // nine pictures, once the hand rests
    },

    // The form's settings, as a trial is asked for.
    told(more = {}) {
      const form = new FormData(this.$root);
      for (const name of [
        "csrfmiddlewaretoken",
        "name",
        "width",
        "height",
        "maps",
        "of",
        "piece",
        "part",
      ])
        form.delete(name);
      const asked = new URLSearchParams(form);
      asked.set("key", this.$root.dataset.key);
      for (const [name, value] of Object.entries(more)) asked.set(name, value);
      return asked;
    },

    look({ currentTarget }) {
      this.way = currentTarget.dataset.look;
      press(currentTarget);
      this.show();
    },

    // One picture is asked for at a time; what changed meanwhile is asked for when it has come.
    show() {
      this.wanted = true;
      if (this.drawing) return;
      this.wanted = false;
      this.drawing = true;
      const way = this.way;
      const image = new Image();
      const ended = () => {
        this.drawing = false;
        if (this.wanted) this.show();
      };
      image.onload = () => {
        this.put(image.src, way);
        ended();
      };
      image.onerror = () => {
        if (!this.wanted) this.at("[data-told]").textContent = NONE_CAME;
        ended();
      };
      image.src = `${this.$root.dataset.trial}?${this.told(this.asked(way))}`;
    },

    put(address, way) {
      const box = this.at("[data-picture]");
      box.style.backgroundImage = `url("${address}")`;
      box.dataset.way = way;
      this.at("[data-told]").textContent = SAID[way];
    },

    // What is asked for beside the settings, to look at it so.
    asked(way) {
      const map = this.at("[data-map]");
      const on = ["wear", "coat", "follow", "piece"].includes(way);
      if (map) map.disabled = on;
      if (way === "piece") return { on: way, ...this.here() };
      if (on) return { on: way };
      const wide = Math.min(this.at("[data-picture]").clientWidth, 900);
      const size = way === "true" ? { width: wide, height: 400 } : {};
      return { map: map?.value ?? "colour", ...size };
    },

    // Where on a piece it is tried, as large as it will be, as far as a trial goes.
    here() {
      const value = (name) => this.at(`[name="${name}"]`).value;
      const side = (name) => Math.min(Math.max(Number(value(name)) || 64, 64), 1024);
      const place = { width: side("width"), height: side("height") };
      for (const name of ["of", "piece", "part"]) place[name] = value(name);
      return place;
    },

    another() {
      this.at('[name="seed"]').value = Math.floor(Math.random() * 10000);
      this.show();
      if (this.wall !== "starts") this.fillWall();
    },

    fill({ currentTarget }) {
      this.wall = currentTarget.dataset.wall;
      press(currentTarget);
      this.fillWall();
    },

    async fillWall() {
      const others = await this.others();
      if (!others) return;
      const list = this.at("[data-others]");
      list.replaceChildren(...others.map((one) => this.card(one)));
    },

    // What can be taken: [{name, seed, settings}].
    async others() {
      const seed = Number(this.at('[name="seed"]').value) || 0;
      if (this.wall === "starts")
        return JSON.parse(document.getElementById("starts").textContent).map((one) => ({
          ...one,
          seed,
        }));
      if (this.wall === "seeds")
        return Array.from({ length: 9 }, (_, n) => ({
          name: `Seed ${seed + n + 1}`,
          seed: seed + n + 1,
        }));
      const wall = this.wall;
      const answer = await get(`${this.$root.dataset.like}?${this.told()}`);
      if (!answer.ok || wall !== this.wall) return null;
      return answer.data.like.map((one, n) => ({ ...one, name: `Like it, ${n + 1}` }));
    },

    card(one) {
      const item = document.createElement("li");
      const button = Object.assign(document.createElement("button"), { type: "button" });
      const image = Object.assign(new Image(132, 99), { alt: "", loading: "lazy" });
      image.src = `${this.$root.dataset.trial}?${this.told({ ...one.settings, seed: one.seed, ...THUMB })}`;
      const name = Object.assign(document.createElement("span"), { textContent: one.name });
      button.append(image, name);
      button.addEventListener("click", () => this.take(one));
      item.append(button);
      return item;
    },

    take({ seed, settings = {} }) {
      for (const [name, value] of Object.entries({ ...settings, seed })) {
        const field = this.at(`[name="${name}"]`);
        if (field) field.value = value;
      }
      this.inUnit(this.at("[data-unit]").value);
      this.show();
      this.at("[data-told]").textContent = "Taken.";
    },

    inUnit(unit) {
      for (const field of this.$root.querySelectorAll("[data-length]")) field.showIn(unit);
    },
  }));
});

const press = (button) => {
  for (const one of button.parentElement.children) one.setAttribute("aria-pressed", one === button);
};

// A length is kept in px at 300 ppi, in a hidden field; it is shown, and typed, in the unit that is chosen.
function withUnit(field) {
  const kept = Object.assign(document.createElement("input"), {
    type: "hidden",
    name: field.name,
    value: field.value,
  });
  const bounds = { min: Number(field.min), max: Number(field.max) };
  const label = field.labels[0].querySelector("[data-shown-unit]");
  let factor = 1;
  field.removeAttribute("name");
  field.step = "any";
  field.after(kept);
  field.addEventListener("input", () => {
    if (field.value !== "") kept.value = Number((field.value / factor).toFixed(3));
  });
  field.showIn = (unit) => {
    factor = unit === "mm" ? MM : 1;
    const round = (value) => Number((value * factor).toFixed(unit === "mm" ? 2 : 1));
    field.value = round(kept.value);
    field.min = round(bounds.min);
    field.max = round(bounds.max);
    label.textContent = unit;
  };
}
