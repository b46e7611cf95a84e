"""How the bench feels in Chromium: from the pointer on a slider to the draft that shows it, and
from letting go to the exact picture, on a piece of twelve steps; opening a piece with a long
history; and how long aims take to be solved.
"""

import re
import tempfile
import time
from pathlib import Path

from playwright.sync_api import sync_playwright
from tests.checks.chromium import EXECUTABLE, FLAGS

from bench import work
from bench.measure import median, ms, p95, say
from bench.release import STEPS, Bench, person
from kilncore.assets import AssetStore
from kilncore.document import load
from kilncore.engine.plans import plan_of
from kilncore.engine.wholes import value_of
from kilncore.steps import STEPS as KINDS
from kilncore.system.cache import ByteCache

MOVES, STATES, LET_GO = 90, 300, 5
WATCH = """() => {
  const { stage } = Alpine.$data(document.getElementById('bench')).bench();
  const inputs = new Map();
  window.felt = { drafts: [], exact: [], last: 0, stage };
  document.addEventListener('input', ({ target }) => {
    window.felt.last = performance.now();
    inputs.set(Number(target.value), window.felt.last);
  }, true);
  window.addEventListener('picture-told', ({ detail }) => {
    const now = performance.now();
    const edit = stage.shown.data.edits.find(({ path }) => path?.at(-1) === 'lift');
    const tone = edit && Math.round(edit.value * 255);
    const at = inputs.get(tone);
    if (detail.quality !== 'exact' && at) window.felt.drafts.push(now - at); // or already behind
    if (detail.quality === 'exact') window.felt.exact.push(now - window.felt.last);
  });
}"""


def report(url: str) -> None:
    """Of a server that runs, signed in as the demo's person."""
    bench = Bench(person(url), 77)
    bench.start(1, ("tones", *STEPS[:11]))
    with sync_playwright() as play:
        browser = play.chromium.launch(executable_path=EXECUTABLE, args=FLAGS)
        page = browser.new_page(viewport={"width": 1280, "height": 800}, base_url=url)
        _sign_in(page)
        _dragged(page, bench)
        _opened(page, url)
        browser.close()
    _solved()


def _sign_in(page) -> None:
    page.goto("/account/sign-in/")
    page.get_by_label("Name").fill("purser")
    page.get_by_label("Password").fill("night-ferry")
    page.get_by_role("button", name="Sign in").click()
    page.wait_for_url("**/pieces/")


def _exact(page, seconds: float = 60) -> None:
    end = time.monotonic() + seconds
    told = "document.getElementById('stage').dataset.quality === 'exact'"
    while not page.evaluate(told) and time.monotonic() < end:
        page.wait_for_timeout(20)


def _dragged(page, bench: Bench) -> None:
    """A slider of the first of twelve steps, pulled to and fro at about sixty moves a second."""
    page.goto(f"/pieces/{bench.piece}/")
    _exact(page)
    page.locator("#strip .frame b", has_text="Tones").first.click()
    slider = page.locator("#sheet input[type=range]").first
    box = slider.bounding_box()
    middle = box["y"] + box["height"] / 2
    page.evaluate(WATCH)
    for turn in range(LET_GO):
        page.mouse.move(box["x"] + 12, middle)
        page.mouse.down()
        for n in range(MOVES // LET_GO):
            page.mouse.move(box["x"] + 14 + (n * 11 + turn * 3) % (box["width"] - 30), middle)
            page.wait_for_timeout(16)
        page.mouse.up()
        page.wait_for_timeout(100)
        _exact(page)
        page.wait_for_timeout(200)
    drafts = sorted(page.evaluate("window.felt.drafts"))
    exact = sorted(page.evaluate("window.felt.exact"))
    if drafts:
        say(
            "12 steps in Chromium: from the pointer to its draft",
            ms(drafts[len(drafts) // 2] / 1000),
            f"p95 {ms(p95(drafts) / 1000)}, {len(drafts)} drafts of {MOVES} moves",
        )
    if exact:
        note = f"the slowest of {len(exact)} {ms(exact[-1] / 1000)}"
        say("  from the last move to the exact picture", ms(exact[len(exact) // 2] / 1000), note)


def _opened(page, url: str) -> None:
    """A piece with a history of so many states, beside one of a few."""
    found = {}
    for states in (5, STATES):
        bench = Bench(person(url), 80 + states).start(1, STEPS[:4])
        for n in range(states):
            bench.change(bench.edit(0.2 + 0.001 * n))
        begun = time.monotonic()
        page.goto(f"/pieces/{bench.piece}/")
        page.locator("#strip .frame").first.wait_for()
        found[states] = time.monotonic() - begun
    say(f"a piece with {STATES} states opened", ms(found[STATES]), f"with 5 {ms(found[5])}")


def _solved() -> None:
    """A wear with all it can be asked for, at screen size: drafts solve it anew when a mark moves,
    and when another share is asked for."""
    with tempfile.TemporaryDirectory() as folder:
        store, hashes = work.store_with_textures(Path(folder))
        _solve(store, hashes)


def _solve(store: AssetStore, hashes: dict) -> None:
    params = {
        "texture": {"hash": hashes["grunge"]},
        "aim": True,
        "share": 0.2,
        "bias": 0.4,
        "least_part": 0.6,
    }
    art = {"kind": "lettering", "text": "PELLWICK", "font": "anton", "size": work.px(260)}
    place = {"x": work.px(640), "y": work.px(400)}
    item = {"kind": "mark", "art": art, "placement": place}
    item["treatment"] = [work.step("wear", **params)]
    tree = {"format": 7, "size_px": [1280, 800], "stack": [item]}
    document = load(tree)
    plan = plan_of(document, 0.7)
    step = document.stack[0].treatment[0]
    planes = KINDS.named("wear").planes(step.params, plan.finished().sources[step.id])
    tones = value_of(planes["tones"], store)
    fresh = median(lambda: value_of(planes["tones"], store, ByteCache(2**28)), 7)
    share = iter(n / 1000 for n in range(100, 200))
    again = median(lambda: tones.points(next(share), 0.15, 0.6), 9)
    say("an aim solved anew, floors and edges too", ms(fresh), f"another share {ms(again)}")


if __name__ == "__main__":
    import sys

    assert re.match("https?://", sys.argv[1])
    report(sys.argv[1])
