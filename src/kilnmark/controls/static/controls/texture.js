// A texture of the form: another one is wished for.

document.addEventListener("alpine:init", () => {
  window.Alpine.data("texture", () => ({
    tryAll({
      currentTarget: {
        dataset: { kind, path, title },
      },
    }) {
      this.$dispatch("tryouts-wanted", { kind, path, title });
    },
    choose() {
      this.$dispatch("texture-wanted", { path: JSON.parse(this.$root.dataset.path) });
    },
  }));
});
