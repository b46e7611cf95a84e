"""Plain shapes on the bench: brought in, changed on the sheet, their sides dragged by a mouse and
moved by keys.
"""

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.driver import late
from tests.browser.test_access import faults

pytestmark = pytest.mark.browser


@pytest.fixture
def shape(bench):
    return bench.add("Shape")


def box(bench):
    """Its width and height in px of the piece, and where its middle lies."""
    mark = bench.document["stack"][-1]
    tall = bench.document["size_px"][1]
    sides = [mark["art"][one]["value"] * tall / 100 for one in ("width", "height")]
    return np.array([*sides, *(mark["placement"][one]["value"] for one in "xy")])


def edge(bench, number):
    found = bench.page.locator(f".overlay [data-edge='{number}']").bounding_box()
    return np.array([found["x"] + found["width"] / 2, found["y"] + found["height"] / 2])


def drag(bench, number, across, down):
    start = edge(bench, number)
    zoom = bench.at(1, 0)[0] - bench.at(0, 0)[0]
    bench.page.mouse.move(*start)
    bench.page.mouse.down()
    bench.page.mouse.move(*(start + np.array([across, down]) * zoom), steps=6)
    bench.page.mouse.up()
    bench.settle()


def test_a_side_is_dragged_and_the_opposite_one_stays(shape):
    before, picture = box(shape), shape.picture()
    drag(shape, 1, 60, 20)
    after = box(shape)
    assert after - before == pytest.approx([60, 0, 30, 0], abs=1.5)
    drag(shape, 0, 5, -40)
    assert box(shape) - after == pytest.approx([0, 40, 0, -20], abs=1.5)
    width = shape.page.get_by_label("Width", exact=False).first
    expect(width).to_be_visible()
    shape.page.keyboard.press("Control+z")
    shape.settle()
    shape.page.keyboard.press("Control+z")
    shape.settle()
    np.testing.assert_allclose(box(shape), before, atol=1e-6)
    np.testing.assert_array_equal(shape.picture(), picture)


def test_turned_it_grows_along_its_own_sides_and_with_shift_to_both(shape):
    way = ["stack", shape.document["stack"][-1]["id"], "placement", "rotation_deg"]
    shape.change({"op": "set", "path": way, "value": 90})
    before = box(shape)
    drag(shape, 1, 0, 50)  # its right side is the lowest now
    assert box(shape) - before == pytest.approx([50, 0, 0, 25], abs=1.5)
    before = box(shape)
    shape.page.keyboard.down("Shift")
    drag(shape, 1, 0, 30)
    shape.page.keyboard.up("Shift")
    assert box(shape) - before == pytest.approx([60, 0, 0, 0], abs=1.5)


def test_by_keys_alone_with_late_answers(shape):
    late(shape.page, 500)
    before = box(shape)
    shape.page.locator(".overlay [data-edge='2']").focus()
    for _ in range(4):
        shape.page.keyboard.press("Shift+ArrowDown")
    shape.page.keyboard.press("ArrowUp")
    shape.page.wait_for_timeout(900)
    shape.settle()
    assert box(shape) - before == pytest.approx([0, 39, 0, 19.5], abs=0.1)
    assert shape.page.evaluate("document.activeElement.dataset.edge") == "2"
    assert faults(shape.page) == []


def test_another_form_and_a_rim_come_by_the_sheet(shape):
    page = shape.page
    before = shape.picture()
    page.locator("#sheet select:has(option[value=badge])").first.select_option("badge")
    shape.settle()
    expect(page.locator("#sheet")).to_contain_text("Points")
    badge = shape.picture()
    assert np.abs(badge - before).max() > 60
    page.locator("#sheet select:has(option[value=outside])").first.select_option("outside")
    shape.settle()
    assert np.abs(shape.picture() - badge).max() > 60
    art = shape.document["stack"][-1]["art"]
    assert (art["form"], art["outlined"]) == ("badge", "outside")


@pytest.mark.parametrize("form", ["rectangle", "ellipse", "ring", "badge", "polygon", "banner"])
def test_each_shape_is_dragged_out_on_the_piece(shape, form):
    page = shape.page
    page.get_by_label("Form", exact=True).select_option(form)
    shape.settle()
    page.locator("[data-drag-out]").click()
    page.mouse.move(*shape.at(60, 80))
    page.mouse.down()
    page.mouse.move(*shape.at(200, 140), steps=4)
    page.mouse.move(*shape.at(260, 180))
    page.mouse.up()
    shape.settle()
    assert shape.document["stack"][-1]["art"]["form"] == form
    assert box(shape) == pytest.approx([200, 100, 160, 130], abs=2)


def test_a_drag_that_is_given_up_leaves_the_shape(shape):
    before, version = box(shape), shape.told["version"]
    shape.page.locator("[data-drag-out]").click()
    shape.page.keyboard.press("Escape")
    shape.settle()
    np.testing.assert_array_equal(box(shape), before)
    assert shape.told["version"] == version


def test_a_side_snaps_to_the_page_and_with_alt_it_does_not(shape):
    page, wide = shape.page, shape.document["size_px"][0]
    right = box(shape)[2] + box(shape)[0] / 2
    drag(shape, 1, wide - right - 3, 0)
    assert box(shape)[2] + box(shape)[0] / 2 == pytest.approx(wide, abs=0.2)
    page.keyboard.press("Control+z")
    shape.settle()
    page.keyboard.down("Alt")
    drag(shape, 1, wide - right - 8, 0)
    page.keyboard.up("Alt")
    assert box(shape)[2] + box(shape)[0] / 2 == pytest.approx(wide - 8, abs=1.5)
