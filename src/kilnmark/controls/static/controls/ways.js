// One of a few ways, each with a small picture.

document.addEventListener("alpine:init", () => {
  window.Alpine.data("ways", () => ({
    choose({ target }) {
      const { path, title } = this.$root.dataset;
      this.$dispatch("control-change", {
        edits: [{ op: "set", path: JSON.parse(path), value: target.value }],
        label: title,
        reload: true,
      });
    },
  }));
});
