// Files on their way onto the piece: how far each is, until all of them are there or refused.

import { hear } from "../events.js";

document.addEventListener("alpine:init", () => {
  window.Alpine.data("coming", () => ({
    coming: false,
    told: "",

    init() {
      hear("files-coming", (detail) => this.tell(detail));
    },

    tell({ files, sent, ended }) {
      this.coming = !ended;
      const list = this.$root.querySelector("ul");
      if (!sent || ended) list.replaceChildren(...files.map(row));
      const total = files.reduce((sum, { size }) => sum + size, 0);
      let before = 0;
      for (const [n, { size }] of files.entries()) {
        list.children[n].querySelector("progress").value = Math.min(
          Math.max((sent - before) / Math.max(size, 1), 0),
          1,
        );
        before += size;
      }
      const what = files.length === 1 ? files[0].name : `${files.length} files`;
      this.told = sent >= total && sent ? `${what} being looked at` : `Bringing in ${what}`;
    },
  }));
});

function row({ name }) {
  const item = document.createElement("li");
  const progress = Object.assign(document.createElement("progress"), { max: 1, value: 0 });
  progress.setAttribute("aria-label", `How far ${name} is`);
  item.append(Object.assign(document.createElement("span"), { textContent: name }), progress);
  return item;
}
