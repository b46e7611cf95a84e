// Which colours and groups of a drawing are shown.

document.addEventListener("alpine:init", () => {
  window.Alpine.data("parts", () => ({
    groups: [],
    paints: [],
    all: [],
    names: [],
    changed: {},
    told: "",

    init() {
      this.refresh();
    },

    refresh() {
      const { groups, paints, all, names, changed } = this.$root.dataset;
      Object.assign(this, {
        groups: JSON.parse(groups),
        paints: JSON.parse(paints),
        all: JSON.parse(all),
        names: JSON.parse(names),
        changed: JSON.parse(changed),
      });
      this.show();
    },

    show() {
      this.toggles(
        "[data-paint-toggles]",
        this.all,
        this.paints,
        "paints",
        (paint) => this.changed[paint] ?? paint,
      );
      this.toggles(
        "[data-group-toggles]",
        this.names.map((_, n) => n),
        this.groups,
        "groups",
        (n) => this.names[n] || `part ${n + 1}`,
      );
      const count = (chosen, all, word) =>
        chosen.length ? `${chosen.length} of ${all.length} ${word}` : "";
      this.told =
        [count(this.paints, this.all, "colours"), count(this.groups, this.names, "groups")]
          .filter(Boolean)
          .join(", ") || "all shown";
    },

    toggles(where, all, chosen, name, words) {
      const shown = (one) => !chosen.length || chosen.includes(one);
      this.$root.querySelector(where).replaceChildren(
        ...(all.length < 2 ? [] : all).map((one) => {
          const button = document.createElement("button");
          const text = String(words(one));
          Object.assign(button, {
            type: "button",
            className: "toggle",
            textContent: text.startsWith("url") ? "gradient" : text,
          });
          button.setAttribute("aria-pressed", String(shown(one)));
          if (text.startsWith("#")) button.style.borderLeftColor = text;
          button.addEventListener("click", () =>
            this.turn(
              name,
              all,
              all.filter((other) => (other === one ? !shown(one) : shown(other))),
            ),
          );
          return button;
        }),
      );
    },

    // All of them shown is as good as none named; none at all is not to be had.
    turn(name, all, left) {
      if (!left.length) return;
      this[name] = left.length === all.length ? [] : left;
      this.show();
      const edits = [
        { op: "set", path: [...JSON.parse(this.$root.dataset.path), name], value: this[name] },
      ];
      this.$dispatch("control-change", { edits, label: "Parts shown" });
    },
  }));
});
