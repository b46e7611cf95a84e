"""`make screenshots`: one picture of each main view, from the demo data, at 1280 x 800, into
docs/screenshots/; and those of the guide, smaller, into the application's own files.
"""

import os
import socket
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path

import pyvips
from playwright.sync_api import Page, sync_playwright
from tests.checks.chromium import EXECUTABLE, FLAGS

ROOT = Path(__file__).parents[1]
OUT = ROOT / "docs" / "screenshots"
GUIDE = ROOT / "src" / "kilnmark" / "guide" / "static" / "guide"
GUIDE_WIDTH, GUIDE_QUALITY = 960, 82
OF_GUIDE = {
    "directions-looks",
    "guide-dabs",
    "guide-icons",
    "guide-shared",
}  # that only the guide shows
ALSO = {
    *("directions", "bench-wear", "fire", "bench-words", "bench-follow", "bench-through"),
    *("bench-looking", "shelf", "prep", "makers", "bench-by-hand", "bench-drawn"),
}


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    data = os.environ.get("KILNMARK_DATA") or tempfile.mkdtemp(prefix="kilnmark-shots-")
    with socket.socket() as free:
        free.bind(("127.0.0.1", 0))
        port = free.getsockname()[1]
    command = [sys.executable, "-m", "kilnmark.cli", "demo", "--port", str(port)]
    server = subprocess.Popen(command, env=os.environ | {"KILNMARK_DATA": data})
    try:
        _wait(f"http://127.0.0.1:{port}/account/sign-in/")
        with sync_playwright() as play:
            browser = play.chromium.launch(executable_path=EXECUTABLE, args=FLAGS)
            page = browser.new_page(
                viewport={"width": 1280, "height": 800}, base_url=f"http://127.0.0.1:{port}"
            )
            page.set_default_timeout(90_000)
            _all(page)
    finally:
        server.terminate()


def _wait(url: str) -> None:
    for _ in range(600):
        try:
            urllib.request.urlopen(url, timeout=2)
            return
        except OSError:
            time.sleep(0.5)
    raise SystemExit("the demo did not start")


def _all(page: Page) -> None:
    page.goto("/account/sign-in/")
    page.get_by_label("Name").fill("purser")
    page.get_by_label("Password").fill("night-ferry")
    page.get_by_role("button", name="Sign in").click()
    page.wait_for_url("**/pieces/")
    _shot(page, "pieces")
    page.goto("/shelf/")
    _shot(page, "shelf")
    page.locator(".texture-card", has_text="Customs house wall").locator("a.picture").click()
    page.locator(".stage-open", has_text="Near black").click()
    page.locator(".ready-head .told", has_text="Exact").wait_for()
    _shot(page, "prep", 4000)
    page.goto("/shelf/makers/")
    page.wait_for_load_state("networkidle")
    _shot(page, "makers", 3000)
    _wear(page)
    _holding(page)
    _directions(page)
    _icons(page)
    page.goto("/recipes/")
    _shot(page, "recipes", 6000)
    _by_hand(page)
    _drawn(page)
    _words(page)
    _surface(page)
    _filled(page)
    _corners(page)
    _bench(page, "Tea crate", "Ground", "Ground", "")
    page.get_by_role("button", name="Fire", exact=True).click()
    make, ready = (
        page.get_by_role("button", name="Make the file"),
        page.get_by_role("link", name="Save the PNG"),
    )
    make.or_(ready).first.wait_for()
    if make.is_visible():  # it may be there from an earlier run
        make.click()
    ready.wait_for()
    _shot(page, "fire")
    page.goto("/guide/")
    _shot(page, "guide", 1500)


def _wear(page: Page) -> None:
    """A wear with its aim and its readings."""
    _bench(page, "Deck sign, night sailing", "PELLWICK", "Wear", "")
    page.get_by_label("Aim: take away a share").check()
    page.wait_for_timeout(1500)
    page.get_by_label("Where it wears", exact=True).fill("50")
    page.wait_for_timeout(1500)
    _settled(page)
    page.locator(".wear-readings li").first.wait_for()
    _shot(page, "bench-wear", 2500)


def _holding(page: Page) -> None:
    """A blend range and what it holds back; what is kept in, with its region; the wipe and the
    linen tester."""
    _bench(page, "Night boat poster", "Night boat", "Texture coat", "")
    page.get_by_role("button", name="Only where").click()
    page.locator(".hold-more .dropdown-item", has_text="Through the tones of the art").click()
    page.keyboard.press("Control+z")
    page.wait_for_timeout(1500)
    page.locator("#strip .frame", has_text="Grain").first.click()
    _settled(page)
    page.locator("[data-landing] > summary").click()
    page.get_by_role("button", name="Only where").click()
    page.locator(".hold-more .dropdown-item", has_text="Kept in a region").click()
    page.wait_for_timeout(1500)
    page.locator("[data-place-region]").click()
    page.keyboard.press("Control+z")
    page.wait_for_timeout(1500)
    page.keyboard.press("w")
    page.locator("#wipe-before").select_option(label="All treatments off")
    page.locator("#before[data-drawn*=treatments]").wait_for()
    page.locator("[data-wipe-grip]").focus()
    for _ in range(2):
        page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("t")
    page.mouse.move(430, 300)
    _shot(page, "bench-looking", 2500)
    page.keyboard.press("Escape")


def _directions(page: Page) -> None:
    """A badge that was dropped: its looks, and three of them side by side."""
    page.goto("/guide/wear-a-logo/")
    page.get_by_role("button", name="Try it on a badge").click()
    page.wait_for_url("**/directions/")
    loaded = "[...document.querySelectorAll('[data-look] img')].every((one) => one.naturalWidth)"
    while not page.evaluate(loaded):
        page.wait_for_timeout(200)
    for place, name in enumerate(("Rubbed print", "Scratched enamel", "Chalky board"), 1):
        page.locator("[data-look]", has_text=name).focus()
        page.keyboard.press(str(place))
        page.locator(f"#direction-{place}").wait_for(state="attached")
    page.wait_for_timeout(500)
    _shot(page, "directions-looks")
    page.keyboard.press("v")
    page.locator("[data-pane][data-drawn]").nth(2).wait_for()
    page.locator(".direction-readings li").nth(5).wait_for()
    _shot(page, "directions", 2500)


def _icons(page: Page) -> None:
    """Eight icons, and one's wear that is shared with another."""
    _bench(page, "Deck icons, a set of eight", "Lantern", "Wear", "guide-icons")
    page.locator(".copy-to button").first.click()
    page.locator("[data-share]").nth(3).scroll_into_view_if_needed()
    _shot(page, "guide-shared", 800)
    page.keyboard.press("Escape")


def _by_hand(page: Page) -> None:
    """A number on a hull, with a rag over it: what is under the hand before the pen is lifted."""
    _bench(page, "Hull plate", "P·47", "On the piece", "")
    page.locator("#sheet .hand-line > summary").click()
    page.locator("#sheet [data-draw]").click()
    page.locator("#sheet .hand-tip", has_text="Rag").click()
    size = page.locator("#sheet [data-brush=sizeMm][type=number]")
    size.fill("11")
    size.press("Tab")
    page.wait_for_timeout(5000)
    page.mouse.move(300, 230)
    page.mouse.down()
    for n in range(40):
        page.mouse.move(300 + 3 * n, 230 + 2 * n)
    _shot(page, "bench-by-hand", 500)
    page.mouse.up()
    _settled(page)
    page.keyboard.press("Escape")
    page.keyboard.press("Control+z")
    _settled(page)


def _drawn(page: Page) -> None:
    """Scratches to grey metal; chalk marks, one of them held by its points."""
    _bench(page, "Hull plate", "Whole piece", "Dabs", "guide-dabs")
    _bench(page, "Hull plate", "Chalk", "Bare", "")
    page.locator("#sheet [data-choose]").first.click()
    page.locator("#hand .way").wait_for(state="attached")
    page.locator("#hand").focus()
    for _ in range(6):
        page.keyboard.press("PageUp")
    page.locator("#sheet [data-held-stroke]").scroll_into_view_if_needed()
    page.mouse.move(900, 560)
    _shot(page, "bench-drawn", 1500)


def _corners(page: Page) -> None:
    """A wall laid by its four corners, one of them in hand; the ferry's funnel is round."""
    _bench(page, "Quay at night", "Shed wall", "Bare", "")
    page.wait_for_timeout(4000)
    page.locator("[data-corner='1']").focus()
    _shot(page, "bench-corners", 2500)


def _filled(page: Page) -> None:
    """Letters in foil, placed by hand; words on a circle; pools of light."""
    _bench(page, "Captain's table, in foil", "Captain's table", "Bare", "")
    page.locator("[data-place-texture]").click()
    page.locator(".one-of").last.scroll_into_view_if_needed()
    _shot(page, "bench-fills", 2500)
    _bench(page, "Harbour office, round stamp", "HARBOUR OFFICE", "Bare", "bench-circle")
    _bench(page, "Sailings, a lit card", "Light through dots", "Bare", "")
    page.locator("[data-place-pools]").click()
    _shot(page, "bench-light", 2500)


def _words(page: Page) -> None:
    """Words that are being edited on the piece, behind their treatment."""
    _bench(page, "Return ticket", "Pellwick", "Bare", "bench-words")
    page.mouse.dblclick(360, 270)
    page.locator(".words-on-piece").wait_for()
    page.keyboard.press("End")
    page.keyboard.press("Shift+ArrowLeft")
    page.keyboard.press("Shift+ArrowLeft")
    _shot(page, "bench-words", 800)
    page.keyboard.press("Escape")


def _surface(page: Page) -> None:
    """A mark that follows its surface, and where it would tear; matched to it; with the surface
    through."""
    _bench(page, "Boat shed", "BOATS", "Follow surface", "")
    page.locator('#sheet input[type="range"]').first.focus()
    for _ in range(24):
        page.keyboard.press("ArrowRight")
    page.wait_for_timeout(2500)
    _settled(page)
    page.locator("[data-layer=torn]").click()
    _shot(page, "bench-follow", 3500)
    page.locator("[data-layer=torn]").click()
    page.keyboard.press("Control+z")
    page.wait_for_timeout(2000)
    page.locator("#strip .frame", has_text="Surface through").first.click()
    _settled(page)
    page.keyboard.press("1")
    _settled(page)
    _shot(page, "bench-through", 4000)


def _bench(page: Page, piece: str, tab: str, step: str, name: str) -> None:
    page.goto("/pieces/")
    page.get_by_role("link", name=piece).click()
    page.get_by_role("tab", name=tab, exact=True).click()
    page.locator(f'.tab[aria-selected="true"] span:text-is("{tab}")').wait_for()
    page.locator("#strip .frame", has_text=step).first.click()
    _settled(page)
    if name:
        _shot(page, name, 2500)


def _settled(page: Page) -> None:
    page.wait_for_timeout(600)
    page.wait_for_selector("#stage[data-quality=exact]")


def _shot(page: Page, name: str, pause: int = 400) -> None:
    page.wait_for_load_state("networkidle")
    page.wait_for_timeout(pause)
    picture = page.screenshot(path=None if name in OF_GUIDE else OUT / f"{name}.png")
    if name in OF_GUIDE | ALSO:
        shown = pyvips.Image.thumbnail_buffer(picture, GUIDE_WIDTH)
        shown.jpegsave(str(GUIDE / f"{name}.jpg"), Q=GUIDE_QUALITY, strip=True)
    print(name)


if __name__ == "__main__":
    main()
