// A texture's place: as numbers, or by hand on the piece itself. Whoever holds it there says so with `placing`.

document.addEventListener("alpine:init", () => {
  window.Alpine.data("placement", () => ({
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
    tryAll({
      currentTarget: {
        dataset: { kind, path, title },
      },
    }) {
      this.$dispatch("tryouts-wanted", { kind, path, title });
    },
    toggle() {
      this.$dispatch("placement-wanted", {
        path: this.pressed === "true" ? null : this.$root.dataset.path,
      });
    },
  }));
});
