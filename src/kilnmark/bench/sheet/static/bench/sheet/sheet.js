// The sheet: a form drawn by the server from what is chosen. Its controls say what they draft and change; here that is done.

import { say } from "../events.js";
import { morph } from "../../controls/lib/morph.js";
import { formatNumber } from "../../controls/lib/numbers.js";
import { changeOf, draftOf } from "../../controls/lib/saying.js";
import { get, passes } from "../../kilnmark/api.js";
import { store, unitOf } from "../store.js";

const AGAIN_MS = 2500;
const REACHED = "input, select, textarea, button, summary";
const lost = () => document.activeElement === document.body;
const same = (a, b) => JSON.stringify(a) === JSON.stringify(b);

document.addEventListener("alpine:init", () => {
  window.Alpine.data("sheet", () => ({
    upTo: "false",
    shown: "",
    asked: 0,
    retrying: 0,
    hadFocus: false, // of its own: what is not named here would be written on the bench

    async load() {
      const {
        session,
        session: { version },
        choice: { part, step },
        several,
      } = store;
      this.asked += 1;
      const mine = this.asked;
      this.wait({ part, step, several: several.join() });
      const answer = await get(
        `${session.base}sheet/?part=${part}&step=${step}${several.length > 1 ? `&several=${several.join(",")}` : ""}`,
      );
      if (
        mine !== this.asked ||
        !same({ part, step }, store.choice) ||
        !same(several, store.several)
      )
        return;
      if (answer.ok && session.version !== version) return void this.load(); // a change was stored meanwhile
      if (!answer.ok) return void this.failed(answer);
      const known =
        this.shown === JSON.stringify({ part, step, several: several.join() }) && this.holds();
      if (known && !session.resting) return void say("sheet-loaded", { old: true }); // not under a hand that is at work on it
      this.free();
      this.shown = JSON.stringify({ part, step, several: several.join() });
      const { scrollTop } = this.$root;
      this.upTo = "false";
      this.measure();
      morph(this.$root, answer.data);
      this.showMeant();
      if (known) this.openNew(known);
      this.$root.scrollTop = scrollTop;
      say("sheet-loaded", { old: session.queue.length > 0 });
    },

    holds() {
      return [...this.$root.querySelectorAll(".hold")].map((one) => one.getAttribute("key"));
    },

    // A hold that was not there before is set next.
    openNew(known) {
      for (const one of this.$root.querySelectorAll(".hold")) {
        if (known.includes(one.getAttribute("key"))) continue;
        one.open = true;
        if (lost() || document.activeElement.closest(".hold-more"))
          one.querySelector("summary").focus();
      }
    },

    // The sheet of something else takes no input: it would be meant for what is chosen now.
    wait(wanted) {
      if (this.shown === JSON.stringify(wanted)) return;
      this.hadFocus ||= this.$root.contains(document.activeElement);
      this.$root.setAttribute("aria-busy", "true");
      this.$root.inert = true;
    },

    free() {
      this.$root.removeAttribute("aria-busy");
      this.$root.inert = false;
      const { hadFocus } = this;
      this.hadFocus = false;
      if (hadFocus && lost()) this.$nextTick(() => this.$root.querySelector(REACHED)?.focus());
    },

    failed(answer) {
      say("trouble-told", { message: answer.message, signedOut: answer.signedOut });
      clearTimeout(this.retrying);
      if (passes(answer)) this.retrying = setTimeout(() => this.load(), AGAIN_MS);
      else this.free();
    },

    // What waits to be stored is shown as it will be.
    showMeant() {
      const { session } = store;
      if (!session.queue.length) return;
      for (const field of this.$root.querySelectorAll("[data-path][data-cast]")) {
        const [there, meant] = [
          session.at(JSON.parse(field.dataset.path)),
          session.meant(JSON.parse(field.dataset.path)),
        ];
        if (same(there, meant)) continue;
        if (field.type === "checkbox") field.checked = meant;
        else
          field.value =
            typeof meant === "object"
              ? meant.value
              : typeof meant === "number"
                ? formatNumber(meant * Number(field.dataset.factor || 1))
                : meant;
      }
    },

    // What controls need to turn one unit into another.
    measure() {
      Object.assign(this.$root.dataset, {
        ppi: store.page.ppi,
        unitPx: unitOf(store.choice.part),
      });
    },

    draft({ detail }) {
      draftOf(store.session, detail);
    },
    change({ detail }) {
      changeOf(store.session, detail);
    },

    // A button that says which edit it makes, or which ones.
    act({ currentTarget }) {
      const { edit, label, added } = currentTarget.dataset;
      store.session.change(
        [JSON.parse(edit)].flat(),
        label,
        added === undefined ? { reload: true } : { added: added || true },
      );
    },

    // An edit by which marks go: what they hold is asked about first.
    letGo({ currentTarget }) {
      const { edit, label } = currentTarget.dataset;
      say("marks-going", { edit: JSON.parse(edit), label });
    },

    beforeAndAfter() {
      say("compare-wanted", { left: "solved" });
    },

    tryAnother({
      currentTarget: {
        dataset: { kind, path, title },
      },
    }) {
      say("tryouts-wanted", { kind, path, title });
    },

    replaceArt({ currentTarget }) {
      say("replace-wanted", currentTarget.dataset);
    },

    dragOut({
      currentTarget: {
        dataset: { part },
      },
    }) {
      say("drag-out-wanted", { part });
    },

    measureSurface() {
      say("surface-wanted");
    },

    group() {
      say("group-wanted");
    },

    copyTo({
      currentTarget: {
        dataset: { of, to, steps },
      },
    }) {
      say("copy-wanted", { of, to, steps: steps ? JSON.parse(steps) : null });
    },

    chooseGround({ currentTarget }) {
      const { ground, fill } = currentTarget.dataset;
      if (!fill && ground === "picture")
        return void this.$root.querySelector("[data-ground-file]").click();
      if (!fill) return void say("texture-wanted", { path: ["ground", "fill"] });
      store.session.change(
        [{ op: "set", path: ["ground", "fill"], value: { kind: ground, ...JSON.parse(fill) } }],
        "Ground",
        { reload: true },
      );
    },

    groundFile({ target }) {
      if (target.files.length) store.session.bringIn([target.files[0]], { as: "ground" });
      target.value = "";
    },

    // Where a reading was taken, as a layer over the piece; and the click that makes a reading what is wanted.
    readingPressed({ target }) {
      const { layer, aim, label } = target.closest("[data-layer], [data-aim]")?.dataset ?? {};
      if (aim) return void store.session.change(JSON.parse(aim), label, { reload: true });
      if (!layer) return;
      say("held-wanted", { of: layer });
    },

    // Where a reading was taken, hatched on the piece until something else is done.
    showPlace({ target }) {
      const button = target.closest("[data-place]");
      if (button) store.handles.marked.show(JSON.parse(button.dataset.place));
    },

    showUpTo({ currentTarget }) {
      const { part, number } = currentTarget.dataset;
      this.upTo = String(this.upTo !== "true");
      store.stage.show(this.upTo === "true" ? { part, number: Number(number) } : null);
    },

    // Something else moved what these fields show.
    showValues({ detail: { path, values } }) {
      const fields = [...this.$root.querySelectorAll("input[data-path]")];
      for (const [key, value] of Object.entries(values)) {
        const field = fields.find((input) => same(JSON.parse(input.dataset.path), [...path, key]));
        if (field)
          field.value = formatNumber(
            typeof value === "object" ? value.value : value * Number(field.dataset.factor || 1),
          );
      }
    },
  }));
});
