// Three directions of a piece: looks as cards, a key puts one in a place, the places side by side with one zoom for all.

import { get, post } from "../../kilnmark/api.js";
import { drawn } from "../../bench/stage/live_picture.js";
import { moveIn } from "../../bench/walls/wall.js";
import { Panes } from "../../bench/looking/panes.js";
import { morph } from "../../controls/lib/morph.js";
import { once } from "../../controls/lib/once.js";
import { withParts } from "../../controls/lib/with_parts.js";
import { firing } from "../lib/firing.js";
import { mixing } from "../lib/mixing.js";

const PLACES = [1, 2, 3];
const CARDS = "[data-look]";
const AT_ONCE = 2; // pictures of looks that are drawn side by side
const SETTLED_MS = 140;
const token = () =>
  [...crypto.getRandomValues(new Uint8Array(12))]
    .map((n) => n.toString(16).padStart(2, "0"))
    .join("");

document.addEventListener("alpine:init", () => {
  const own = () => ({
    mode: "looks",
    trouble: "",
    zoomLabel: "",
    told: "",
    names: [],
    line: Promise.resolve(),
    panes: null,
    marked: 1,
    coming: new Set(),
    tried: null,
    resting: 0,

    init() {
      const { width, height } = this.$root.dataset;
      this.panes = new Panes(
        [Number(width), Number(height)],
        () => (this.beside ? this.cards : []),
        (pane, view) => this.wants(pane, view),
        (told) => Object.assign(this, told),
        (card) => this.reads(card),
      );
      this.refresh();
      new ResizeObserver(() => this.panes.resized()).observe(this.at("places"));
      this.paintLooks();
      if (this.names.length > 1) this.showBeside();
      else this.$nextTick(() => this.at("looks")?.querySelector(CARDS)?.focus());
    },

    at(name) {
      return this.$root.querySelector(`[data-${name}]`);
    },
    url(name) {
      return `${this.$root.dataset.base}directions/${name}/`;
    },
    get cards() {
      return [...this.at("places").querySelectorAll("[data-pane]")];
    },
    get looks() {
      return this.mode === "looks";
    },
    get beside() {
      return this.mode === "beside";
    },
    get looksPressed() {
      return String(this.looks);
    },
    get besidePressed() {
      return String(this.beside);
    },
    get nothing() {
      return !this.names.length;
    },
    get choosing() {
      return this.looks && this.names.length > 0;
    },
    get chosenWords() {
      return this.names.map(([place, name]) => `${place} ${name}`).join(" · ");
    },
    get fireWords() {
      return { 0: "Fire", 1: "Fire it", 2: "Fire both", 3: "Fire all three" }[this.names.length];
    },

    // What stands in the places: their readings, their pictures, and the cards of the looks that are there.
    refresh() {
      this.names = this.cards.map(({ dataset: { place, name } }) => [place, name]);
      this.at("places").dataset.count = this.names.length;
      for (const card of this.cards) {
        card.toggleAttribute("data-marked", Number(card.dataset.place) === this.marked);
      }
      for (const button of this.$root.querySelectorAll("[data-put]")) {
        const look = button.closest(".look-card").querySelector(CARDS);
        button.setAttribute(
          "aria-pressed",
          String(
            this.names.some(
              ([place, name]) => place === button.dataset.put && name === look.dataset.words,
            ),
          ),
        );
      }
      this.$nextTick(() =>
        this.panes.view ? this.panes.resized() : this.beside && this.panes.begin(),
      );
    },

    // Once its picture is there: both measure the same, and it is the picture that is waited for.
    async reads(card) {
      const { state, part, read } = card.dataset;
      if (card.read === state) return;
      card.read = state;
      const shown = card.querySelector("[data-readings]");
      if (!read) return void shown.replaceChildren();
      const answer = await get(
        `${this.$root.dataset.base}versions/${state}/readings/?${new URLSearchParams({ part, step: read })}`,
      );
      if (answer.ok && card.dataset.state === state) shown.innerHTML = answer.data.trim();
    },

    async paintLooks() {
      const images = [...this.$root.querySelectorAll(`${CARDS} img`)].values();
      const one = async () => {
        for (const image of images) await drawn(image);
      };
      await Promise.all(Array.from({ length: AT_ONCE }, one));
    },

    wants({ dataset: { state, place } }, view) {
      const look = Number(place) === this.marked ? this.tried : null;
      if (!look)
        return { url: `${this.$root.dataset.base}versions/${state}/`, sent: view, key: state };
      return {
        url: `${this.$root.dataset.base}stage/`,
        sent: {
          ...view,
          version: Number(this.$root.dataset.version),
          edits: JSON.parse(look.dataset.edits),
        },
        key: look.dataset.words,
      };
    },

    // One thing after another, however fast the keys and however late the answers; each is what stands in the places then.
    ask(name, sent) {
      this.line = this.line.then(() => this.sent(name, sent));
      return this.line;
    },
    async sent(name, sent) {
      const answer = await post(this.url(name), sent);
      this.coming.delete(sent.place);
      this.trouble =
        answer.data?.reason === "stale"
          ? "The piece was changed elsewhere. Open this page again to see its looks anew."
          : answer.message;
      if (!answer.ok) return;
      morph(this.at("places"), answer.data);
      this.refresh();
    },

    put(look, place) {
      const { words, edits } = look.dataset;
      this.tried = null;
      this.marked = place;
      this.coming.add(place);
      return this.ask("put", {
        version: Number(this.$root.dataset.version),
        place,
        part: this.$root.dataset.part,
        name: words.slice(0, 60),
        edits: JSON.parse(edits),
      });
    },

    // The first place that is free, also of looks on their way; with all taken, the marked one.
    get next() {
      return (
        PLACES.find(
          (place) =>
            !this.coming.has(place) && !this.names.some(([taken]) => Number(taken) === place),
        ) ?? this.marked
      );
    },

    pressed(event) {
      const at = (name) => event.target.closest(`[data-${name}]`);
      const place = Number(at("pane")?.dataset.place);
      if (at("put"))
        return void this.put(
          at("put").closest(".look-card").querySelector(CARDS),
          Number(at("put").dataset.put),
        );
      if (at("look")) return void this.put(at("look"), this.beside ? this.marked : this.next);
      if (at("give"))
        return void this.ask("mix", {
          giver: place,
          taker: Number(at("give").dataset.taker),
          step: at("give").dataset.give,
        });
      if (at("reseed")) return void this.ask("reseed", { place });
      if (at("let-go")) return void this.letGo(place);
      if (at("fire-one")) return void this.openFire(place);
      if (at("go-on")) this.goOn(place);
    },

    async letGo(place) {
      await this.ask("let-go", { place });
      if (this.nothing) this.showLooks();
      else this.cards[0].querySelector("[data-let-go]").focus();
    },

    goOn: once(async function goOn(place) {
      await this.line; // what was put there a moment ago is gone on with too
      const answer = await post(this.url("go-on"), {
        place,
        version: Number(this.$root.dataset.version),
        token: token(),
      });
      this.trouble =
        answer.data?.reason === "stale"
          ? "The piece was changed elsewhere. Open this page again, then go on with this direction."
          : answer.message;
      if (answer.ok) window.location.assign(answer.data.bench);
    }),

    // The direction that a look is tried in, and clicked into.
    marks({ target }) {
      const card = target.closest("[data-pane]");
      if (!card || Number(card.dataset.place) === this.marked) return;
      this.marked = Number(card.dataset.place);
      for (const one of this.cards) one.toggleAttribute("data-marked", one === card);
    },

    lookAt({ target }) {
      const look = target.closest(CARDS);
      if (!look || !this.beside) return;
      clearTimeout(this.resting);
      this.resting = setTimeout(() => this.tries(look), SETTLED_MS);
    },
    leave() {
      clearTimeout(this.resting);
      if (this.tried) this.tries(null);
    },
    tries(look) {
      this.tried = look;
      const pane = this.cards.find(({ dataset: { place } }) => Number(place) === this.marked);
      if (pane && this.beside) this.panes.draw(pane);
    },

    keyed(event) {
      if (
        event.ctrlKey ||
        event.metaKey ||
        event.altKey ||
        event.target.closest("input, select, dialog") ||
        this.at("fire-dialog").open
      )
        return;
      const look = event.target.closest(CARDS);
      if (look && PLACES.includes(Number(event.key)))
        return (event.preventDefault(), void (event.repeat || this.put(look, Number(event.key))));
      if (event.key.toLowerCase() === "v" && !event.repeat)
        return (event.preventDefault(), this.beside ? this.showLooks() : this.showBeside());
      if (look) return moveIn(this.at("looks"), event, CARDS);
      if (event.target.closest("[data-view]") || event.key === "0") this.panes.keyed(event);
    },

    showLooks() {
      this.mode = "looks";
      this.$nextTick(() => this.at("looks")?.querySelector(CARDS)?.focus());
    },
    showBeside() {
      if (this.nothing) return;
      this.mode = "beside";
      this.$nextTick(() => {
        window.scrollTo(0, 0);
        this.panes.begin();
        this.cards[0]?.querySelector("[data-view]").focus({ preventScroll: true });
      });
    },
    zoomIn() {
      this.panes.zoomIn();
    },
    zoomOut() {
      this.panes.zoomOut();
    },
    fit() {
      this.panes.fit();
    },
    truePixels() {
      this.panes.truePixels();
    },
  });
  window.Alpine.data("directions", () => withParts(mixing, firing, own()));
});

// Panes are drawn anew by the server: what a hand does in them is listened for here.
document.addEventListener("pointerdown", (event) => hand("drag", event));
document.addEventListener("wheel", (event) => hand("wheel", event), { passive: false });

function hand(act, event) {
  const area = event.target.closest?.(".directions-frame [data-view]");
  if (!area) return;
  if (act === "wheel") event.preventDefault();
  window.Alpine.$data(area.closest("[x-data]")).panes[act](event, area);
}
