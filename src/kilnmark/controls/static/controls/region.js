// A region of the form: drawn on the piece, moved there by hand, or told in numbers.

document.addEventListener("alpine:init", () => {
  window.Alpine.data("region", () => ({
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

    get path() {
      return JSON.parse(this.$root.dataset.path);
    },
    draw() {
      this.$dispatch("region-wanted", { path: this.path });
    },
    drawFreehand() {
      this.$dispatch("region-wanted", { path: this.path, freehand: true });
    },
    toggle() {
      this.$dispatch("placement-wanted", {
        path: this.pressed === "true" ? null : this.$root.dataset.path,
      });
    },
    remove() {
      if (this.pressed === "true") this.$dispatch("placement-wanted", { path: null });
      this.$dispatch("control-change", {
        edits: [{ op: "set", path: this.path, value: null }],
        label: "Region removed",
        reload: true,
      });
    },
  }));
});
