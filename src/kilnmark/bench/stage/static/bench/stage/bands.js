// The bands in which an exact picture is asked for: one, or several where very many pixels of the file lie behind it.

const MOST_BEHIND = 20e6; // pixels of the file behind one picture
const BAND_BEHIND = 8e6;

export const within = (left, top, width, height, zoom) => ({
  x: left / zoom,
  y: top / zoom,
  width: width / zoom,
  height: height / zoom,
});

export function bands({ left, top, width, height, zoom }) {
  const behind = (width * height) / Math.min(zoom, 1) ** 2;
  const count = behind > MOST_BEHIND ? Math.ceil(behind / BAND_BEHIND) : 1;
  const tall = Math.max(8, Math.ceil(height / count));
  const parts = [];
  for (let below = 0; below < height; below += tall) {
    parts.push({
      below,
      region: within(left, top + below, width, Math.min(tall, height - below), zoom),
    });
  }
  return parts;
}
