// The face of a lettering: another one is wished for.

document.addEventListener("alpine:init", () => {
  window.Alpine.data("face", () => ({
    choose() {
      const { path, text, font } = this.$root.dataset;
      this.$dispatch("face-wanted", { path: JSON.parse(path), text, font });
    },
  }));
});
