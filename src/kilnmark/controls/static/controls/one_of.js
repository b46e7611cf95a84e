// One of several kinds of settings, or none of them. What a kind has in common with the one before keeps its place.

const KEPT = ["line", "placement", "how"];

document.addEventListener("alpine:init", () => {
  window.Alpine.data("oneOf", () => ({
    choose({
      currentTarget: {
        dataset: { kind, fresh },
      },
    }) {
      const path = JSON.parse(this.$root.dataset.path);
      const now = JSON.parse(this.$root.dataset.now) ?? {};
      if (kind && !fresh) return void this.$dispatch("texture-wanted", { path });
      const begins = kind ? JSON.parse(fresh) : null;
      const kept = KEPT.filter((name) => now[name] && name in (begins ?? {}));
      const value = begins && {
        kind,
        ...begins,
        ...Object.fromEntries(kept.map((one) => [one, now[one]])),
      };
      const edits = [{ op: "set", path, value }];
      this.$dispatch("control-change", { edits, label: this.$root.dataset.title, reload: true });
    },
  }));
});
