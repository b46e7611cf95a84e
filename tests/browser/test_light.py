"""Pools of light on the bench: dragged, doubled, moved by keys."""

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.driver import late
from tests.browser.test_access import faults

pytestmark = pytest.mark.browser


@pytest.fixture
def light(bench):
    return bench.add("Light")


def pools(bench):
    return bench.document["stack"][-1]["art"]["pools"]


def test_a_pool_is_dragged_and_doubled(light):
    page = light.page
    page.locator("[data-place-pools]").click()
    before = pools(light)[0]["points"]
    found = page.locator(".overlay [data-side='0-0']").bounding_box()
    start = np.array([found["x"] + found["width"] / 2, found["y"] + found["height"] / 2])
    page.mouse.move(*start)
    page.mouse.down()
    page.mouse.move(*(start + [60, 30]), steps=6)
    page.mouse.up()
    light.settle()
    after = pools(light)[0]["points"]
    np.testing.assert_allclose(
        np.subtract(after, before), [np.subtract(after, before)[0]] * 3, atol=1e-4
    )
    assert after[0][0] > before[0][0]
    once = light.picture()
    page.locator("[data-double-pool]").first.click()
    light.settle()
    assert len(pools(light)) == 2 and pools(light)[0]["points"] == pools(light)[1]["points"]
    assert pools(light)[0]["id"] != pools(light)[1]["id"]
    assert (light.picture() != once).any()
    page.locator("[data-remove-pool]").first.click()
    light.settle()
    np.testing.assert_array_equal(light.picture(), once)
    assert faults(page) == []


def test_by_keys_alone_with_late_answers(light):
    late(light.page, 500)
    page = light.page
    page.locator("[data-form=stroke]").focus()
    page.keyboard.press("Enter")
    light.settle()
    page.locator("[data-place-pools]").focus()
    page.keyboard.press("Enter")
    page.locator(".overlay [data-side='1-2']").focus()
    before = pools(light)[1]["points"]
    page.keyboard.press("Shift+ArrowUp")
    page.keyboard.press("Shift+ArrowUp")
    light.settle()
    after = pools(light)[1]["points"]
    assert after[:2] == before[:2] and after[2][1] < before[2][1]
    expect(page.locator(".overlay [data-side='1-2']")).to_be_focused()
    assert faults(page) == []
