// What controls say of the values they hold, done on a session: `control-draft` while a hand moves, `control-change` when it lets go.

const REST_MS = 350; // of keys that are pressed one after another, or held

const handOn = (edits) => JSON.stringify(edits.map(({ path }) => path));

export function draftOf(session, { edits }) {
  session.handOver(handOn(edits));
  session.draft(edits);
}

// keys : it is done by keys that may go on. visit : of words that are typed. Both are one state.
export function changeOf(session, { edits, label, reload, keys, visit }) {
  if (!keys) return void session.changeValues(edits, label, { reload, visit });
  draftOf(session, { edits });
  session.later(() => session.changeValues(edits, label, { reload }), REST_MS, handOn(edits));
}
