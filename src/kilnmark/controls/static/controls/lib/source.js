// The picture that an operation is given, on a canvas of the form.

export async function showSource(canvas, { of, path }) {
  const keys = JSON.parse(path);
  const base = canvas.closest("[data-base]").dataset.base;
  const asked = new URLSearchParams({ path: of, operation: keys[keys.indexOf("chain") + 1] });
  const image = new Image();
  image.src = `${base}source/?${asked}`;
  try {
    await image.decode();
  } catch {
    return; // its operation has just gone: the form is drawn anew
  }
  Object.assign(canvas, { width: image.naturalWidth, height: image.naturalHeight });
  canvas.getContext("2d", { willReadFrequently: true }).drawImage(image, 0, 0);
}

// The mean colour of a few pixels around a point of a canvas, in its own pixels.
export function colourAt(canvas, x, y) {
  const context = canvas.getContext("2d", { willReadFrequently: true });
  const [left, top] = [x, y].map((n) => Math.max(Math.round(n - 1), 0));
  const { data } = context.getImageData(left, top, 3, 3);
  const sums = [0, 0, 0];
  let weight = 0;
  for (let i = 0; i < data.length; i += 4) {
    if (!data[i + 3]) continue; // beyond the picture, or nothing there
    weight += 1;
    sums.forEach((_, c) => {
      sums[c] += data[i + c];
    });
  }
  return weight
    ? `#${sums
        .map((sum) =>
          Math.round(sum / weight)
            .toString(16)
            .padStart(2, "0"),
        )
        .join("")}`
    : null;
}
