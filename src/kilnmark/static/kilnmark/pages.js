// Small behaviours of the plain pages: size presets, files that start a piece, textures that are being made.

function startPage(form) {
  const at = (name) => form.querySelector(`[name="${name}"]`);
  const told = form.querySelector("[data-size-told]");
  const tell = () => {
    const factor = at("unit").value === "mm" ? at("ppi").value / 25.4 : 1;
    const [w, h] = ["width", "height"].map((name) => Math.round(at(name).value * factor));
    told.textContent = `That is ${w} × ${h} px, ${((w * h) / 1e6).toFixed(1)} million.`;
  };
  for (const preset of document.querySelectorAll("[data-preset]")) {
    drawSheet(preset);
    preset.addEventListener("click", () => {
      for (const name of ["width", "height", "unit", "ppi"]) at(name).value = preset.dataset[name];
      tell();
      at("title").focus();
    });
  }
  form.addEventListener("input", tell);
  tell();
}

// A file that is chosen, or dropped anywhere on the page, starts a piece.
function fromFile(form) {
  const input = form.querySelector("[data-start-file]");
  input.addEventListener("change", () => input.files.length && form.requestSubmit());
  form.addEventListener("submit", () => coming(input.files[0]?.name ?? "the file"));
  const brings = (event) => event.dataTransfer.types.includes("Files");
  document.addEventListener("dragover", (event) => {
    if (brings(event)) event.preventDefault();
  });
  document.addEventListener("drop", (event) => {
    if (!brings(event)) return;
    event.preventDefault();
    input.files = event.dataTransfer.files;
    if (input.files.length) form.requestSubmit();
  });
}

// It takes a while, of a large file: the page says that it is on its way.
function coming(name) {
  const told = Object.assign(document.createElement("p"), {
    className: "notice coming-one",
    textContent: `Bringing in “${name}” `,
  });
  told.setAttribute("role", "status");
  told.append(document.createElement("progress"));
  document.querySelector("main").prepend(told);
}

function drawSheet(preset) {
  const ratio = preset.dataset.width / preset.dataset.height;
  const [w, h] = ratio > 1 ? [100, 100 / ratio] : [100 * ratio, 100];
  const sheet = document.createElementNS("http://www.w3.org/2000/svg", "rect");
  for (const [name, value] of Object.entries({ x: -w / 2, y: -h / 2, width: w, height: h }))
    sheet.setAttribute(name, value);
  preset.querySelector("[data-sheet]").append(sheet);
}

// Textures that are being made: how far they are, and the page anew when one is done.
async function watchMaking(item) {
  const response = await fetch(item.dataset.making, {
    headers: { Accept: "application/json" },
  }).catch(() => null);
  if (response?.ok && response.headers.get("content-type")?.includes("json")) {
    const { progress, words, ended } = await response.json();
    if (ended) return void window.location.reload();
    item.querySelector("progress").value = progress;
    item.querySelector("[data-words]").textContent = words;
  }
  setTimeout(() => watchMaking(item), 1000);
}

for (const item of document.querySelectorAll("[data-making]:has(progress)")) watchMaking(item);
document.querySelectorAll("[data-start-form]").forEach(startPage);
document.querySelectorAll("[data-from-file]").forEach(fromFile);

// Pictures that are not there yet, while the kiln is warming up, are asked for again until they come; the page says so.
const SOON_MS = 400;

function cards(images) {
  const note = document.querySelector("[data-warming]");
  const there = (image) => image.complete && image.naturalWidth > 0;
  const tell = () => {
    if (note)
      note.hidden = images.every(
        (image) => there(image) || image.getBoundingClientRect().top > window.innerHeight,
      );
  };
  const again = (image) => {
    image.dataset.tries = Number(image.dataset.tries ?? 0) + 1;
    if (image.dataset.tries > 90) return;
    image.dataset.from ??= image.src;
    setTimeout(() => {
      image.src = `${image.dataset.from}?${image.dataset.tries}`;
    }, 1500);
  };
  for (const image of images) {
    image.addEventListener("error", () => again(image));
    image.addEventListener("load", tell);
    if (image.complete && !image.naturalWidth && image.currentSrc) again(image);
  }
  setTimeout(tell, SOON_MS);
}

const pictures = [...document.querySelectorAll("img[data-card]")];
if (pictures.length) cards(pictures);
