// A step taken from one direction and let go over another.
export const mixing = {
  lifted: null,

  lift(event) {
    const chip = event.target.closest("[data-step]");
    if (!chip) return;
    this.lifted = {
      step: chip.dataset.step,
      giver: Number(chip.closest("[data-pane]").dataset.place),
    };
    event.dataTransfer.setData("text/plain", chip.textContent.trim());
  },
  over(event) {
    const card = event.target.closest("[data-pane]");
    for (const one of this.cards)
      one.toggleAttribute(
        "data-over",
        one === card && this.lifted && Number(one.dataset.place) !== this.lifted.giver,
      );
    if (card && this.lifted) event.preventDefault();
  },
  drop(event) {
    event.preventDefault();
    const taker = Number(event.target.closest("[data-pane]")?.dataset.place);
    if (this.lifted && taker && taker !== this.lifted.giver)
      this.ask("mix", { ...this.lifted, taker });
    this.dropped();
  },
  dropped() {
    this.lifted = null;
    for (const one of this.cards) one.removeAttribute("data-over");
  },
};
