"""In the surface, in the real interface: a map chosen, amounts dragged, as strong as it can be,
what is torn shown; softness, grain and tones matched; the surface through.
"""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.test_access import faults

pytestmark = pytest.mark.browser


@pytest.fixture
def words(bench):
    """The words with their sheet open."""
    bench.tab("PELLWICK")
    return bench


def params(bench, kind):
    steps = bench.mark("PELLWICK")["treatment"]
    return next(one for one in reversed(steps) if one["kind"] == kind)["params"]


def added(bench, title):
    page = bench.page
    page.get_by_role("button", name="Step", exact=True).click()
    page.locator(".dropdown-menu.show").get_by_text(title, exact=True).click()
    bench.settle()
    bench.step(title)


def reading(bench, words):
    return bench.page.locator(".wear-readings li", has_text=words).locator("b")


def test_a_map_its_amounts_and_as_strong_as_it_can_be(words):
    page = words.page
    words.step("Follow surface")
    expect(reading(words, "Moved at most")).to_have_text(re.compile(r"\d+\.\d px, .* mm"))
    assert faults(page) == []
    page.get_by_label("By slope").check(force=True)
    words.settle()
    assert params(words, "follow")["way"] == "slope"
    before = words.picture()
    slider = page.get_by_role("slider", name="Across", exact=True)
    box = slider.bounding_box()
    at = box["y"] + box["height"] / 2
    words.drag((box["x"] + box["width"] * 0.55, at), (box["x"] + box["width"] * 0.95, at))
    words.settle()
    across = params(words, "follow")["across"]["value"]
    assert across > 40 and np.abs(words.picture() - before).max() > 20
    expect(reading(words, "Torn")).to_have_text(re.compile(r"\d+\.\d % of it"))
    page.locator("[data-layer=torn]").click()
    expect(page.locator("#held")).to_be_visible()
    expect(page.locator("[data-held-label]")).to_contain_text("folded over itself")
    page.locator("[data-layer=torn]").click()
    expect(page.locator("#held")).to_be_hidden()
    page.get_by_role("button", name="As strong as it can be").click()
    words.settle()
    least = params(words, "follow")["across"]["value"]
    assert 0 < least < across
    expect(reading(words, "Torn")).to_have_text(re.compile(r"nowhere|0\.\d % of it"))
    page.keyboard.press("Control+z")
    words.settle()
    assert params(words, "follow")["across"]["value"] == across
    page.keyboard.press("Control+Shift+z")
    words.settle()
    words.open()
    assert params(words, "follow")["across"]["value"] == least


def test_a_map_that_is_a_texture_is_chosen_from_the_shelf(words):
    page = words.page
    words.step("Follow surface")
    page.get_by_label("Map", exact=True).select_option("texture")
    words.settle()
    page.locator("#sheet [data-choose-texture]").first.click()
    page.locator("#texture-dialog .choice", has_text="Concrete").first.click()
    words.settle()
    assert params(words, "follow")["texture"]["hash"]
    page.locator(".line summary", has_text="The map").click()
    page.get_by_label("Reads", exact=True).select_option("split")
    words.settle()
    assert params(words, "follow")["channel"] == "split"
    assert faults(page) == []


def test_softness_grain_and_tones_are_the_surface_s(words):
    page = words.page
    words.step("Soften")
    page.get_by_label("As soft as the surface").check()
    words.settle()
    assert params(words, "soften")["match"] is True
    expect(reading(words, "The surface's edges")).to_have_text(re.compile(r"\d\.\d px"))
    expect(reading(words, "The mark's edges")).to_have_text(re.compile(r"\d\.\d px"))
    assert faults(page) == []
    added(words, "Grain")
    page.get_by_label("As grainy as the surface").check()
    words.settle()
    expect(reading(words, "The surface's grain")).to_have_text(re.compile(r"\d+\.\d %"))
    added(words, "Tones")
    page.get_by_label("Within the surface's tones").check()
    words.settle()
    expect(reading(words, "The surface's tones")).to_have_text(re.compile(r"\d+ to \d+"))
    before = words.picture()
    added(words, "Surface through")
    expect(reading(words, "Comes through on")).to_have_text(re.compile(r"\d+ % of the mark"))
    assert np.abs(words.picture() - before).max() > 10
    assert faults(page) == []


def test_what_cannot_be_measured_or_moved_says_so(words):
    """A ground of one colour: no edge, no relief."""
    page, session = words.page, words.document["ground"]["fill"]["kind"]
    assert session == "texture"
    words.tab("Ground")
    page.locator('[data-ground="colour"]').click()
    words.settle()
    words.tab("PELLWICK")
    words.step("Soften")
    page.get_by_label("As soft as the surface").check()
    words.settle()
    expect(page.locator(".wear-readings")).to_contain_text("draw a region that has one")
    words.step("Follow surface")
    expect(page.locator(".wear-readings")).to_contain_text("This map is flat: nothing will move.")
    page.get_by_role("button", name="Follow a texture").click()
    words.settle()
    assert params(words, "follow")["map"] == "texture"
