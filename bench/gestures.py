"""What a hand waits for on the demo's own pieces, in Chromium: every piece, every gesture, from the
pointer to the picture that shows it, and from letting go to the exact one; opening a piece that was
never drawn, and once more after a restart.

`make bench-feel` prints it alone, for one piece, for those that are named (PIECES="quay shed"), or
for all (PIECES=all), as `make bench` does.
The world is made once, in var/bench-world.
"""

import json
import os
import shutil
import subprocess
import sys
import tempfile
import time
from collections.abc import Iterator
from dataclasses import dataclass
from pathlib import Path

from fuzz.killing import Server
from playwright.sync_api import Page, sync_playwright
from tests.checks.chromium import EXECUTABLE, FLAGS

from bench.measure import p95

ROOT = Path(__file__).parents[1]
WORLD = ROOT / "var" / "bench-world"
MOVES, PAUSE_MS, PATIENCE = 24, 18, 60
LETTERS = "ferry at nine"
KEPT_ON_DISK = ("exact",)  # what is kept of pictures of the stage, in the data folder
LEFT_OUT = ("anchor", "moon badge", "night boat", "key", "luggage label", "badge on paper")
WATCH = """() => {
  const { stage } = Alpine.$data(document.getElementById('bench')).bench();
  const begun = new Map();
  const felt = (window.felt = { drafts: [], exact: [], under: [], last: 0 });
  const lifted = document.getElementById('lifted');
  new MutationObserver(() => {
    const { last } = felt;
    if (!lifted.hidden) requestAnimationFrame(() => felt.under.push(performance.now() - last));
  }).observe(lifted, { attributes: true, subtree: true, attributeFilter: ['style', 'hidden'] });
  for (const name of ['pointermove', 'input', 'keydown'])
    window.addEventListener(name, () => { felt.last = performance.now(); }, true);
  const meant = (edits) => JSON.stringify(edits);
  for (const name of ['draft-moved', 'piece-saving'])
    window.addEventListener(name, () => {
      const key = meant(stage.session.unsaved);
      if (key !== felt.key) begun.set(key, felt.last); // a slider comes by the same value again
      felt.key = key;
    });
  window.addEventListener('picture-told', ({ detail }) => {
    const now = performance.now();
    if (detail.quality === 'exact') felt.exact.push(now - felt.last);
    const { edits, quality } = stage.shown.data;
    if (quality === 'exact') return;
    const at = edits.length ? begun.get(meant(edits)) : detail.quality !== 'behind' && felt.last;
    if (at) felt.drafts.push(now - at); // without edits what was moved is stored by now
  });
}"""
RESTS = """() => {
  const { session } = Alpine.$data(document.getElementById('bench')).bench();
  const { quality, version } = document.getElementById('stage').dataset;
  return quality === 'exact' && Number(version) === session.version && session.resting;
}"""


WALL = """([dialog, event, detail]) => new Promise((done) => {
  const begun = performance.now();
  const told = { first: 0 };
  window.dispatchEvent(new CustomEvent(event, { detail }));
  const look = () => {
    const list = document.querySelector(`#${dialog} [data-choices]`);
    const { top, bottom } = list.getBoundingClientRect();
    const seen = [...list.querySelectorAll('img')].filter((one) => {
      const box = one.getBoundingClientRect();
      return box.bottom > top && box.top < bottom;
    });
    const there = seen.filter((one) => one.src && one.complete && one.naturalWidth);
    const now = performance.now() - begun;
    if (there.length && !told.first) told.first = now;
    if ((seen.length && there.length === seen.length) || now > 30000)
      return void done([told.first / 1000, now / 1000, seen.length]);
    requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
})"""


@dataclass(frozen=True)
class Held:
    """What a gesture is done to. step : of a slider; path : how its path ends."""

    part: str
    step: str = ""
    path: str = ""


def main(wanted: list[str]) -> None:
    if not WORLD.exists():
        make_world()
    with tempfile.TemporaryDirectory() as folder, sync_playwright() as play:
        data = shutil.copytree(WORLD, Path(folder) / "data")
        browser = play.chromium.launch(executable_path=EXECUTABLE, args=FLAGS)
        columns = (
            f"{'draft p50 / p95':>17s} {'to exact p50 / most':>21s} {'cut-out p50 / p95':>17s}"
        )
        print(f"{'piece, gesture':58s} {columns}")
        for title, piece in _pieces(browser, data, wanted):
            _opened(browser, data, title, piece)
            _felt(browser, data, title, piece)
        browser.close()


def make_world() -> None:
    made = WORLD.with_name("bench-world.part")
    shutil.rmtree(made, ignore_errors=True)
    command = [sys.executable, "-m", "bench.demo_world"]
    subprocess.run(command, env=Server(made).env, cwd=ROOT, check=True, capture_output=True)
    made.rename(WORLD)


class _Serving:
    """A server on a data folder, with a page that is signed in."""

    def __init__(self, browser, data: Path):
        self.server, self.browser = Server(data), browser

    def __enter__(self) -> Page:
        self.server.start()
        self.server.wait()
        view = {"width": 1280, "height": 800}
        self.page = self.browser.new_page(viewport=view, base_url=self.server.url)
        self.page.goto("/account/sign-in/")
        self.page.get_by_label("Name").fill("purser")
        self.page.get_by_label("Password").fill("night-ferry")
        self.page.get_by_role("button", name="Sign in").click()
        self.page.wait_for_url("**/pieces/")
        return self.page

    @property
    def megabytes(self) -> float:
        """That the server has in memory now."""
        pages = int(Path(f"/proc/{self.server.process.pid}/statm").read_text().split()[1])
        return pages * os.sysconf("SC_PAGE_SIZE") / 2**20

    def __exit__(self, *error) -> None:
        self.page.close()
        self.server.kill()


def _pieces(browser, data: Path, wanted: list[str]) -> list[tuple[str, str]]:
    """(title, address) of those that are asked for."""
    with _Serving(browser, data) as page:
        links = page.locator("a[href*='/pieces/']").evaluate_all(
            "all => all.map((a) => [a.innerText, a.getAttribute('href')])"
        )
    found = {}
    for text, address in links:
        title = next((line for line in text.splitlines() if len(line) > 3), "")
        if len(address) > 40 and title and not title.lower().startswith(LEFT_OUT):
            found.setdefault(address, title)
    if not wanted or "all" in wanted:
        return [(title, address) for address, title in found.items()]
    return [
        (title, address)
        for address, title in found.items()
        if any(one.lower() in title.lower() for one in wanted)
    ]


def _opened(browser, data: Path, title: str, piece: str) -> None:
    """By a server that has just started: never drawn, and again after another start."""
    for name in KEPT_ON_DISK:
        shutil.rmtree(data / name, ignore_errors=True)
    for told in ("opened, never drawn", "opened again after a restart"):
        with _Serving(browser, data) as page:
            _warm(page)
            begun = time.monotonic()
            page.goto(piece)
            _until(page, "() => Boolean(document.getElementById('stage').dataset.quality)")
            first = time.monotonic() - begun
            _until(page, RESTS)
            _line(f"{title[:30]}: {told}", [first], [time.monotonic() - begun])


def _felt(browser, data: Path, title: str, piece: str) -> None:
    serving = _Serving(browser, data)
    with serving as page:
        _warm(page)
        page.goto(piece)
        _until(page, RESTS)
        for name, held, do in _gestures(page):
            _choose(page, held)
            page.evaluate(WATCH)
            for turn in range(2):
                do(page, held, turn)
                page.wait_for_timeout(60)
                _until(page, RESTS)
                page.wait_for_timeout(250)
            felt = page.evaluate("window.felt")
            told = ([n / 1000 for n in sorted(felt[one])] for one in ("drafts", "exact", "under"))
            _line(f"{title[:30]}: {name}", *told)
            _undone(page)
        _walls(page, title)
        print(f"{title[:30] + ': the server holds after that':58s} {serving.megabytes:14.0f} MB")


def _walls(page: Page, title: str) -> None:
    """The first mark's next steps, recipes and textures, each on it: the first card that is seen,
    and the last.
    """
    stack = _document(page)["stack"]
    mark = next((one for one in stack if "art" in one), None)
    if mark is None:
        return
    way = ["stack", mark["id"], "treatment"]
    walls = {
        "next steps": (
            "tryouts-dialog",
            "tryouts-wanted",
            {"kind": "steps", "path": json.dumps(way)},
        ),
        "recipes": ("looks-dialog", "looks-wanted", {}),
    }
    worn = next((one for one in mark["treatment"] if "texture" in one["params"]), None)
    if worn is not None:
        path = [*way, worn["id"], "params", "texture"]
        walls["textures"] = ("texture-dialog", "texture-wanted", {"path": path})
    _choose(page, Held(mark["id"]))
    for name, (dialog, event, detail) in walls.items():
        first, last, count = page.evaluate(WALL, [dialog, event, {"title": name, **detail}])
        page.keyboard.press("Escape")
        _until(page, RESTS)
        told = f"{first * 1000:6.0f} / {last * 1000:6.0f}"
        what = f"{title[:30]}: a wall of {name}"
        print(f"{what:58s} {told:>17s} {count:14d} cards seen: the first / the last", flush=True)


def _document(page: Page) -> dict:
    return page.evaluate(
        "Alpine.$data(document.getElementById('bench')).bench().session.snapshot.document"
    )


def _gestures(page: Page) -> Iterator[tuple]:
    """(name, what is held, how) of all that there is on a piece to do."""
    document = _document(page)
    found: dict[str, tuple] = {}
    for item in _items(document["stack"]):
        for step in item["treatment"]:
            for name, kind, path in SLIDERS:
                if step["kind"] == kind and step["on"] and _has(step, path):
                    found.setdefault(name, (Held(item["id"], step["id"], path), _slid))
        dragged = "a group dragged" if "members" in item else "a mark dragged"
        found.setdefault(dragged, (Held(item["id"]), _dragged))
        if (item["placement"].get("perspective") or {}).get("kind") == "corners":
            found.setdefault("a corner dragged", (Held(item["id"]), _corner_dragged))
        if item.get("art", {}).get("kind") == "lettering":
            found.setdefault("words typed", (Held(item["id"], "bare"), _typed))
    for name, (held, do) in found.items():
        yield name, held, do


SLIDERS = (
    ("a wear's share", "wear", "share"),
    ("a wear's strength", "wear", "strength"),
    ("a follow's strength", "follow", "strength"),
    ("a soften's strength", "soften", "strength"),
)


def _has(step: dict, path: str) -> bool:
    return path != "share" or step["params"].get("aim")


def _items(stack: list) -> Iterator[dict]:
    for item in stack:
        yield item
        yield from _items(item.get("members", []))


def _choose(page: Page, held: Held) -> None:
    told = {"part": held.part, "step": held.step or "bare"}
    page.evaluate(
        "(detail) => window.dispatchEvent(new CustomEvent('choice-wanted', { detail }))", told
    )
    page.wait_for_timeout(600)
    _until(page, RESTS)
    page.locator("#sheet [data-path]").first.wait_for(state="attached")


def _slid(page: Page, held: Held, turn: int) -> None:
    slider = page.locator(f"#sheet input[type=range][data-path*='\"{held.path}\"']").first
    if not slider.count() or not slider.is_visible():
        page.locator("#sheet summary").evaluate_all("all => all.forEach((one) => one.click())")
    slider.scroll_into_view_if_needed()
    box = slider.bounding_box()
    middle, room = box["y"] + box["height"] / 2, box["width"] - 30
    page.mouse.move(box["x"] + 12, middle)
    page.mouse.down()
    for n in range(MOVES):
        page.mouse.move(box["x"] + 14 + (n * 11 + turn * 5) % room, middle)
        page.wait_for_timeout(PAUSE_MS)
    page.mouse.up()


def _dragged(page: Page, held: Held, turn: int) -> None:
    _pulled(page, page.locator("#overlay .body").first, 2.0 if turn else -2.0)


def _corner_dragged(page: Page, held: Held, turn: int) -> None:
    _pulled(page, page.locator("[data-corner='1']").first, 1.0 if turn else -1.0)


def _pulled(page: Page, handle, step: float) -> None:
    box = handle.bounding_box()
    x, y = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    page.mouse.move(x, y)
    page.mouse.down()
    for n in range(1, MOVES + 1):
        page.mouse.move(x + step * n, y + step * n / 4)
        page.wait_for_timeout(PAUSE_MS)
    page.mouse.up()


def _typed(page: Page, held: Held, turn: int) -> None:
    told = {"mark": held.part}
    page.evaluate(
        "(detail) => window.dispatchEvent(new CustomEvent('words-wanted', { detail }))", told
    )
    page.locator(".words-on-piece").wait_for()
    page.keyboard.press("End")
    for letter in LETTERS[turn * 6 : turn * 6 + 6]:
        page.keyboard.type(letter)
        page.wait_for_timeout(140)
    page.keyboard.press("Escape")


def _undone(page: Page) -> None:
    """All of it taken back, so that the next gesture finds what the first did."""
    for _ in range(4):
        page.keyboard.press("Control+z")
        page.wait_for_timeout(150)
    _until(page, RESTS)


def _warm(page: Page) -> None:
    """Kernels are loaded soon after a server has started: nobody's piece waits for them here."""
    end = time.monotonic() + PATIENCE
    while (
        time.monotonic() < end and "data-warming hidden" not in page.request.get("/pieces/").text()
    ):
        page.wait_for_timeout(100)


def _until(page: Page, expression: str) -> None:
    end = time.monotonic() + PATIENCE
    while not page.evaluate(expression) and time.monotonic() < end:
        page.wait_for_timeout(20)


def _line(
    what: str, drafts: list[float], exact: list[float], under: list[float] | None = None
) -> None:
    def told(found: list[float], most: float) -> str:
        return f"{found[len(found) // 2] * 1000:6.0f} / {most * 1000:6.0f}" if found else "-"

    last = told(sorted(exact), max(exact, default=0))
    cut_out = told(under, p95(under)) if under else "-"
    first = told(drafts, p95(drafts) if drafts else 0)
    print(f"{what:58s} {first:>17s} {last:>21s} {cut_out:>17s}", flush=True)


if __name__ == "__main__":
    main(sys.argv[1:])
