// The one channel of the bench: events on the window. A room says what happened or what is wanted; whoever it concerns hears it.
// What a control wants bubbles up to the window too. Templates hear with `@name.window`.

export const EVENTS = {
  // of the piece
  "draft-moved": "What a hand moves, or no longer moves.",
  "piece-saving": "Changes are on their way, or wait.",
  "piece-told": "A state is known: { reload, added, refused, elsewhere }.",
  "piece-changed": "The strip and what is on the sheet are told of an older state.",
  "changes-kept": "What is kept because it could not be made again is another.",
  "trouble-told": "What went wrong: { message, signedOut, waiting, stale }.",
  "signed-in": "A session that had ended goes on.",
  "files-coming": "How far files are: { files, sent, ended }.",
  // of the stage
  "view-moved": "The view shows another part, or shows it nearer.",
  "picture-told": "What the picture is: { quality, share, point, see, without }.",
  "tone-under": "The pointer rests at a place of the piece, or left it: { at }.",
  // of what is chosen
  "choice-wanted": "A part or a step is to be chosen: { part, step, also }.",
  "choice-made": "Another part, step, or several marks are chosen.",
  "sheet-changed": "The sheet is to be drawn anew.",
  "sheet-loaded": "The sheet stands: { old }, whether it may be told of an older state.",
  placing: "What is placed by hand: { path }, null for nothing.",
  "drawing-told": 'What is drawn on by hand: { path, choosing }, "" for nothing.',
  "stroke-held": "The stroke that is held: { stroke, number, of }, null for none.",
  "brush-moved": "What is in the hand is another.",
  "values-moved": "Fields of the sheet follow a hand: { path, values }.",
  "room-moved": "A side of the page is dragged: { room }.",
  "held-told": 'What is held back is shown: { look }, "" for not.',
  "words-closed": "The words on the piece are no longer edited.",
  "marks-going": "An edit by which marks go: { edit, label }.",
  // what is wanted
  "step-wanted": "A step of a kind, where the + is: { kind }.",
  "steps-wanted": "Edits that add a step, whose sheet opens: { edits, label }.",
  "copy-wanted": "Steps copied to another part: { of, to, steps }.",
  "group-wanted": "The chosen marks as a group.",
  "placement-wanted": "Something placed by hand: { path }.",
  "region-wanted": "A region drawn on the piece: { path, freehand }.",
  "held-wanted": "What is held back, over the piece, { look, of }: once more, and it goes.",
  "drag-out-wanted": "A shape is to be as large as a frame that is dragged: { part }.",
  "texture-wanted": "Another texture: { path }.",
  "face-wanted": "Another face: { path, text, font }.",
  "words-wanted": "Words edited on the piece: { mark }.",
  "replace-wanted": "Other art: { mark }.",
  "mark-wanted": "A new mark.",
  "surface-wanted": "The surface measured.",
  "screen-wanted": "The screen measured.",
  "screen-measured": "It is.",
  "looks-wanted": "Recipes: { starts }.",
  "tryouts-wanted": "A wall of try-outs: { kind, path, title }.",
  "compare-wanted": "Two versions side by side: { left }.",
  "wipe-wanted": "The wipe line.",
  "tester-wanted": "The linen tester.",
  "past-wanted": "What was done.",
  "pins-wanted": "Pinned versions.",
  "directions-wanted": "Three directions.",
  "keys-wanted": "The keys.",
  "kept-wanted": "What waits, and what is kept.",
  "sign-in-wanted": "Signing in again.",
  "fire-wanted": "The kiln.",
  // what controls of the sheet want of the piece: each has `give`, called with it
  "tones-wanted": "How often each tone occurs: { part, step, of, reads, give }.",
  "tone-wanted": "The tone at a place: { part, step, of, reads, at, give }.",
  "tone-picked": "The tone at the next click: { part, step, of, reads, give }.",
  "art-colours-wanted": "The colours of bare art: { part, give }.",
  "art-colour-picked": "The one at the next click: { part, give }.",
  "piece-colours-wanted": "The colours of the piece, put at once into the detail: { colours }.",
  "colour-wanted": "The colour at the next click: { give }.",
};

export function say(name, detail = {}) {
  window.dispatchEvent(new CustomEvent(name, { detail }));
}

// act(detail). Gives what ends it.
export function hear(name, act) {
  const heard = ({ detail }) => act(detail);
  window.addEventListener(name, heard);
  return () => window.removeEventListener(name, heard);
}
