// What is in the hand: a tip, how large it is and how it is laid. It stays in the hand from mark to mark, and is remembered here.

import { toldOf } from "./tips.js";

export const LINE = "line"; // the tip of scratches from place to place
const KEPT = "kilnmark-hand";
const BARE = {
  tip: "", // the name of a tip that ships; "" is the smooth round one
  back: false,
  line: false, // a scratch from place to place in the place of a stroke
  sizeMm: 6,
  hardness: 0.5,
  strength: 1,
  sticksMm: 0,
  turnDeg: 0,
  way: "free", // or "points"
  taperInMm: 0,
  taperOutMm: 0,
  ends: "round", // or "flat"
  thins: 0.7, // of its width, and of its load, what a pen's pressure takes
  eases: 0.4,
};
const LAID = {
  loaded: 1,
  gap: 0.15,
  follows: false,
  turns: 0,
  sizes: 0,
  strays: 0,
  flips: false,
};
const [WIDEST, FARTHEST] = [10, 200]; // of a stroke, in units
export const LEAST_MM = 0.1;
export const MOST_MM = 60;

function remembered() {
  try {
    return JSON.parse(localStorage.getItem(KEPT)) ?? {};
  } catch {
    return {};
  }
}

export const brush = { ...BARE, ...LAID, ...remembered() };

export function hold(values) {
  Object.assign(brush, values);
  try {
    localStorage.setItem(KEPT, JSON.stringify(brush));
  } catch {} // a browser that keeps nothing
}

// Another tip is laid as it comes, until that is changed.
export function takeTip(tip, told) {
  if (tip === LINE) hold({ line: true, tip: "" });
  else hold({ ...LAID, ...told, tip, line: false });
}

// As the server asks for it, without points. unitPx : what lengths are shares of, document px.
export function asStroke(ppi, unitPx, more = {}) {
  const { tip, back, hardness, strength, turnDeg, ends } = brush;
  const units = (mm) => (mm * ppi) / 25.4 / unitPx;
  const laid = tip && {
    ...Object.fromEntries(Object.keys(LAID).map((name) => [name, brush[name]])),
    turn_deg: turnDeg,
  };
  return {
    back,
    tip: toldOf(tip),
    hardness,
    strength,
    radius: Math.min(units(brush.sizeMm) / 2, WIDEST),
    taper_in: Math.min(units(brush.taperInMm), FARTHEST),
    taper_out: Math.min(units(brush.taperOutMm), FARTHEST),
    ends,
    ...laid,
    ...more,
  };
}
