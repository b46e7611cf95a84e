// Which mark lies at a point of the piece, and which ones a frame touches. What is locked or left out is not found there.

import { holds, upright } from "../../controls/lib/layout.js";

const free = (item) => !item.locked && !item.left_out;

// The topmost one at a point: within the group that is being worked in, else of the whole stack, groups as one.
export function markAt(session, [x, y], chosen) {
  const { boxes } = session.snapshot;
  const at = (items) =>
    [...items].reverse().find((item) => free(item) && holds(boxes[item.id], x, y))?.id;
  for (const group of session.groupsAround(chosen ?? "").reverse()) {
    const found = at(group.members);
    if (found) return found;
  }
  return at(session.document.stack);
}

// The one within a group that lies at a point.
export function memberAt(session, group, [x, y]) {
  const { boxes } = session.snapshot;
  return [...(group.members ?? [])]
    .reverse()
    .find((item) => free(item) && holds(boxes[item.id], x, y))?.id;
}

export function marksWithin(session, frame) {
  const touches = (item) => {
    const box = upright(session.snapshot.boxes[item.id]);
    return (
      box.left < frame.right &&
      box.right > frame.left &&
      box.top < frame.bottom &&
      box.bottom > frame.top
    );
  };
  return session.document.stack
    .filter((item) => free(item) && touches(item))
    .map((item) => item.id);
}
