"""A tip of one's own, made of a part of a texture that is framed on its page."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.test_access import faults

pytestmark = pytest.mark.browser
TEXTURE = re.compile(r"^/shelf/[0-9a-f-]{36}/$")


@pytest.fixture
def texture(page):
    page.goto("/shelf/")
    links = page.locator("main a").evaluate_all("all => all.map((one) => one.getAttribute('href'))")
    page.goto(next(one for one in links if TEXTURE.match(one or "")))
    expect(page.locator("[data-tip-frame]")).to_be_visible()
    page.locator("[data-tip-form]").scroll_into_view_if_needed()
    return page


def values(page):
    return [float(page.locator(f"#tip-{name}").input_value()) for name in ("share", "x", "y")]


def stroke(page):
    return page.locator("[data-tip-stroke]").get_attribute("src")


def test_a_part_is_framed_by_hand_and_becomes_a_tip(texture):
    page, before = texture, stroke(texture)
    box = page.locator("[data-tip-frame]").bounding_box()
    right, bottom = box["x"] + box["width"], box["y"] + box["height"]
    page.mouse.move(right, bottom)
    page.mouse.down()
    page.mouse.move(right - box["width"] / 4, bottom - box["height"] / 4, steps=4)
    page.mouse.up()
    assert values(page) == pytest.approx([25, 50, 50], abs=2)
    page.mouse.move(box["x"] + box["width"] / 2, box["y"] + box["height"] / 2)
    page.mouse.down()
    page.mouse.move(0, 0, steps=4)  # no farther than the texture goes
    page.mouse.up()
    share, x, y = values(page)
    assert x <= 13 and y <= 16 and share == pytest.approx(25, abs=2)
    page.wait_for_timeout(400)
    assert f"x={x}" in stroke(page) != before
    page.locator("#tip-name").fill("Corner grit")
    page.get_by_role("button", name="Make a tip").click()
    expect(page.locator("body")).to_contain_text("“Corner grit” is among the tips")


def test_by_keys_alone(texture):
    page = texture
    page.locator("[data-tip-frame]").focus()
    page.keyboard.press("Shift+-")
    page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("ArrowUp")
    assert values(page) == pytest.approx([40, 60, 49], abs=0.3)
    assert faults(page) == []
