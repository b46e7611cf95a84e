"""Aims and walls in the real interface, by pointer and by keyboard."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.test_access import faults

pytestmark = pytest.mark.browser


def settings(bench, number=0):
    return bench.mark("PELLWICK")["treatment"][number]


def comes_to(bench, before, wanted):
    """Whether the exact picture on the stage comes to differ from another as is wanted."""
    for _ in range(80):
        bench.page.wait_for_timeout(250)
        now = bench.picture()  # a draft has fewer pixels
        if now.shape == before.shape and wanted(np.abs(now - before).max()):
            return True
    return False


def test_an_aim_is_set_and_goes_off_when_a_solved_point_is_moved(bench):
    page, begun = bench.page, bench.document
    bench.tab("PELLWICK")
    bench.step("Wear")
    page.get_by_label("Aim: take away a share").check()
    bench.settle()
    expect(page.locator("[data-solved-note]")).to_have_text(re.compile("Solved: takes 15.0 %"))
    before = bench.picture()
    share = page.locator("#sheet input[type=range]").first
    share.focus()
    for _ in range(20):
        page.keyboard.press("ArrowRight")
    bench.settle()
    expect(page.locator("[data-solved-note]")).to_have_text(re.compile("Solved: takes 25.0 %"))
    assert settings(bench)["params"]["share"] == 0.25
    assert np.abs(bench.picture() - before).max() > 8
    assert faults(page) == []
    page.locator(".line summary", has_text="Black and white").click()
    page.locator("[data-point=black]").focus()
    page.keyboard.press("Shift+ArrowLeft")
    bench.settle()
    expect(page.locator(".levels.solved")).to_have_count(0)
    assert settings(bench)["params"]["aim"] is False
    bench.back_to(begun)


def test_a_wall_of_modes_by_keyboard_and_by_pointer(bench):
    page = bench.page
    bench.tab("PELLWICK")
    page.get_by_role("button", name="Step", exact=True).click()
    page.locator(".dropdown-menu.show", has_text="Texture coat").get_by_text("Texture coat").click()
    bench.settle()
    kept, before = bench.told["version"], bench.picture()
    page.locator("[data-try-all][data-kind=modes]").focus()
    page.keyboard.press("Enter")
    expect(page.locator(".tryout[aria-current]")).to_be_focused()
    expect(page.locator(".tryout[aria-current]")).to_contain_text("Multiply · now")
    assert faults(page) == []
    page.keyboard.press("End")
    for key in ("ArrowDown", "ArrowDown", "ArrowRight"):
        page.keyboard.press(key)
    assert comes_to(bench, before, lambda apart: apart > 20)  # the stage shows it
    page.keyboard.press("Escape")
    bench.settle()
    assert bench.told["version"] == kept and comes_to(bench, before, lambda apart: apart < 3)
    page.locator("[data-try-all][data-kind=modes]").click()
    page.locator(".tryout").nth(4).click()
    bench.settle()
    coat = next(one for one in bench.mark("PELLWICK")["treatment"] if one["kind"] == "coat")
    assert coat["landing"]["mode"] != "multiply"
    before = bench.picture()
    page.get_by_role("button", name="Step", exact=True).click()
    page.locator("[data-try-steps]").click()
    expect(page.locator(".tryout").first).to_be_focused()
    assert page.locator("#tryouts-title").text_content() == "Next step" and faults(page) == []
    page.locator(".tryout", has_text="Grain").focus()
    assert comes_to(bench, before, lambda apart: apart > 3)
    page.keyboard.press("Enter")
    bench.settle()
    assert bench.mark("PELLWICK")["treatment"][-1]["kind"] == "grain"
    expect(page.locator(".sheet-head h2")).to_have_text("Grain")  # what was taken is open
    page.locator("[data-try-all][data-kind=seeds]").click()
    expect(page.locator(".tryout").first).to_be_focused()
    page.keyboard.press("ArrowRight")
    seed = bench.mark("PELLWICK")["treatment"][-1]["seed"]
    page.keyboard.press("Enter")
    bench.settle()
    assert bench.mark("PELLWICK")["treatment"][-1]["seed"] != seed
    bench.step("Texture coat")
    page.locator(".line summary", has_text="Texture's place").click()
    page.locator("[data-try-all][data-kind=placements]").click()
    expect(page.locator(".tryout").first).to_be_visible()
    page.locator(".tryout").nth(1).focus()
    page.keyboard.press("Enter")
    bench.settle()
    coat = next(one for one in bench.mark("PELLWICK")["treatment"] if one["kind"] == "coat")
    assert coat["params"]["placement"]["x"]["value"] or coat["params"]["placement"]["y"]["value"]
    for _ in range(3):
        page.keyboard.press("Control+z")
        bench.settle()


def test_a_version_is_pinned_and_come_back_to_by_keyboard(bench):
    page = bench.page
    title = bench.document["title"]
    page.keyboard.press("p")
    page.locator("[data-pin-name]").fill("harbour grey")
    page.keyboard.press("Enter")
    expect(page.locator(".pin b").first).to_have_text("harbour grey")
    assert faults(page) == []
    page.keyboard.press("Escape")
    bench.tab("Whole piece")
    page.get_by_label("Title").fill("Another title")
    page.get_by_label("Title").press("Tab")
    bench.settle()
    assert bench.document["title"] == "Another title"
    page.get_by_role("button", name="Pins", exact=True).press("Enter")
    back = page.get_by_role("button", name="Back to it: harbour grey")
    expect(back).to_be_enabled()  # the list of before says that it is as it is now
    back.press("Enter")
    expect(page.locator(".where h1")).to_have_text(title)
    bench.settle()
    assert bench.document["title"] == title and "harbour grey" in bench.told["undo"]
    for _ in range(2):
        page.keyboard.press("Control+z")
        bench.settle()
    assert bench.document["title"] == title
