// How many CSS px of this screen are a millimetre, as it was measured with a ruler; kept in this browser.

const NAME = "screen px per mm";
export const USUAL = 96 / 25.4; // of CSS's own inch
const [LEAST, MOST] = [1, 20];

export function measured() {
  const found = Number(localStorage.getItem(NAME));
  return found >= LEAST && found <= MOST ? found : null;
}

export function measure(perMm) {
  localStorage.setItem(NAME, String(Math.min(Math.max(perMm, LEAST), MOST)));
}
