// What the controls of what holds ask of the piece: tones and colours, counted, at a place, or at the next click.

import { getJson } from "../../kilnmark/api.js";
import { hear } from "../events.js";
import { pickFrom, pickPoint } from "../stage/picking.js";
import { store } from "../store.js";

const ask = (name, asked) => getJson(`${store.session.base}${name}/?${new URLSearchParams(asked)}`);
const placeOf = ([x, y]) => ({ x: x.toFixed(2), y: y.toFixed(2) });

// The tones of the pixels that a blend range reads.
async function giveTones({ part, step, of, reads, give }) {
  const answer = await ask("tones", { part, step, of, reads });
  if (answer.ok) give(answer.data.counts);
}

async function giveTone({ part, step, of, reads, at, give }) {
  const answer = await ask("tones/at", { part, step, of, reads, ...placeOf(at) });
  if (answer.ok && answer.data.tone !== null) give(answer.data.tone);
}

// The colours of the bare art of a part, and with a place the one there.
async function giveArtColours({ part, give }, at = null) {
  const answer = await ask("colours", { part, ...(at && placeOf(at)) });
  if (answer.ok) give(answer.data);
}

async function atNextClick(act) {
  const found = await pickPoint(store.stage);
  if (found) act(found.at);
}

export function answerControls() {
  hear("tones-wanted", giveTones);
  hear("tone-wanted", giveTone);
  hear("tone-picked", (asked) => atNextClick((at) => giveTone({ ...asked, at })));
  hear("art-colours-wanted", (asked) => giveArtColours(asked));
  hear("art-colour-picked", (asked) => atNextClick((at) => giveArtColours(asked, at)));
  hear("colour-wanted", async ({ give }) => {
    const colour = await pickFrom(store.stage);
    if (colour) give(colour);
  });
  hear("piece-colours-wanted", (told) => {
    told.colours = store.session.snapshot.colours;
  });
}
