"""What holds a landing, in the real interface: by pointer, by keyboard, undone and reloaded."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.driver import late
from tests.browser.test_access import faults

pytestmark = pytest.mark.browser
POINTS = ("hidden_below", "shown_from", "shown_to", "hidden_above")


@pytest.fixture
def coated(bench):
    """A coat on the words, with its sheet open."""
    bench.change({"op": "add_step", "part": bench.mark("PELLWICK")["id"], "kind": "coat"})
    bench.tab("PELLWICK")
    bench.step("Texture coat")
    return bench


def landing(bench):
    treatment = bench.mark("PELLWICK")["treatment"]
    return next(one for one in treatment if one["kind"] == "coat")["landing"]


def ranged(bench):
    (one,) = landing(bench)["ranges"]
    return one


def hold(bench, words):
    bench.page.get_by_role("button", name="Only where").click()
    bench.page.locator(".hold-more .dropdown-item", has_text=words).click()
    bench.settle()


def undone_redone_and_reloaded(bench, told):
    """told() is the same after undo and redo, and after a reload."""
    kept = told()
    bench.page.keyboard.press("Control+z")
    bench.settle()
    assert told() != kept
    bench.page.keyboard.press("Control+Shift+z")
    bench.settle()
    assert told() == kept
    bench.open()
    assert told() == kept
    bench.tab("PELLWICK")
    bench.step("Texture coat")


def test_a_range_by_pointer_and_by_keyboard(coated):
    page = coated.page
    before = coated.picture()
    hold(coated, "Through the tones of the surface")
    expect(page.locator("[data-tones]")).to_have_attribute("d", re.compile("L255"))
    assert np.abs(coated.picture() - before).max() > 5
    edge = page.locator("[data-edge=shown_from]")
    box, plot = edge.bounding_box(), page.locator(".range-plot").bounding_box()
    middle = box["x"] + box["width"] / 2, box["y"] + 11
    coated.drag(middle, (plot["x"] + 0.6 * plot["width"], middle[1]))
    coated.settle()
    assert ranged(coated)["shown_from"] == pytest.approx(0.6, abs=0.03)
    edge.focus()
    page.keyboard.press("Shift+ArrowLeft")
    page.wait_for_timeout(600)
    coated.settle()
    told = ranged(coated)
    assert told["shown_from"] == pytest.approx(0.6 - 10 / 255, abs=0.03)
    assert faults(page) == []
    number = page.locator(".range [data-number=hidden_below]")
    number.fill(str(round(told["shown_from"] * 255)))
    number.press("Tab")
    coated.settle()
    expect(page.locator("[data-range-told]")).to_have_text("A hard edge looks cut out: soften it.")
    page.get_by_role("button", name="Soften it").click()
    coated.settle()
    expect(page.locator("[data-range-told]")).to_have_text("")
    assert ranged(coated)["shown_from"] - ranged(coated)["hidden_below"] >= 19 / 255
    page.get_by_label("Reads").select_option("saturation")
    coated.settle()
    assert ranged(coated)["reads"] == "saturation"
    undone_redone_and_reloaded(coated, lambda: ranged(coated))


def test_switched_off_it_is_kept_and_copied_and_removed(coated):
    page = coated.page
    hold(coated, "Through the tones it lays on")
    page.locator(".hold-acts input[type=checkbox]").uncheck()
    coated.settle()
    assert ranged(coated)["on"] is False
    expect(page.locator(".hold summary")).to_contain_text("off")
    page.locator(".hold-acts").get_by_role("button", name="Copy to").click()
    page.locator(".hold-acts .dropdown-item", has_text="PELLWICK: how it lands").click()
    coated.settle()
    assert coated.mark("PELLWICK")["landing"]["ranges"][0]["on"] is False
    page.get_by_role("button", name="Remove: Tones it lays on").click()
    coated.settle()
    assert landing(coated)["ranges"] == []


def test_kept_in_a_colour_and_its_counterpart(coated):
    page = coated.page
    hold(coated, "Kept in a colour")
    inside = coated.picture()
    page.get_by_label("Outside it").check()
    coated.settle()
    assert landing(coated)["limits"][0]["outside"] is True
    expect(page.locator(".hold summary")).to_contain_text("Kept out of cream")
    assert np.abs(coated.picture() - inside).max() > 5
    assert faults(page) == []
    undone_redone_and_reloaded(coated, lambda: landing(coated)["limits"])


def test_kept_out_of_a_region_that_is_drawn(coated):
    page = coated.page
    hold(coated, "Kept in a region")
    page.locator("[data-draw-region]").click()
    coated.drag(coated.at(300, 350), coated.at(500, 480))
    coated.settle()
    (limit,) = landing(coated)["limits"]
    assert limit["width"]["value"] == pytest.approx(200, abs=3)
    assert limit["x"]["value"] == pytest.approx(400, abs=3)
    page.locator("#overlay .body").press("Shift+ArrowRight")
    page.wait_for_timeout(600)
    coated.settle()
    assert landing(coated)["limits"][0]["x"]["value"] == pytest.approx(limit["x"]["value"] + 10)
    offered = page.locator(".hold-more .dropdown-item").all_text_contents()
    marks = [one for one in offered if one.startswith("Kept in ") and "Kept in a " not in one]
    hold(coated, marks[0])
    page.get_by_label("Of these").select_option("any")
    coated.settle()
    assert landing(coated)["together"] == "any" and len(landing(coated)["limits"]) == 2


def test_a_fade_on_the_piece(coated):
    page = coated.page
    hold(coated, "Fading")
    page.locator("[data-place-fade]").click()
    end = page.locator('#overlay [data-side="second"]')
    box = end.bounding_box()
    at = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    before = landing(coated)["fade"]
    coated.drag(at, (at[0] + 90, at[1]))
    coated.settle()
    assert landing(coated)["fade"]["x1"]["value"] > before["x1"]["value"] + 60
    page.locator('#overlay [data-side="middle"]').focus()
    page.keyboard.press("Shift+ArrowDown")
    page.wait_for_timeout(700)
    coated.settle()
    assert landing(coated)["fade"]["middle"] != before["middle"]
    page.locator("[data-reverse-fade]").click()
    coated.settle()
    assert (landing(coated)["fade"]["start"], landing(coated)["fade"]["end"]) == (0, 1)
    assert faults(page) == []
    undone_redone_and_reloaded(coated, lambda: landing(coated)["fade"])


def test_a_second_range_of_the_same_tones_and_one_through_which_nothing_lands(coated):
    page = coated.page
    hold(coated, "Through the tones of the art")
    hold(coated, "Through the tones of the art")
    assert [one["of"] for one in landing(coated)["ranges"]] == ["input", "input"]
    last = page.locator(".range").nth(1)
    for name, level in zip(POINTS, (0, 0, 0, 1), strict=True):
        last.locator(f"[data-number={name}]").fill(str(level))
    last.locator("[data-number=hidden_above]").press("Tab")
    coated.settle()
    words = "Nothing lands: no pixel that it lands on is that dark."
    expect(page.locator(".range").nth(1).locator("[data-range-told]")).to_have_text(words)
    page.get_by_role("button", name="Take the tones that are there").click()
    coated.settle()
    expect(page.locator(".range").nth(1).locator("[data-range-told]")).to_have_text("")
    taken = landing(coated)["ranges"][1]
    page.locator("[data-take-tone]").nth(1).click()
    box = coated.told["boxes"][coated.mark("PELLWICK")["id"]]
    page.mouse.click(*coated.at(box["x"], box["y"]))
    for _ in range(50):
        page.wait_for_timeout(100)
        if landing(coated)["ranges"][1] != taken:
            break
    coated.settle()
    assert landing(coated)["ranges"][1]["shown_from"] != taken["shown_from"]


def test_what_is_held_back_is_shown_and_labelled(coated):
    page, held = coated.page, coated.page.locator("#held")
    hold(coated, "Fading")
    coated.settle()
    expect(held).to_be_hidden()
    page.keyboard.press("k")
    expect(held).to_be_visible()
    expect(page.locator("[data-held-label]")).to_contain_text("not what fires")
    hatched = held.evaluate("canvas => canvas.toDataURL()")
    page.get_by_role("button", name="Grey", exact=True).click()
    expect(held).to_have_attribute("data-look", "grey")
    assert held.evaluate("canvas => canvas.toDataURL()") != hatched
    page.get_by_role("button", name="Grey", exact=True).click()
    expect(held).to_be_hidden()
    page.get_by_label("Half way at", exact=True).first.focus()
    page.keyboard.press("ArrowRight")  # while it moves, and a little longer
    expect(held).to_be_visible()
    expect(held).to_be_hidden()
    page.keyboard.press("Escape")
    page.locator("#stage").click(position={"x": 4, "y": 4})
    before = landing(coated)["fade"]
    page.keyboard.press("x")
    coated.settle()
    assert landing(coated)["fade"]["start"] == before["end"]


def test_what_is_held_back_is_shown_by_a_key_pressed_before_the_sheet_has_come(coated):
    page, held = coated.page, coated.page.locator("#held")
    late(page, 1500, "**/sheet/?*")
    hold(coated, "Fading")
    expect(page.locator(".held-looks")).to_be_hidden()
    page.keyboard.press("k")
    expect(page.locator(".held-looks")).to_be_visible()
    expect(held).to_be_visible()


def test_a_region_drawn_freehand(coated):
    page = coated.page
    hold(coated, "Kept in a region")
    page.locator("[data-draw-freehand]").click()
    points = [(300, 350), (520, 330), (540, 480), (420, 420), (310, 500)]
    page.mouse.move(*coated.at(*points[0]))
    page.mouse.down()
    for point in points[1:]:
        page.mouse.move(*coated.at(*point), steps=6)
    page.mouse.up()
    coated.settle()
    (limit,) = landing(coated)["limits"]
    assert limit["shape"] == "outline" and 4 <= len(limit["outline"][0]) <= 12
    assert limit["width"]["value"] == pytest.approx(240, abs=4)
    page.get_by_label("Shape", exact=True).last.select_option("ellipse")
    coated.settle()
    assert landing(coated)["limits"][0]["outline"] == limit["outline"]  # to go back to
    page.get_by_label("Across", exact=True).last.fill("9000")
    page.get_by_label("Across", exact=True).last.press("Tab")
    coated.settle()
    expect(page.locator(".hold .warning-text").first).to_contain_text("off the piece")
    page.get_by_role("button", name="Bring it onto the piece").click()
    coated.settle()
    expect(page.locator(".hold .warning-text:has-text('off the piece')")).to_have_count(0)
    undone_redone_and_reloaded(coated, lambda: landing(coated)["limits"])
