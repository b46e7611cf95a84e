// The page of keys.

document.addEventListener("alpine:init", () => {
  window.Alpine.data("keysDialog", () => ({
    close() {
      this.$root.close();
    },
  }));
});
