"""What art is filled with, on the bench: chosen, swapped, its line dragged and moved by keys."""

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.driver import late
from tests.browser.test_access import faults

pytestmark = pytest.mark.browser


@pytest.fixture
def shape(bench):
    return bench.add("Shape")


def fill(bench):
    return bench.document["stack"][-1]["art"]["fill"]


def choose(bench, title):
    bench.page.locator(".one-of").get_by_role("button", name=title, exact=True).click()
    bench.settle()


def grip(bench, side):
    found = bench.page.locator(f".overlay [data-side='{side}']").bounding_box()
    return np.array([found["x"] + found["width"] / 2, found["y"] + found["height"] / 2])


def test_a_gradient_is_chosen_its_line_dragged_and_kept_when_it_is_swapped(shape):
    plain = shape.picture()
    choose(shape, "Gradient")
    assert fill(shape)["way"] == "straight" and fill(shape)["line"] is None
    before = shape.picture()
    assert (before != plain).any()
    shape.page.locator("[data-place-line]").click()
    start = grip(shape, "second")
    shape.page.mouse.move(*start)
    shape.page.mouse.down()
    shape.page.mouse.move(*(start + [70, -50]), steps=6)
    shape.page.mouse.up()
    shape.settle()
    line = fill(shape)["line"]
    assert line["x1"] > 0.1 and line["y1"] < 0.45
    assert (shape.picture() != before).any()
    shape.page.get_by_label("Way", exact=True).select_option("round")
    shape.settle()
    choose(shape, "Surface")
    assert fill(shape)["kind"] == "surface"
    choose(shape, "Gradient")
    assert fill(shape)["line"] == line
    shape.page.get_by_role("button", name="By its angle").click()
    shape.settle()
    assert fill(shape)["line"] is None
    choose(shape, "Colour")
    assert fill(shape) is None
    np.testing.assert_array_equal(shape.picture(), plain)
    assert faults(shape.page) == []


def test_a_line_by_keys_alone_with_late_answers(shape):
    late(shape.page, 500)
    page = shape.page
    page.locator(".one-of").get_by_role("button", name="Gradient", exact=True).focus()
    page.keyboard.press("Enter")
    shape.settle()
    page.locator("[data-place-line]").focus()
    page.keyboard.press("Enter")
    page.locator(".overlay [data-side='first']").focus()
    for _ in range(3):
        page.keyboard.press("Shift+ArrowRight")
    shape.settle()
    width, tall = 0.6 * shape.document["size_px"][1], shape.document["size_px"][1]
    line = fill(shape)["line"]
    assert line["x0"] == pytest.approx(30 / width, abs=1e-3), tall
    expect(page.locator(".overlay [data-side='first']")).to_be_focused()
    assert faults(page) == []


def test_a_texture_fills_it_and_is_placed_on_the_piece(shape):
    page = shape.page
    page.locator(".one-of").get_by_role("button", name="Texture", exact=True).click()
    page.locator("[data-texture]").first.click()
    shape.settle()
    assert fill(shape)["kind"] == "texture"
    page.locator("[data-place-texture]").click()
    page.keyboard.press("Shift+ArrowRight")
    shape.settle()
    assert fill(shape)["placement"]["x"]["value"] == pytest.approx(10, abs=0.5)
    ends = fill(shape)["texture"] | {"edges": "none"}
    way = ["stack", shape.document["stack"][-1]["id"], "art", "fill"]
    small = {"op": "set", "path": [*way, "placement", "scale"], "value": 0.05}
    shape.change({"op": "set", "path": [*way, "texture"], "value": ends}, small)
    expect(page.locator(".placed-reading").first).to_contain_text("not covered")
    assert faults(page) == []


def test_a_crescent_of_two_circles_stays_two_circles(shape):
    """Grouped, cut out, and moved: the parts stay marks."""
    page = shape.page
    page.get_by_label("Form", exact=True).select_option("ellipse")
    shape.settle()
    first = shape.document["stack"][-1]
    other = {**first, "id": "second", "placement": {**first["placement"]}}
    other["placement"]["x"] = {"value": first["placement"]["x"]["value"] + 60, "unit": "px"}
    shape.change({"op": "add_mark", "mark": other})
    ids = [one["id"] for one in shape.document["stack"][-2:]]
    shape.change({"op": "group", "marks": ids})
    whole, before = shape.document["stack"][-1], shape.picture()
    page.locator(f".tab[data-part='{whole['id']}']").click()
    page.locator("#strip .frame", has_text="Bare").first.click()
    shape.settle()
    page.get_by_label("Members", exact=True).select_option("cut")
    shape.settle()
    assert shape.document["stack"][-1]["combine"] == "cut"
    crescent = shape.picture()
    assert (crescent != before).any()
    by = {"op": "transform_marks", "about": [0, 0], "by": [25, 0], "marks": [ids[1]]}
    shape.change(by)
    assert len(shape.document["stack"][-1]["members"]) == 2
    assert (shape.picture() != crescent).any()
    assert faults(page) == []
