"""Words on a circle and on a drawn curve, on the bench."""

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.driver import late
from tests.browser.test_access import faults

pytestmark = pytest.mark.browser


@pytest.fixture
def words(bench):
    """The words chosen, bare."""
    bench.tab("PELLWICK")
    bench.step("Bare")
    bench.chosen = bench.mark("PELLWICK")["id"]
    return bench


def the_mark(bench):
    return next(one for one in bench.document["stack"] if one["id"] == bench.chosen)


def art(bench):
    return the_mark(bench)["art"]


def place(bench):
    return the_mark(bench)["placement"]


def stand(bench, title):
    bench.page.get_by_role("group", name="Stands on").get_by_role(
        "button", name=title, exact=True
    ).click()
    bench.settle()


def test_words_round_a_circle_are_worded_anew(words):
    page = words.page
    late(page, 300)
    straight = words.picture()
    stand(words, "Circle")
    page.get_by_label("Where, °").fill("40")
    page.keyboard.press("Tab")
    words.settle()
    assert art(words)["along"]["kind"] == "circle" and art(words)["along"]["start_deg"] == 40
    before, lies = words.picture(), place(words)
    assert (before != straight).any()
    page.get_by_label("Words", exact=True).fill("LAST BOAT HOME")
    page.keyboard.press("Tab")
    words.settle()
    assert art(words)["text"] == "LAST BOAT HOME"
    assert place(words) == lies
    assert (words.picture() != before).any()
    stand(words, "Straight")
    assert art(words)["along"] is None
    assert faults(page) == []


def test_a_double_click_on_bent_words_goes_to_the_sheet(words):
    stand(words, "Arc")
    mark = place(words)
    words.page.mouse.dblclick(*words.at(mark["x"]["value"], mark["y"]["value"]))
    expect(words.page.get_by_label("Words", exact=True)).to_be_focused()
    assert words.page.locator(".words-on-piece").count() == 0


def test_a_curve_is_dragged_by_its_points_and_moved_by_keys(words):
    page = words.page
    stand(words, "Drawn")
    before = art(words)["along"]["points"]
    page.locator("[data-place-curve]").click()
    found = page.locator(".overlay [data-side='1']").bounding_box()
    start = np.array([found["x"] + found["width"] / 2, found["y"] + found["height"] / 2])
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(*(start + [10, -50]), steps=5)
    page.mouse.up()
    words.settle()
    after = art(words)["along"]["points"]
    assert after[1][1] < before[1][1] and after[0] == before[0] and after[2] == before[2]
    grip = page.locator(".overlay [data-side='1']").bounding_box()
    middle = np.array([grip["x"] + grip["width"] / 2, grip["y"] + grip["height"] / 2])
    np.testing.assert_allclose(middle, start + [10, -50], atol=2)
    page.locator(".overlay [data-side='1']").focus()
    page.keyboard.press("ArrowDown")
    words.settle()
    assert art(words)["along"]["points"][1][1] > after[1][1]
    page.locator("[data-more-points]").click()
    words.settle()
    assert len(art(words)["along"]["points"]) == 5
    page.locator("[data-fewer-points]").click()
    words.settle()
    assert len(art(words)["along"]["points"]) == 3
    assert faults(page) == []


def test_lines_around_letters_are_switched_on(words):
    page, plain = words.page, words.picture()
    page.locator("#sheet summary", has_text="Lines").click()
    page.get_by_label("Outline", exact=True).select_option("outside")
    words.settle()
    outlined = words.picture()
    assert (outlined != plain).any()
    page.get_by_label("Second outline").check()
    words.settle()
    assert art(words)["lines"]["second"] is True
    assert (words.picture() != outlined).any()
    assert faults(page) == []
