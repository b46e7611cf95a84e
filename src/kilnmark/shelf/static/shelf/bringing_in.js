// Bringing many files in at once: chosen, a folder, or dropped anywhere on the page. Each has its own progress, and one that
// is refused leaves the others alone.

const AT_ONCE = 2;
const CONCERNS = /\.(svgz?|png|jpe?g|webp|tiff?|avif|gif)$/i;
const token = () =>
  document.cookie.match(/(?:^|; )csrftoken=([^;]+)/)?.[1] ??
  document.querySelector("[name=csrfmiddlewaretoken]").value;

function start(panel) {
  const form = panel.querySelector("form");
  const list = panel.querySelector("[data-coming]");
  const told = panel.querySelector("[data-coming-told]");
  const waiting = [];
  let [busy, done, refused, known] = [0, 0, 0, 0];

  const add = (files) => {
    if (!files.length) return;
    panel.open = true;
    for (const file of files) waiting.push({ file, row: row(list, file.name) });
    tell();
    next();
  };

  const tell = () => {
    const left = waiting.length + busy;
    const parts = [
      `${done} on the shelf`,
      known && `${known} there already`,
      refused && `${refused} refused`,
      left && `${left} to come`,
    ];
    told.textContent = `${parts.filter(Boolean).join(", ")}.`;
    if (!left && done)
      told.append(
        " ",
        Object.assign(document.createElement("a"), { href: "", textContent: "Show them" }),
      );
  };

  const next = () => {
    while (busy < AT_ONCE && waiting.length) {
      const one = waiting.shift();
      busy += 1;
      send(one).finally(() => {
        busy -= 1;
        tell();
        if (!waiting.length && !busy && !refused && done) window.location.reload();
        next();
      });
    }
  };

  const send = ({ file, row: { progress, words } }) =>
    new Promise((finished) => {
      const data = new FormData(form);
      data.delete("file");
      data.append("file", file);
      const request = new XMLHttpRequest();
      request.upload.onprogress = (event) => {
        progress.value = event.loaded / event.total;
        words.textContent = event.loaded === event.total ? "being looked at" : "on its way";
      };
      request.onloadend = () => {
        const answer = read(request);
        progress.hidden = true;
        words.textContent = answer.words;
        words.classList.toggle("warning-text", !answer.ok);
        if (answer.ok) done += 1;
        else refused += 1;
        if (answer.known) known += 1;
        finished();
      };
      request.open("POST", panel.dataset.url);
      request.setRequestHeader("X-CSRFToken", token());
      request.setRequestHeader("Accept", "application/json");
      request.send(data);
    });

  panel.querySelectorAll("[data-files]").forEach((input) =>
    input.addEventListener("change", () => {
      add([...input.files].filter((file) => !input.webkitdirectory || CONCERNS.test(file.name)));
      input.value = "";
    }),
  );
  dropping(add);
}

function read(request) {
  if (!request.status)
    return { ok: false, words: "Kilnmark does not answer. Nothing was kept; bring it in again." };
  try {
    const data = JSON.parse(request.responseText);
    if (request.status === 200)
      return {
        ok: true,
        known: data.known,
        words: data.known ? "was on the shelf already" : "on the shelf",
      };
    return { ok: false, words: data.message };
  } catch {
    return { ok: false, words: "That did not work. Sign in again, and bring it in again." };
  }
}

function row(list, name) {
  const item = document.createElement("li");
  const progress = Object.assign(document.createElement("progress"), { max: 1, value: 0 });
  progress.setAttribute("aria-label", `How far ${name} is`);
  const words = Object.assign(document.createElement("span"), { textContent: "waiting" });
  item.append(Object.assign(document.createElement("b"), { textContent: name }), progress, words);
  list.append(item);
  return { progress, words };
}

function dropping(add) {
  const brings = (event) => event.dataTransfer.types.includes("Files");
  document.addEventListener("dragover", (event) => {
    if (brings(event)) event.preventDefault();
  });
  document.addEventListener("drop", (event) => {
    if (!brings(event)) return;
    event.preventDefault();
    const items = [...event.dataTransfer.items]; // empty after the first wait
    const entries = items.map((item) => item.webkitGetAsEntry?.()).filter(Boolean);
    const files = [...event.dataTransfer.files];
    if (!entries.some((entry) => entry.isDirectory)) return void add(files);
    Promise.all(entries.map(within)).then((found) => add(found.flat()));
  });
}

// The files of a folder, however deep, that can be textures.
async function within(entry) {
  if (entry.isFile)
    return new Promise((done) =>
      entry.file(
        (file) => done(CONCERNS.test(file.name) ? [file] : []),
        () => done([]),
      ),
    );
  const reader = entry.createReader();
  const found = [];
  for (;;) {
    const some = await new Promise((done) => reader.readEntries(done, () => done([])));
    if (!some.length) break;
    found.push(...some);
  }
  return (await Promise.all(found.map(within))).flat();
}

document.querySelectorAll("[data-bring-in]").forEach(start);
document
  .querySelectorAll("[data-submits]")
  .forEach((select) => select.addEventListener("change", () => select.form.requestSubmit()));
document.querySelectorAll("img[data-wide]").forEach((image) => {
  image.style.width = `${image.dataset.wide}%`;
});
