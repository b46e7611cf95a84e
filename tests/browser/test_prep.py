"""Textures from a folder to a worn mark: brought in, prepared, used, prepared anew on the bench."""

import re

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import expect
from scipy import ndimage

from tests.browser.driver import Bench, until
from tests.browser.test_access import faults

pytestmark = pytest.mark.browser


def scan(rng, path, stained=True):
    """A wall, lit from the left, with a stain."""
    soft = ndimage.gaussian_filter(rng.random((420, 560)), 2.5)
    soft = 0.3 + 0.6 * (soft - soft.min()) / np.ptp(soft)
    y, x = np.mgrid[0:420, 0:560]
    stain = np.where(np.hypot(x - 300, y - 200) < 40, 0.3, 1) if stained else 1
    lit = soft * stain * np.linspace(1, 0.55, 560)
    Image.fromarray(np.rint(lit * 255).astype(np.uint8)).save(path)


class Prep:
    """The prep page as a person uses it."""

    def __init__(self, page):
        self.page = page

    def settle(self):
        expect(self.page.locator(".saved")).to_have_text(re.compile(r"saved \d"))
        until(
            self.page,
            "(() => { const prep = Alpine.$data(document.getElementById('prep')).prep();"
            " return prep.telling === 'Exact' && !prep.running && !prep.session.queue.length; })()",
        )

    def add(self, title):
        self.page.locator("[data-add]").click()
        self.page.locator(".offer", has_text=title).first.click()
        expect(self.page.locator(".operation-form h3")).to_have_text(title)
        self.settle()

    @property
    def titles(self):
        return self.page.locator(".stages b").all_text_contents()

    def pixels(self, name="ready"):
        return np.array(
            self.page.evaluate(
                "(name) => { const c = document.querySelector(`canvas[data-shown=${name}]`);"
                " return [...c.getContext('2d').getImageData(0, 0, c.width, c.height).data]"
                ".filter((_, n) => n % 4 === 0); }",
                name,
            )
        )


def test_from_a_folder_to_a_worn_mark(page, piece, rng, tmp_path):
    folder = tmp_path / "scans"
    (folder / "deeper").mkdir(parents=True)
    scan(rng, folder / "quay-wall.png")
    scan(rng, folder / "deeper" / "second_wall.jpg", stained=False)
    (folder / "broken.png").write_bytes((folder / "quay-wall.png").read_bytes()[:700])
    (folder / "notes.txt").write_text("not a picture")

    page.goto("/shelf/")
    page.locator("[data-bring-in] summary").click()
    page.get_by_label("Whose it is").fill("Hollin Quay")
    page.get_by_label("Tags").fill("wall")
    page.locator("input[webkitdirectory]").set_input_files(folder)
    expect(page.locator("[data-coming-told]")).to_contain_text("2 on the shelf, 1 refused")
    expect(page.locator("[data-coming] .warning-text")).to_contain_text("damaged or cut short")
    page.locator("[data-coming-told] a").click()
    card = page.locator(".texture-card", has_text="quay wall")
    expect(card).to_contain_text("Lit from the left: flatten it before masking.")
    expect(card).to_contain_text("Hollin Quay")
    assert faults(page) == []

    card.locator("a.picture").click()
    prep = Prep(page)
    prep.settle()
    for title in ("To grey", "Flatten lighting", "Clean a patch"):
        prep.add(title)
    board = page.locator("[data-marks]").bounding_box()
    x, y = board["x"] + board["width"] * 300 / 560, board["y"] + board["height"] * 200 / 420
    before = prep.pixels()
    page.locator("[data-tip]").fill("12")
    page.mouse.move(x - 14, y - 14)
    page.mouse.down()
    for dx, dy in ((14, -14), (14, 14), (-14, 14), (-14, -14), (0, 0)):
        page.mouse.move(x + dx, y + dy, steps=3)
    page.mouse.up()
    prep.settle()
    dark = [(pixels < 90).mean() for pixels in (before, prep.pixels())]
    assert dark[0] > 0.015 and dark[1] < dark[0] / 3
    prep.add("Near black and white")
    expect(page.locator(".operation-form .reading").first).to_contain_text("12.0 % black")
    prep.add("Specks by size")
    prep.add("Make seamless")
    expect(page.locator("[data-readings]")).to_contain_text("not seen, was")
    assert prep.titles[-3:] == ["Near black and white", "Specks by size", "Make seamless"]
    assert abs((255 - prep.pixels()).mean() / 255 - 0.12) < 0.06
    assert faults(page) == []
    page.get_by_role("button", name="Preps").click()
    page.get_by_label("This one is called").fill("fine specks")
    page.get_by_role("button", name="Rename").click()

    bench = Bench(page, piece).open()
    bench.tab("PELLWICK")
    bench.step("Wear")
    page.locator("#sheet [data-choose-texture]").first.click()
    choice = page.locator("#texture-dialog .choice", has_text="prepared: fine specks")
    expect(choice.locator(".on-mark.there")).to_be_visible()
    page.keyboard.press("b")  # bare squares, one key away
    expect(page.locator("#texture-dialog [data-bare]")).to_have_attribute("aria-pressed", "true")
    worn = bench.picture()
    choice.click()
    expect(page.locator("#sheet .texture-field b")).to_have_text("quay wall")
    bench.settle()
    assert np.abs(bench.picture() - worn).max() > 60
    chain = bench.mark("PELLWICK")["treatment"][0]["params"]["texture"]["chain"]
    assert [one["kind"] for one in chain][-1] == "seamless"

    page.locator("[data-prepare]").click()  # for this use only
    prep.settle()
    shown = prep.pixels("here")
    prep.add("Invert")
    assert np.abs(prep.pixels("here") - shown).max() > 60
    page.keyboard.press("Control+z")
    prep.settle()
    assert "Invert" not in prep.titles
    page.keyboard.press("Control+Shift+z")
    prep.settle()
    page.get_by_role("link", name="Back to the piece").click()
    bench.settle()
    chain = bench.mark("PELLWICK")["treatment"][0]["params"]["texture"]["chain"]
    assert [one["kind"] for one in chain][-1] == "invert"
    page.goto("/shelf/")
    page.locator(".texture-card", has_text="quay wall").locator("a.picture").click()
    prep.settle()
    assert "Invert" not in prep.titles  # the shared one stayed
    page.goto(f"/pieces/{piece}/")
    bench.settle()
    for _ in range(2):
        page.keyboard.press("Control+z")
        bench.settle()


def test_a_prep_by_keyboard(page, server, rng, tmp_path):
    page.goto("/shelf/?q=concrete")
    page.locator(".texture-card a.picture").first.focus()
    page.keyboard.press("Enter")
    prep = Prep(page)
    prep.settle()
    for title in ("Clean a patch", "Ramp", "Blur"):
        page.locator("[data-add]").focus()
        page.keyboard.press("Enter")
        page.locator(".offer", has_text=title).first.focus()
        page.keyboard.press("Enter")
        expect(page.locator(".operation-form h3")).to_have_text(title)
        prep.settle()
    page.locator(".stage-open").nth(1).press("Enter")
    page.locator("[data-marks]").focus()
    for key in ("ArrowLeft", "Shift+ArrowUp", "Enter"):
        page.keyboard.press(key)
    prep.settle()
    expect(page.locator(".patch-list li")).to_have_count(1)
    page.get_by_role("button", name="Patch 1: fill from another place").press("Enter")
    prep.settle()
    page.locator(".stage-open").nth(2).press("Enter")
    expect(page.locator(".operation-form h3")).to_have_text("Ramp")
    page.get_by_role("button", name="Another pin").press("Enter")
    expect(page.locator(".point")).to_have_count(3)
    before = prep.pixels()
    page.locator(".point").nth(1).focus()
    for _ in range(4):
        page.keyboard.press("Shift+ArrowUp")
    prep.settle()
    assert prep.pixels().mean() > before.mean() + 2
    page.locator(".stage-open").nth(3).press("Alt+ArrowUp")
    expect(page.locator(".stages b").nth(2)).to_have_text("Blur")
    prep.settle()
    page.locator(".stage-open").nth(2).press("Enter")
    expect(page.locator(".operation-form h3")).to_have_text("Blur")
    page.get_by_role("button", name="Nine ways").press("Enter")
    expect(page.locator(".nine-card canvas[data-there]")).to_have_count(9)
    assert faults(page) == []
    page.locator(".nine-card").nth(3).press("Enter")
    prep.settle()
    expect(page.locator(".stages small").nth(1)).to_have_text("sigma 15 px")
    page.locator("[aria-label='Unit of Sigma']").select_option("mm")
    expect(page.locator("[aria-label='Sigma']").first).to_have_value("1.27")  # 15 px at 300 ppi
    page.locator(".stage-open").nth(2).press("Delete")
    expect(page.locator(".stages b", has_text="Blur")).to_have_count(0)
    prep.settle()


def test_it_goes_on_after_the_server_was_killed(page, server):
    page.goto("/shelf/?q=paper")
    page.locator(".texture-card a.picture").first.click()
    prep = Prep(page)
    prep.settle()
    prep.add("Invert")
    server.kill()
    try:
        page.locator(".stage-acts [role=switch]").click()
        expect(page.locator(".saved")).to_contain_text("waits to be saved")
    finally:
        server.start()
    prep.settle()
    expect(page.locator(".stages small")).to_have_text("off")
    page.reload()
    prep.settle()
    expect(page.locator(".stages small")).to_have_text("off")


def test_a_scale_for_all_and_readings_beside_a_placed_texture(bench):
    page = bench.page
    page.goto("/shelf/?way=span")
    expect(page.locator(".shelf-cards.span img").first).to_be_visible()
    bench.open()
    bench.tab("PELLWICK")
    bench.step("Wear")
    page.locator(".line summary", has_text="Texture's place").click()
    page.get_by_label("Scale").fill("240")
    page.get_by_label("Scale").press("Tab")
    bench.settle()
    page.get_by_label("Beyond it", exact=True).select_option("none")
    bench.settle()
    bench.step("Soften")
    bench.step("Wear")
    expect(page.locator(".placed-reading").first).to_have_text("Enlarged 2.4 times: soft.")
    for _ in range(2):
        page.keyboard.press("Control+z")
        bench.settle()
