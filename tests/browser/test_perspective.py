"""Marks set in perspective by hand: four corners, a cylinder, and how large the surface is."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from kilncore.document import load
from kilncore.layout.layout import Layout
from tests.browser.driver import until
from tests.browser.test_access import faults

pytestmark = pytest.mark.browser


@pytest.fixture
def words(bench):
    """The words chosen, bare."""
    bench.tab("PELLWICK")
    bench.step("Bare")
    return bench


def perspective(bench):
    return bench.mark("PELLWICK")["placement"]["perspective"]


def ring(bench):
    return np.array(bench.told["boxes"][bench.mark("PELLWICK")["id"]]["ring"])


def way(bench, name):
    bench.page.locator(f"[data-way={name}]").click()
    bench.settle()
    expect(bench.page.locator(f"[data-way={name}]")).to_have_attribute("aria-pressed", "true")


def drag_corner(bench, number, by, pause=None):
    box = bench.page.locator(f"[data-corner='{number}']").bounding_box()
    at = box["x"] + box["width"] / 2, box["y"] + box["height"] / 2
    bench.drag(at, (at[0] + by[0], at[1] + by[1]), pause)


def test_four_corners_are_dragged_and_what_crosses_is_refused(words):
    page, flat = words.page, words.picture()
    way(words, "corners")
    expect(page.locator("#overlay .corner")).to_have_count(4)
    assert np.abs(words.picture() - flat).mean() < 0.3
    assert faults(page) == []
    before, zoom = (
        ring(words),
        page.evaluate("Alpine.$data(document.getElementById('bench')).bench().stage.view.zoom"),
    )
    stage = page.locator("#stage")
    drag_corner(
        words, 1, (-70, 24), lambda: expect(stage).to_have_attribute("data-quality", "draft")
    )
    words.settle()
    moved = ring(words) - before
    np.testing.assert_allclose(moved[1], np.array([-70, 24]) / zoom, atol=2 / zoom)
    np.testing.assert_allclose(moved[[0, 2, 3]], 0, atol=0.01)
    expect(page.locator("[data-laid] .reading").first).to_contain_text("times as large")
    assert np.abs(words.picture() - flat).mean() > 1
    kept, shown = words.document, words.picture()
    drag_corner(words, 0, (560, 120), lambda: expect(page.locator(".laid.crossed")).to_be_visible())
    expect(page.locator(".trouble")).to_contain_text("Drag this corner back")
    assert words.document == kept
    words.settle()
    assert np.abs(words.picture() - shown).max() == 0
    page.keyboard.press("Control+z")
    words.settle()
    np.testing.assert_allclose(ring(words), before, atol=0.01)


def test_a_corner_goes_by_keys_and_the_mark_still_moves(words):
    page = words.page
    way(words, "corners")
    before, known = ring(words), words.told["version"]
    corner = page.locator("[data-corner='2']")
    corner.focus()
    for key in ("ArrowRight", "Shift+ArrowDown"):
        page.keyboard.press(key)
    version = "Alpine.$data(document.getElementById('bench')).bench().session.version"
    until(page, f"{version} > {known}")
    words.settle()
    np.testing.assert_allclose(ring(words) - before, [(0, 0), (0, 0), (1, 10), (0, 0)], atol=0.01)
    expect(page.locator("[data-corner='2']")).to_be_focused()
    before, middle = ring(words), ring(words).mean(0)
    words.drag(words.at(*middle), words.at(middle[0] + 80, middle[1] - 40))
    words.settle()
    moved = ring(words) - before
    np.testing.assert_allclose(moved, np.tile(moved[0], (4, 1)), atol=0.01)
    assert abs(moved[0][0] - 80) < 3 and abs(moved[0][1] + 40) < 3


def test_words_are_written_where_they_lie_in_the_plane(words):
    page = words.page
    way(words, "corners")
    drag_corner(words, 1, (-60, 40))
    words.settle()
    corners = np.array([words.at(*corner) for corner in ring(words)])
    page.mouse.dblclick(*corners.mean(0))
    field = page.locator(".words-on-piece")
    expect(field).to_be_visible()
    assert "matrix3d" in field.evaluate("field => field.style.transform")
    box = field.bounding_box()
    middle = box["y"] + box["height"] / 2
    assert abs(middle - corners[:, 1].mean()) < 0.3 * np.ptp(corners[:, 1])
    assert box["x"] < corners[0, 0] + 8 and box["x"] + box["width"] > corners[1, 0] - 8
    page.keyboard.press("End")
    page.keyboard.type("S")
    page.keyboard.press("Escape")
    until(page, "!document.querySelector('.words-on-piece')")
    words.settle()
    assert any(one.get("art", {}).get("text") == "PELLWICKS" for one in words.document["stack"])


def test_wrapped_round_a_cylinder_live_and_laid_flat_again(words):
    page, flat = words.page, words.picture()
    way(words, "round")
    expect(page.locator("[data-laid] .reading").first).to_have_text("It goes 120° round.")
    for label, value in (("Seen from above", "30"), ("Radius", "200")):
        field = page.locator("[data-laid] .field", has_text=label).locator("input[type=number]")
        field.fill(value)
        field.press("Enter")
        words.settle()
    assert (perspective(words)["tilt_deg"], perspective(words)["radius"]["value"]) == (30, 200)
    expect(page.locator("[data-laid] .reading").first).to_contain_text("out of sight")
    assert faults(page) == []
    assert np.abs(words.picture() - flat).mean() > 1
    way(words, "flat")
    assert perspective(words) is None
    np.testing.assert_allclose(words.picture(), flat, atol=1)


def test_a_texture_is_placed_where_it_lies_in_the_surface(words):
    """Dragged from one corner of a plane to another, it goes as far as the plane does there."""
    page = words.page
    way(words, "corners")
    drag_corner(words, 1, (-40, 30))
    words.settle()
    words.step("Wear")
    page.locator(".line summary", has_text="Texture's place").click()
    page.locator("[data-place-texture]").click()
    corners = ring(words)
    start, end = corners[0] * 0.7 + corners[2] * 0.3, corners[0] * 0.3 + corners[2] * 0.7
    words.drag(words.at(*start), words.at(*end))
    words.settle()
    place = words.mark("PELLWICK")["treatment"][0]["params"]["placement"]
    document = load(words.document)
    mark = document.item(words.mark("PELLWICK")["id"])
    flat = Layout(document).projection(mark).flat_of([start, end])
    moved = flat[1] - flat[0]  # the words are not turned
    assert (place["x"]["value"], place["y"]["value"]) == pytest.approx(moved, abs=6)
    assert abs(np.hypot(*moved) - np.hypot(*(end - start))) > 8


def test_how_large_the_surface_is_is_measured_by_two_clicks(words):
    page = words.page
    words.tab("Ground")
    page.locator("[data-measure-surface]").click()
    for at in ((100, 100), (100, 400)):
        page.mouse.click(*words.at(*at))
    dialog = page.locator("#surface-dialog")
    expect(dialog.locator("[data-surface-px]")).to_have_value(re.compile("^(29|30)"))
    dialog.locator("[data-take-surface]").click()
    expect(dialog.locator(".warning-text")).to_contain_text("above 0")
    dialog.locator("[data-surface-px]").fill("300")
    dialog.locator("[data-long-mm]").fill("1.5")
    dialog.locator("[data-surface-unit]").select_option("m")
    assert faults(page) == []
    dialog.locator("[data-take-surface]").click()
    words.settle()
    assert words.document["surface"] == {"px": 300, "mm": 1500}
    expect(page.locator(".of-surface .reading")).to_contain_text("1 mm in print is 59 mm there")
    words.tab("PELLWICK")
    expect(page.locator("#sheet")).to_contain_text(re.compile(r"\d mm in print"))
    expect(page.locator("#sheet")).to_contain_text("on the surface")
    page.keyboard.press("Control+z")
    words.settle()
    assert words.document["surface"] is None
    words.tab("Ground")
    page.locator("[data-measure-surface]").click()
    for _ in range(2):
        page.mouse.click(*words.at(300, 300))
    expect(page.locator(".trouble")).to_contain_text("farther apart")
