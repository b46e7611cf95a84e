// What the components of one bench share: its session, page, stage and handles, what is chosen, and what they do for each other.

export const context = {
  session: null,
  page: null, // { width, height, ppi } in document px
  stage: null,
  handles: null,
  heldBack: null,
  choice: { part: "", step: "bare" },
  several: [], // ids of marks that are chosen together, when they are more than one
  chooseTexture: null, // () -> { hash, edges } or null
  chooseFace: null, // ({ path, text, font }) -> nothing: it changes the piece itself
  replaceArt: null, // (mark) -> nothing
  words: null, // the editor of words on the piece
  openMark: null,
  openFire: null,
  openSignIn: null,
  focusStep: null, // the id of a step whose picture has the focus once it is there
};

// What is % of, in a part: the unit of its frame, document px.
export function unitOf(part) {
  return context.session.snapshot.frames[part]?.unit ?? context.page.height;
}

export function treatmentOf(part) {
  const { document } = context.session;
  return (
    { ground: document.ground.treatment, piece: document.treatment }[part] ??
    context.session.mark(part)?.treatment ??
    []
  );
}

// Say something to whoever listens, anywhere on the page.
export function announce(name, detail = {}) {
  window.dispatchEvent(new CustomEvent(name, { detail }));
}
