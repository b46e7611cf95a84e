// The pixels of tips, and the same halved again and again: what `kilncore/strokes/tip.py` has.

import { getJson } from "../../kilnmark/api.js";
import { store } from "../store.js";

const known = new Map();
const texts = new Map();

// As strokes are told it: a tip that ships by its name, one of one's own by its pixels; the smooth round one until those are known.
export const toldOf = (name) => texts.get(name) ?? (name.startsWith("own-") ? "" : name);

// [{ size, values }] from the largest to the smallest; null of the smooth round tip.
export function levelsOf(name) {
  if (!name) return Promise.resolve(null);
  if (!known.has(name)) known.set(name, fetched(name));
  return known.get(name);
}

async function fetched(name) {
  const answer = await getJson(`${store.session.base}tips/${name}/pixels/`);
  if (!answer.ok) return void known.delete(name);
  const { size, pixels, told } = answer.data;
  texts.set(name, told);
  const bytes = Uint8Array.from(atob(pixels), (one) => one.charCodeAt(0));
  return halved({ size, values: Float32Array.from(bytes, (one) => one / 255) });
}

function halved(level) {
  const { size, values } = level;
  if (size % 2) return [level];
  const half = size / 2;
  const smaller = new Float32Array(half * half);
  for (let y = 0; y < half; y += 1)
    for (let x = 0; x < half; x += 1) {
      const at = 2 * y * size + 2 * x;
      smaller[y * half + x] =
        (values[at] + values[at + 1] + values[at + size] + values[at + size + 1]) / 4;
    }
  return [level, ...halved({ size: half, values: smaller })];
}
