// A fade of the form: held on the piece by its ends and middle, or turned round.

document.addEventListener("alpine:init", () => {
  window.Alpine.data("fade", () => ({
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
    reverse({
      currentTarget: {
        dataset: { start, end },
      },
    }) {
      const path = JSON.parse(this.$root.dataset.path);
      const edits = [
        ["start", end],
        ["end", start],
      ].map(([name, value]) => ({ op: "set", path: [...path, name], value: Number(value) }));
      this.$dispatch("control-change", { edits, label: "Fade reversed", reload: true });
    },
  }));
});
