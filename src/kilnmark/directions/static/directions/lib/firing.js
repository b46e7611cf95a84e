// Which of the directions are fired: all that stand there, or the one that was asked for.
export const firing = {
  fired: false,

  // only : the place of the one that is asked for; without, all are.
  openFire(only) {
    const wanted = typeof only === "number" ? String(only) : "";
    this.at("which").replaceChildren(
      ...this.names.map(([place, name]) => {
        const label = document.createElement("label");
        const box = Object.assign(document.createElement("input"), {
          type: "checkbox",
          name: "place",
          value: place,
          checked: !wanted || wanted === place,
          className: "form-check-input",
        });
        label.append(box, ` ${name}`);
        return label;
      }),
    );
    this.fired = false;
    this.at("fire-dialog").showModal();
    this.at("fire-start").focus();
  },
  closeFire() {
    this.at("fire-dialog").close();
  },
  firing(event) {
    const none = !this.at("which").querySelector(":checked");
    if (none || this.fired) event.preventDefault();
    this.fired = !none;
  },
};
