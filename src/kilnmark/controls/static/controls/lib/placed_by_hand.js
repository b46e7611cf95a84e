// The button of a control whose value is placed by hand on the piece, and let go again. Whoever holds it there says so with `placing`.

export const placedByHand = () => ({
  pressed: "false",
  listen: null, // of its own: what is not named here would be written on the bench

  init() {
    this.listen = ({ detail }) => {
      this.pressed = String(detail.path === this.$root.dataset.path);
    };
    window.addEventListener("placing", this.listen);
  },
  destroy() {
    window.removeEventListener("placing", this.listen);
  },

  toggle() {
    this.$dispatch("placement-wanted", {
      path: this.pressed === "true" ? null : this.$root.dataset.path,
    });
  },
});
