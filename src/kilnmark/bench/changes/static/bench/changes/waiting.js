// Changes that wait to be saved, kept in the browser's own store: they survive a reload and a closed tab.
// Each belongs to the bench that made it; when that bench is gone, whichever opens the piece next takes them up.

const NAME = "kilnmark";
const STORE = "waiting";

const asked = (request) =>
  new Promise((done, failed) => {
    request.onsuccess = () => done(request.result);
    request.onerror = () => failed(request.error);
  });

async function store(mode, work) {
  const opening = indexedDB.open(NAME, 1);
  opening.onupgradeneeded = () => opening.result.createObjectStore(STORE, { keyPath: "token" });
  const database = await asked(opening);
  try {
    return await asked(work(database.transaction(STORE, mode).objectStore(STORE)));
  } finally {
    database.close();
  }
}

// Without a store (a private window, a full disk) changes still wait, as long as the page is open.
const quietly = (work) => work.catch(() => null);

export const keep = (change) => quietly(store("readwrite", (changes) => changes.put(change)));
export const forget = (token) => quietly(store("readwrite", (changes) => changes.delete(token)));

// The name of this bench: its own again after a reload, a new one in a tab that was copied.
export async function benchName() {
  for (const name of [
    sessionStorage.getItem("bench"),
    crypto.randomUUID?.() ?? `${Date.now()}-${Math.random().toString(36).slice(2)}`,
  ]) {
    if (name && (await taken(name))) {
      sessionStorage.setItem("bench", name);
      return name;
    }
  }
}

// Hold the name as long as the page lives; false if another page holds it.
const taken = (name) =>
  !navigator.locks ||
  new Promise((done) => {
    navigator.locks.request(`bench ${name}`, { ifAvailable: true }, (lock) => {
      done(Boolean(lock));
      return lock && new Promise(() => {});
    });
  });

// What waits for a piece: this bench's own, and that of benches which are gone. Oldest first.
export async function left(base, bench) {
  const all = (await quietly(store("readonly", (changes) => changes.getAll()))) ?? [];
  const held = new Set(((await navigator.locks?.query())?.held ?? []).map((lock) => lock.name));
  return all
    .filter(
      (change) =>
        change.base === base && (change.bench === bench || !held.has(`bench ${change.bench}`)),
    )
    .sort((a, b) => a.made - b.made);
}
