// Files that are dropped on the piece or a tab, and what is pasted: a picture, the source of an SVG, or words.

const SVG_SOURCE = /^\s*(?:<\?xml[^>]*>\s*)?(?:<!--[\s\S]*?-->\s*|<!DOCTYPE[^>]*>\s*)*<svg[\s>]/i;
const FIELD = "input, textarea, select, [contenteditable]";

const asFile = (source) => new File([source], "pasted.svg", { type: "image/svg+xml" });
const brings = ({ types }) => types.includes("Files");

export function dropping({ session, stage }) {
  const sign = stage.element.querySelector("[data-drop-here]");
  document.addEventListener("dragover", (event) => {
    if (!brings(event.dataTransfer)) return;
    event.preventDefault(); // or the browser opens the file
    event.dataTransfer.dropEffect = "copy";
    sign.hidden = false;
  });
  document.addEventListener("dragleave", (event) => {
    if (!event.relatedTarget) sign.hidden = true;
  });
  document.addEventListener("drop", (event) => {
    sign.hidden = true;
    if (!brings(event.dataTransfer)) return;
    event.preventDefault();
    const files = [...event.dataTransfer.files]; // gone after the first wait
    if (!files.length) return;
    if (event.target.closest(".tab[data-part='ground']"))
      return void session.bringIn(files, { as: "ground" });
    const onStage = stage.element.contains(event.target) && files.length === 1;
    session.bringIn(files, onStage ? placeOf(stage, event) : {});
  });
}

function placeOf({ element, view }, event) {
  const { left, top } = element.getBoundingClientRect();
  const [x, y] = view.toPiece(event.clientX - left, event.clientY - top);
  const inside = x > 0 && y > 0 && x < view.size[0] && y < view.size[1];
  return inside ? { x: Math.round(x), y: Math.round(y) } : {};
}

export function pasting({ session }) {
  document.addEventListener("paste", (event) => {
    if (event.target.closest?.(FIELD) || document.querySelector("dialog[open]")) return;
    const files = [...event.clipboardData.files];
    const text = event.clipboardData.getData("text/plain");
    if (SVG_SOURCE.test(text)) session.bringIn([asFile(text)]);
    else if (files.length) session.bringIn(files);
    else if (text.trim()) session.addLettering(text.trim());
    else return;
    event.preventDefault();
  });
}
