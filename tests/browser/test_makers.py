"""A maker's page: looked at in five ways, tuned, others taken, kept."""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.driver import until


@pytest.fixture
def maker(page):
    page.goto("/shelf/makers/clumped/")
    seen(page)
    return page


def shown(page) -> str:
    return page.locator("[data-picture]").evaluate("box => box.style.backgroundImage")


def seen(page, other_than: str = "") -> str:
    """Wait for a picture; its address."""
    until(
        page,
        f"""() => {{
        const shown = document.querySelector('[data-picture]').style.backgroundImage;
        return shown && shown !== {other_than!r};
    }}""",
    )
    return shown(page)


def test_a_setting_that_moves_draws_anew_and_lengths_are_told_in_mm(maker):
    before = shown(maker)
    raised = maker.get_by_label("Raised")
    raised.focus()
    maker.keyboard.press("End")
    after = seen(maker, before)
    assert "raised=1" in after and "size_px=13" in after
    maker.get_by_label("Lengths in").select_option("mm")
    clumps = maker.get_by_label("Clumps, mm")
    expect(clumps).to_have_value("1.1")  # 13 px at 300 ppi: 13 * 25.4 / 300
    clumps.fill("2.54")
    assert "size_px=30" in seen(maker, after)


@pytest.mark.parametrize("way, told", [("Tiled", "no seam"), ("Coating", "coat over a word")])
def test_it_is_looked_at_in_other_ways_by_keyboard(maker, way, told):
    before = shown(maker)
    button = maker.get_by_role("button", name=way)
    button.focus()
    maker.keyboard.press("Enter")
    if way == "Coating":
        assert "on=coat" in seen(maker, before)
    expect(button).to_have_attribute("aria-pressed", "true")
    expect(maker.locator("[data-told]")).to_contain_text(told)


def test_starting_points_seeds_and_more_like_it_are_taken(maker):
    before = shown(maker)
    others = maker.locator(".maker-wall button")
    expect(others).to_have_count(3)
    others.filter(has_text="Rough cast").click()
    rough = seen(maker, before)
    assert "raised=0.9" in rough and "size_px=26" in rough
    maker.get_by_role("button", name="Nine seeds").click()
    expect(others).to_have_count(9)
    seed = int(maker.get_by_label("Seed", exact=True).input_value())
    others.nth(3).click()
    assert f"seed={seed + 4}" in seen(maker, rough) and "raised=0.9" in shown(maker)
    at = shown(maker)
    maker.get_by_role("button", name="More like this").click()
    expect(others.first).to_contain_text("Like it")
    others.nth(2).click()
    assert "raised=0.9&" not in seen(maker, at)


def test_it_is_kept_with_its_height(maker):
    maker.get_by_label("Name", exact=True).fill("Hold wall")
    for side in ("Width, px", "Height, px"):
        maker.get_by_label(side).fill("192")
    maker.get_by_label("Its height").check()
    maker.get_by_role("button", name="Keep it on the shelf").click()
    maker.wait_for_url("**/shelf/")
    card = maker.locator(".texture-card", has_text=re.compile("Hold wall, height"))
    expect(card).to_be_visible(timeout=60_000)


def test_without_the_server_the_last_picture_stands_and_it_is_said(maker):
    before = shown(maker)
    maker.route("**/trial.jpg*", lambda route: route.abort())
    maker.get_by_label("Joined").press("End")
    expect(maker.locator("[data-told]")).to_contain_text("No picture came")
    assert shown(maker) == before
