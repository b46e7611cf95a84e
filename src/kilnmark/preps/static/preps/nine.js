// Nine values of one setting, side by side; a click takes one.

import { picture } from "../kilnmark/api.js";

export const nine = () => ({
  nineSettings: [],

  openNine({ currentTarget }) {
    this.nineSettings = JSON.parse(currentTarget.dataset.nine);
    const select = this.$root.querySelector("[data-nine-of]");
    select.replaceChildren(
      ...this.nineSettings.map(({ title }, n) => new Option(title, String(n))),
    );
    this.openDialog("nine");
    this.fillNine();
  },

  async fillNine() {
    const setting = this.nineSettings[Number(this.$root.querySelector("[data-nine-of]").value)];
    const list = this.$root.querySelector("[data-nine-list]");
    const now = this.session.at(setting.path);
    const nearest = setting.values.reduce(
      (best, value) => (Math.abs(value - now) < Math.abs(best - now) ? value : best),
      setting.values[0],
    );
    list.replaceChildren(
      ...setting.values.map((value) => this.nineCard(setting, value, value === nearest)),
    );
    list.querySelector("[aria-pressed=true]")?.focus();
    for (const button of Array.from(list.children)) {
      const edits = [
        ...this.session.unsaved,
        { op: "set", path: setting.path, value: Number(button.dataset.value) },
      ];
      const answer = await picture(this.url("picture"), {
        edits,
        width: 300,
        height: 168,
        way: this.way,
        x: this.x,
        y: this.y,
      });
      if (!button.isConnected) return;
      if (answer.ok) this.put(button.querySelector("canvas"), answer.image);
    }
  },

  nineCard({ path, factor, unit }, value, pressed) {
    const button = document.createElement("button");
    Object.assign(button, { type: "button", className: "nine-card" });
    Object.assign(button.dataset, { value, path: JSON.stringify(path) });
    button.setAttribute("aria-pressed", String(pressed));
    const name = document.createElement("span");
    name.textContent = `${Number((value * factor).toPrecision(3))} ${unit}`.trim();
    button.append(document.createElement("canvas"), name);
    return button;
  },

  takeNine(event) {
    const button = event.target.closest(".nine-card");
    if (!button) return;
    this.dialog("nine").close();
    this.session.change(
      [
        {
          op: "set",
          path: JSON.parse(button.dataset.path),
          value: Number(button.dataset.value),
        },
      ],
      "One of nine",
    );
  },
});
