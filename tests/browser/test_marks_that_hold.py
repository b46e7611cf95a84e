"""Art and marks that hold steps in or out: colours from the bar and from the piece, the counterpart
on another step, and a mark that goes.
"""

import numpy as np
import pytest
from playwright.sync_api import expect

from kilnmark.demo import ART
from tests.browser.test_access import faults

NAME = "tide boat"
pytestmark = pytest.mark.browser


@pytest.fixture
def boat(bench, tmp_path):
    """Grain twice on a drawing, the sheet of the first open."""
    page = bench.page
    page.get_by_role("button", name="Mark", exact=True).click()
    drawing = tmp_path / "tide-boat.svg"
    drawing.write_bytes((ART / "night-boat.svg").read_bytes())
    page.locator("[data-art-file]").set_input_files(drawing)
    expect(page.get_by_role("tab", name=NAME)).to_be_visible()
    page.locator("#mark-dialog").evaluate("dialog => dialog.close()")
    bench.settle()
    grain = {"op": "add_step", "part": bench.mark(NAME)["id"], "kind": "grain"}
    bench.change(grain, grain)
    bench.tab(NAME)
    bench.step("Grain")
    page.locator("[data-landing] > summary").click()
    return bench


def test_an_open_menu_stays_open_while_the_strip_comes_anew(bench):
    page = bench.page
    bench.tab("PELLWICK")
    page.get_by_role("button", name="Step", exact=True).click()
    menu = page.locator("#strip .dropdown-menu.show")
    expect(menu).to_be_visible()
    strip = "Alpine.$data(document.getElementById('strip'))"
    page.evaluate(f"async () => {{ await {strip}.load(); }}")
    menu.get_by_text("Grain", exact=True).click()
    expect(page.locator("#sheet h2")).to_have_text("Grain")


def grains(bench):
    return [one["landing"] for one in bench.mark(NAME)["treatment"]]


def test_a_colour_by_the_bar_or_by_the_piece_and_its_counterpart_two_clicks_away(boat):
    page = boat.page
    page.get_by_role("button", name="Only where").click()
    page.locator(".hold-more .dropdown-item", has_text="Kept in a colour").click()
    boat.settle()
    bar = page.locator(".area-colour .bar-part")
    expect(bar.nth(1)).to_be_visible()
    assert faults(page) == []
    wanted = bar.nth(1).get_attribute("title").split(",")[0]
    bar.nth(1).click()
    boat.settle()
    assert grains(boat)[0]["limits"][0]["colour"] == wanted
    page.locator("[data-pick-area]").click()
    box = boat.told["boxes"][boat.mark(NAME)["id"]]
    page.mouse.click(*boat.at(box["x"], box["y"]))
    expect(page.locator(".area-colour [data-hex]")).not_to_have_value(wanted)
    boat.settle()
    (limit,) = grains(boat)[0]["limits"]
    listed = [one.get_attribute("title").split(",")[0] for one in bar.all()]
    assert limit["colour"] in listed
    # the counterpart: one choice of one list
    page.locator(".hold-acts").get_by_role("button", name="Copy to").click()
    page.locator(".hold-acts [data-opposite]", has_text="Grain").first.click()
    boat.settle()
    (inside,), (outside,) = (one["limits"] for one in grains(boat))
    assert inside["colour"] == outside["colour"]
    assert (inside["outside"], outside["outside"]) == (False, True)
    kept = grains(boat)
    page.keyboard.press("Control+z")
    boat.settle()
    assert grains(boat) != kept
    page.keyboard.press("Control+Shift+z")
    boat.settle()
    boat.open()
    assert grains(boat) == kept


def test_a_mark_that_holds_says_so_and_leaves_a_region_when_it_goes(boat):
    page = boat.page
    page.get_by_role("button", name="Only where").click()
    page.locator(".hold-more .dropdown-item", has_text="Kept out of PELLWICK").click()
    boat.settle()
    held = boat.picture()
    boat.tab("PELLWICK")
    boat.step("Bare")
    expect(page.locator(".holding")).to_contain_text("Grain, kept out of it")
    page.locator("[data-remove-mark]").click()
    expect(page.locator("#holding-dialog")).to_contain_text("holds something in or out")
    assert faults(page) == []
    page.keyboard.press("Escape")
    assert boat.mark("PELLWICK")
    page.locator("[data-remove-mark]").click()
    page.locator("[data-make-region]").click()
    expect(page.get_by_role("tab", name="PELLWICK")).to_have_count(0)
    boat.settle()
    (limit,) = grains(boat)[0]["limits"]
    assert (limit["kind"], limit["shape"], limit["outside"]) == ("region", "outline", True)
    page.keyboard.press("Control+z")
    boat.settle()
    assert grains(boat)[0]["limits"][0]["kind"] == "mark"
    assert np.abs(boat.picture() - held).max() < 1.5
    boat.tab("PELLWICK")
    page.keyboard.press("Delete")
    page.locator("[data-drop-holding]").click()
    boat.settle()
    assert grains(boat)[0]["limits"] == []
    page.keyboard.press("Control+z")
    boat.settle()
