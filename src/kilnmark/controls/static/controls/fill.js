// What art is filled with: its colour, or another fill, which takes the place of the one before.

document.addEventListener("alpine:init", () => {
  window.Alpine.data("fill", () => ({
    choose({
      currentTarget: {
        dataset: { fill, fresh },
      },
    }) {
      const path = JSON.parse(this.$root.dataset.path);
      const { line, placement } = JSON.parse(this.$root.dataset.now) ?? {};
      if (fill && !fresh) return void this.$dispatch("texture-wanted", { path });
      const kept = { ...(line && { line }), ...(placement && { placement }) };
      const value = fill ? { kind: fill, ...JSON.parse(fresh), ...kept } : null;
      const edits = [{ op: "set", path, value }];
      this.$dispatch("control-change", { edits, label: "Fill", reload: true });
    },
  }));
});
