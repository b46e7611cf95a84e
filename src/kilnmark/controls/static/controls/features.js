// OpenType features by their plain names: each is switched on or off by hand.

document.addEventListener("alpine:init", () => {
  window.Alpine.data("features", () => ({
    turn({ target }) {
      const button = target.closest("[data-feature]");
      if (!button) return;
      const on = button.getAttribute("aria-pressed") !== "true";
      button.setAttribute("aria-pressed", String(on));
      const known = JSON.parse(this.$root.dataset.value);
      const value = { ...(Array.isArray(known) ? {} : known), [button.dataset.feature]: on };
      this.$root.dataset.value = JSON.stringify(value);
      this.$dispatch("control-change", {
        edits: [{ op: "set", path: JSON.parse(this.$root.dataset.path), value }],
        label: button.textContent,
      });
    },
  }));
});
