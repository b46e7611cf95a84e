// The sheet: fields drawn by the server from the step's own parameters. Moving one is a draft, letting go a change.

import { get } from "./api.js";
import { fromPx, lengthPx } from "./geometry.js";
import { Levels } from "./levels.js";
import { told } from "./numbers.js";

const same = (a, b) => JSON.stringify(a) === JSON.stringify(b);

export class Sheet {
  constructor(element, session, page) {
    Object.assign(this, { element, session, page, chosen: null });
    element.addEventListener("input", (event) => this.moved(event.target));
    element.addEventListener("change", (event) => this.settled(event.target));
    element.addEventListener("click", (event) => this.clicked(event));
  }

  async open(part, step) {
    this.chosen = { part, step };
    const answer = await get(`${this.session.base}sheet/?part=${part}&step=${step}`);
    if (!same(this.chosen, { part, step })) return;
    if (!answer.ok) return void this.session.say("trouble", { message: answer.message });
    const focus = document.activeElement?.id;
    const { scrollTop } = this.element;
    this.element.innerHTML = answer.data;
    this.element.scrollTop = scrollTop;
    for (const levels of this.element.querySelectorAll("[data-levels]")) {
      this.levels = new Levels(levels, (edits) => this.session.draft(edits), (edits, label) => this.session.change(edits, label));
    }
    if (focus) this.element.querySelector(`#${CSS.escape(focus)}`)?.focus();
    this.onopen?.();
  }

  // The input that carries the path, for itself, its twin or its unit.
  carrier(input) {
    return input.dataset.path ? input : input.closest("[data-field]")?.querySelector("input[data-path], textarea[data-path]");
  }

  moved(input) {
    const carrier = this.carrier(input);
    if (!carrier || input.matches("select, [type=checkbox]")) return;
    if (input.dataset.twin !== undefined) carrier.value = input.value;
    else this.twin(carrier, carrier.value);
    const edit = this.edit(carrier, input.dataset.twin !== undefined ? input.value : carrier.value);
    if (edit) this.session.draft([edit]);
  }

  settled(input) {
    const carrier = this.carrier(input);
    if (!carrier) return;
    if (input.dataset.unit !== undefined) this.changeUnit(input, carrier);
    const source = input.dataset.twin !== undefined ? input : carrier;
    const edit = this.edit(carrier, carrier.type === "checkbox" ? carrier.checked : source.value);
    if (!edit || same(this.session.at(edit.path), edit.value)) return void this.session.dropDraft();
    const reload = carrier.dataset.reload !== undefined || carrier.dataset.title === "Invert";
    this.session.change([edit], carrier.dataset.title || "Changed", { reload });
  }

  edit(carrier, value) {
    const path = JSON.parse(carrier.dataset.path);
    const cast = carrier.dataset.cast;
    if (cast === "bool") return { op: "set", path, value: carrier.checked };
    if (cast === "text") return { op: "set", path, value };
    if (value === "" || Number.isNaN(Number(value))) return null;
    if (cast === "length") return { op: "set", path, value: { value: Number(value), unit: this.unit(carrier) } };
    return { op: "set", path, value: Number(value) / Number(carrier.dataset.factor || 1) };
  }

  unit(carrier) {
    return carrier.closest("[data-field]").querySelector("[data-unit]").value;
  }

  twin(carrier, value) {
    const twin = carrier.closest("[data-field]")?.querySelector("[data-twin]");
    if (twin) twin.value = carrier.dataset.cast === "text" ? value : told(value);
  }

  // The same length in another unit.
  changeUnit(select, carrier) {
    const tall = this.session.told.boxes[this.chosen.part]?.height ?? this.page.height;
    const px = lengthPx({ value: Number(carrier.value), unit: select.dataset.was }, this.page.ppi, tall);
    const value = fromPx(px, select.value, this.page.ppi, tall).value;
    if (carrier.type === "range") {
      for (const end of ["least", "most"]) {
        const bound = lengthPx({ value: Number(carrier.dataset[end]), unit: "px" }, this.page.ppi, tall);
        carrier[end === "least" ? "min" : "max"] = fromPx(bound, select.value, this.page.ppi, tall).value;
      }
    }
    carrier.value = value;
    this.twin(carrier, value);
    select.dataset.was = select.value;
  }

  // Something else moved what these fields show.
  showValues(path, values) {
    const fields = [...this.element.querySelectorAll("input[data-path]")];
    for (const [key, value] of Object.entries(values)) {
      const field = fields.find((input) => same(JSON.parse(input.dataset.path), [...path, key]));
      if (!field) continue;
      const number = typeof value === "object" ? value.value : value * Number(field.dataset.factor || 1);
      field.value = told(number);
    }
  }

  clicked(event) {
    const button = event.target.closest("button");
    if (!button) return;
    const { copyStep, removeStep, moveStep, copyMark, removeMark, ground } = button.dataset;
    if (copyStep) this.session.change([{ op: "copy_step", step: copyStep }], "Step repeated", { reload: true });
    if (removeStep) this.session.change([{ op: "remove_step", step: removeStep }], "Step removed", { reload: true });
    if (moveStep) this.session.change([{ op: "move_step", step: moveStep, to: Number(button.dataset.to) }], "Step moved", { reload: true });
    if (copyMark) this.session.change([{ op: "copy_mark", mark: copyMark }], "Mark copied", { added: true });
    if (removeMark) this.session.change([{ op: "remove_mark", mark: removeMark }], "Mark removed", { reload: true });
    if (ground) this.chooseGround(ground);
    if (button.dataset.chooseTexture !== undefined) this.onchoose(JSON.parse(button.dataset.path));
    if (button.dataset.placeTexture !== undefined) this.onplace(button);
    if (button.dataset.upTo !== undefined) this.onupto(button);
  }

  chooseGround(kind) {
    const set = (value) => this.session.change([{ op: "set", path: ["ground", "fill"], value }], "Ground", { reload: true });
    if (kind === "none") set({ kind });
    if (kind === "colour") set({ kind, colour: "#f4f0e7" });
    if (kind === "texture") this.onchoose(["ground", "fill"]);
  }
}
