// The sheet: a form drawn by the server from what is chosen. Its controls say what they draft and change; here that is done.

import { morph } from "../../controls/lib/morph.js";
import { formatNumber } from "../../controls/lib/numbers.js";
import { changeOf, draftOf } from "../../controls/lib/saying.js";
import { get, getJson, passes } from "../api.js";
import { context, unitOf } from "../context.js";
import { pickFrom, pickPoint } from "../picking.js";

const AGAIN_MS = 2500;
const REACHED = "input, select, textarea, button, summary";
const lost = () => document.activeElement === document.body;
const same = (a, b) => JSON.stringify(a) === JSON.stringify(b);

document.addEventListener("alpine:init", () => {
  window.Alpine.data("sheet", () => ({
    upTo: "false",
    shown: "",
    heldLook: "",
    get hatched() {
      return String(this.heldLook === "hatched");
    },
    get greyed() {
      return String(this.heldLook === "grey");
    },
    asked: 0,
    retrying: 0,
    hadFocus: false, // of its own: what is not named here would be written on the bench
    loading: null,

    load() {
      this.loading = this.fetch();
      return this.loading;
    },

    async fetch() {
      const {
        session,
        session: { version },
        choice: { part, step },
        several,
      } = context;
      this.asked += 1;
      const mine = this.asked;
      this.wait({ part, step, several: several.join() });
      const answer = await get(
        `${session.base}sheet/?part=${part}&step=${step}${several.length > 1 ? `&several=${several.join(",")}` : ""}`,
      );
      if (
        mine !== this.asked ||
        !same({ part, step }, context.choice) ||
        !same(several, context.several)
      )
        return;
      if (answer.ok && session.version !== version) return this.load(); // a change was stored meanwhile
      if (!answer.ok) return void this.failed(answer);
      const known =
        this.shown === JSON.stringify({ part, step, several: several.join() }) && this.holds();
      if (known && !session.resting) return void this.$dispatch("sheet-loaded", { old: true }); // not under a hand that is at work on it
      this.free();
      if (!known) this.holdBack("");
      this.shown = JSON.stringify({ part, step, several: several.join() });
      const { scrollTop } = this.$root;
      this.upTo = "false";
      this.measure();
      morph(this.$root, answer.data);
      this.showMeant();
      if (known) this.openNew(known);
      this.$root.scrollTop = scrollTop;
      this.$dispatch("sheet-loaded", { old: session.queue.length > 0 });
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
      context.session.say("trouble", { message: answer.message, signedOut: answer.signedOut });
      clearTimeout(this.retrying);
      if (passes(answer)) this.retrying = setTimeout(() => this.load(), AGAIN_MS);
      else this.free();
    },

    // What waits to be stored is shown as it will be.
    showMeant() {
      const { session } = context;
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
        ppi: context.page.ppi,
        unitPx: unitOf(context.choice.part),
      });
    },

    draft({ detail }) {
      draftOf(context.session, detail);
    },
    change({ detail }) {
      changeOf(context.session, detail);
    },

    // A button that says which edit it makes, or which ones.
    act({ currentTarget }) {
      const { edit, label, added } = currentTarget.dataset;
      context.session.change(
        [JSON.parse(edit)].flat(),
        label,
        added === undefined ? { reload: true } : { added: added || true },
      );
    },

    // An edit by which marks go: what they hold is asked about first.
    letGo({ currentTarget }) {
      const { edit, label } = currentTarget.dataset;
      this.$dispatch("marks-going", { edit: JSON.parse(edit), label });
    },

    beforeAndAfter() {
      this.$dispatch("compare-wanted", { left: "solved" });
    },

    tryAnother({
      currentTarget: {
        dataset: { kind, path, title },
      },
    }) {
      this.$dispatch("tryouts-wanted", { kind, path, title });
    },

    replaceArt({ currentTarget }) {
      context.replaceArt(currentTarget.dataset.mark);
    },

    measureSurface() {
      this.$dispatch("surface-wanted");
    },

    group() {
      this.$dispatch("group-chosen");
    },

    copyTo({
      currentTarget: {
        dataset: { of, to, steps },
      },
    }) {
      this.$dispatch("copy-steps", { of, to, steps: steps ? JSON.parse(steps) : null });
    },

    chooseGround({ currentTarget }) {
      const { ground, fill } = currentTarget.dataset;
      if (!fill && ground === "picture")
        return void this.$root.querySelector("[data-ground-file]").click();
      if (!fill) return void this.$dispatch("texture-wanted", { path: ["ground", "fill"] });
      context.session.change(
        [{ op: "set", path: ["ground", "fill"], value: { kind: ground, ...JSON.parse(fill) } }],
        "Ground",
        { reload: true },
      );
    },

    groundFile({ target }) {
      if (target.files.length) context.session.bringIn([target.files[0]], { as: "ground" });
      target.value = "";
    },

    pieceColours({ detail }) {
      detail.colours = context.session.snapshot.colours;
    },

    // The tones of the pixels that a blend range reads.
    async wantTones({ detail: { part, step, of, reads, give } }) {
      const answer = await getJson(
        `${context.session.base}tones/?${new URLSearchParams({ part, step, of, reads })}`,
      );
      if (answer.ok) give(answer.data.counts);
    },

    // The tone that a range reads under the next click on the piece, or under the pointer.
    async pickTone({ detail }) {
      const found = await pickPoint(context.stage);
      if (found) this.wantTone({ detail: { ...detail, at: found.at } });
    },

    async wantTone({
      detail: {
        part,
        step,
        of,
        reads,
        at: [x, y],
        give,
      },
    }) {
      const asked = { part, step, of, reads, x: x.toFixed(2), y: y.toFixed(2) };
      const answer = await getJson(
        `${context.session.base}tones/at/?${new URLSearchParams(asked)}`,
      );
      if (answer.ok && answer.data.tone !== null) give(answer.data.tone);
    },

    // The colours of the bare art of a part, and the one under the next click.
    async wantArtColours({ detail: { part, give } }, at = null) {
      const place = at ? { x: at[0].toFixed(2), y: at[1].toFixed(2) } : {};
      const answer = await getJson(
        `${context.session.base}colours/?${new URLSearchParams({ part, ...place })}`,
      );
      if (answer.ok) give(answer.data);
    },

    async pickArtColour(event) {
      const found = await pickPoint(context.stage);
      if (found) this.wantArtColours(event, found.at);
    },

    async pickColour({ detail }) {
      const found = await pickFrom(context.stage);
      if (found) detail.give(found);
    },

    // What the landing holds back, over the piece, until it is pressed again or something else is chosen.
    showHeld({ currentTarget }) {
      this.holdBack(currentTarget.dataset.look);
    },
    // A key may be pressed before the sheet has come that says whether anything is held back.
    async heldWanted() {
      const { part, step } = context.choice;
      await this.loading;
      if (same({ part, step }, context.choice)) this.holdBack("hatched");
    },
    holdBack(look) {
      this.heldLook =
        this.heldLook === look || !this.$root.querySelector(".held-looks") ? "" : look;
      context.heldBack.show(this.heldLook);
    },

    // Where a reading was taken, as a layer over the piece; and the click that makes a reading what is wanted.
    readingPressed({ target }) {
      const { layer, aim, label } = target.closest("[data-layer], [data-aim]")?.dataset ?? {};
      if (aim) return void context.session.change(JSON.parse(aim), label, { reload: true });
      if (!layer) return;
      const shown = context.heldBack.of === layer && context.heldBack.look;
      context.heldBack.show(shown ? "" : "hatched", shown ? "landing" : layer);
    },

    showUpTo({ currentTarget }) {
      const { part, number } = currentTarget.dataset;
      this.upTo = String(this.upTo !== "true");
      context.stage.show(this.upTo === "true" ? { part, number: Number(number) } : null);
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
