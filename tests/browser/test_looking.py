"""The wipe, what is off while a key is held, and what was done, in the real interface."""

import base64
import io
import re

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import expect

from tests.browser.test_access import faults
from tests.browser.test_tryouts import comes_to

pytestmark = pytest.mark.browser


def pixels_of(page, canvas: str) -> np.ndarray:
    """(H, W, 3) of a canvas, as it was drawn."""
    url = page.locator(canvas).evaluate("canvas => canvas.toDataURL()")
    data = base64.b64decode(url.split(",")[1])
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB"), np.float32)


def before(page) -> np.ndarray:
    """The earlier picture of the wipe."""
    return pixels_of(page, "#before")


def test_a_wipe_shows_the_step_off_beside_the_piece_as_it_is(bench):
    page = bench.page
    bench.tab("PELLWICK")
    bench.step("Wear")
    now = bench.picture()
    page.keyboard.press("w")
    expect(page.locator("#before")).to_have_attribute("data-drawn", re.compile("without"))
    expect(page.locator("#wipe-before option").first).to_have_text("This step off")
    off = before(page)
    assert off.shape == now.shape and np.abs(off - now).max() > 20
    assert faults(page) == []
    cut = page.locator("#before").evaluate("c => c.style.clipPath")
    grip = page.locator("[data-wipe-grip]")
    expect(grip).to_be_focused()
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Shift+ArrowRight")
    assert page.locator("#before").evaluate("c => c.style.clipPath") != cut
    box = grip.bounding_box()
    at = box["x"] + 14, box["y"] + 14
    bench.drag(at, (at[0] - 120, at[1] + 40))
    moved = grip.bounding_box()
    assert moved["x"] == pytest.approx(box["x"] - 120, abs=8)
    page.locator("#wipe-before").select_option(label="All treatments off")
    expect(page.locator("#before")).to_have_attribute("data-drawn", re.compile("treatments"))
    assert np.abs(before(page) - off).max() > 2
    grip.focus()
    page.keyboard.press("Escape")
    expect(page.locator("#before")).to_be_hidden()
    # what the wipe shows is the engine's own: the stage with the same step off
    page.keyboard.down("n")
    assert comes_to(bench, off, lambda apart: apart < 1)
    expect(page.locator(".telling")).to_have_text("This step off · not what fires")
    page.keyboard.up("n")
    assert comes_to(bench, now, lambda apart: apart < 1)


def test_what_was_done_goes_back_to_any_state(bench):
    page, begun = bench.page, bench.document
    bench.tab("Whole piece")
    for title in ("First title", "Second title"):
        page.get_by_label("Title").fill(title)
        page.get_by_label("Title").press("Tab")
        bench.settle()
    page.locator(".where h1").click()  # out of the field
    page.keyboard.press("h")
    past = page.locator(".past")
    expect(past.first).to_be_visible()
    expect(page.locator(".past[aria-current]")).to_be_focused()
    assert past.count() >= 3 and faults(page) == []
    page.keyboard.press("ArrowRight")
    page.keyboard.press("Enter")
    bench.settle()
    assert bench.document["title"] == "First title" and "Back to" in bench.told["undo"]
    bench.back_to(begun)


def test_all_ways_of_looking_are_in_one_menu(bench):
    page = bench.page
    page.get_by_role("button", name="Compare").press("Enter")
    page.get_by_role("button", name="Wipe line").press("Enter")
    expect(page.locator("[data-wipe-grip]")).to_be_visible()
    page.get_by_role("button", name="Close the wipe").click()
    for name, shown in (
        ("Two versions", "#compare-dialog"),
        ("What was done", "#history-dialog"),
        ("Linen tester", ".tester"),
    ):
        page.get_by_role("button", name="Compare").click()
        page.get_by_role("button", name=name).click()
        expect(page.locator(shown)).to_be_visible()
        assert faults(page) == []
        page.keyboard.press("Escape")
        expect(page.locator(shown)).to_be_hidden()


def test_the_linen_tester_parks_where_it_covers_least_art(bench):
    """Of nine places at the stage's sides none covers less of the marks; it goes out of the way."""
    page = bench.page
    page.keyboard.press("t")
    tester = page.locator(".tester")
    expect(tester).to_be_visible()
    first = tester.bounding_box()
    covered = page.evaluate(
        """() => {
          const { session, stage } = Alpine.$data(document.getElementById("bench")).bench();
          const lens = document.querySelector(".tester"), box = stage.view.box;
          const marks = Object.values(session.snapshot.boxes).map(({ x, y, width, height }) =>
            [-1, 1].map((way) => stage.view.toStage(x + way * width / 2, y + way * height / 2)));
          const art = (left, top) => marks.reduce((sum, [low, high]) => sum
            + Math.max(0, Math.min(left + lens.offsetWidth, high[0]) - Math.max(left, low[0]))
            * Math.max(0, Math.min(top + lens.offsetHeight, high[1]) - Math.max(top, low[1])), 0);
          const ends = [12, box.width - lens.offsetWidth - 12].flatMap((left) =>
            [12, box.height - lens.offsetHeight - 44].map((top) => art(left, top)));
          return [art(lens.offsetLeft, lens.offsetTop), Math.min(...ends)];
        }"""
    )
    assert covered[0] <= covered[1]
    page.mouse.move(first["x"] + first["width"] / 2, first["y"] + first["height"] / 2)
    page.wait_for_timeout(200)
    place = tester.bounding_box()
    assert abs(place["x"] - first["x"]) + abs(place["y"] - first["y"]) > 20
    page.keyboard.press("Escape")


def test_the_linen_tester_shows_the_finished_pixels(bench):
    """What the lens shows is a fired crop, but for its ticks."""
    page = bench.page
    page.keyboard.press("t")
    lens = page.locator(".tester canvas")
    expect(lens).to_have_attribute("data-drawn", re.compile(r"\d+ \d+ 240 240"))
    expect(page.locator(".tester")).to_be_focused()
    page.mouse.move(*bench.at(520, 430))
    expect(lens).to_have_attribute("data-drawn", re.compile(r"(39|40)\d (30|31)\d 240 240"))
    x, y, width, height = map(int, lens.get_attribute("data-drawn").split())
    shown = lens.evaluate("c => [...c.getContext('2d').getImageData(40, 40, 160, 160).data]")
    shown = np.array(shown, np.float32).reshape(160, 160, 4)[..., :3]
    page.locator(".tester").focus()
    page.keyboard.press("Escape")
    expect(page.locator(".tester")).to_be_hidden()
    fitted = page.locator("#picture").evaluate("c => c.width")
    page.keyboard.press("1")
    for _ in range(60):
        page.wait_for_timeout(250)
        if page.locator("#picture").evaluate("c => c.width") != fitted:
            break
    bench.settle()
    page.wait_for_timeout(800)
    bench.settle()
    picture = bench.picture()
    left, top = bench.at(x + 40, y + 40)
    box = page.locator("#picture").bounding_box()
    at = round(left - box["x"]), round(top - box["y"])
    same = picture[at[1] : at[1] + 160, at[0] : at[0] + 160]
    tall, wide = same.shape[:2]  # as far as the stage shows it
    assert min(tall, wide) > 90 and np.abs(same - shown[:tall, :wide]).max() < 2
    assert faults(page) == []
    page.keyboard.press("0")


def test_the_difference_of_two_versions_in_ember_and_in_words(bench):
    page = bench.page
    bench.tab("PELLWICK")
    bench.step("Wear")
    page.keyboard.press("v")
    page.locator("[data-difference]").click()
    page.locator("#version-1").select_option(label="This step off")
    told = page.locator("[data-difference-told]")
    expect(told).to_have_text(re.compile(r"(\d+|Less than 1) % of the pixels shown changed, by"))
    assert faults(page) == []
    pixels = pixels_of(page, "[data-apart] canvas")
    grey = np.ptp(pixels, axis=2) == 0
    share = int(re.search(r"(\d+) %", told.text_content()).group(1))
    assert 100 * (1 - grey.mean()) == pytest.approx(share, abs=1.5)
    page.locator("#version-1").select_option(label="As it is")
    expect(told).to_have_text("No pixel shown here changed.")
    page.locator("[data-beside-view]").click()
    expect(page.locator("[data-pane] canvas").first).to_be_visible()
    page.keyboard.press("Escape")


def test_the_pictures_of_the_strip_show_one_area_and_the_piece_up_to_them(bench):
    page = bench.page
    bench.tab("PELLWICK")
    picture = page.locator("#strip .frame img").nth(1)
    whole = picture.get_attribute("src")
    page.locator("[data-area]").click()
    bench.drag(bench.at(420, 360), bench.at(520, 430))
    expect(page.locator("[data-area]")).to_have_attribute("aria-pressed", "true")
    expect(picture).to_have_attribute("src", re.compile(r"area=4\d\d,"))
    assert picture.evaluate("async image => (await image.decode(), image.naturalWidth)") > 50
    bench.tab("Ground")
    expect(page.locator("#strip .frame img").first).to_have_attribute("src", re.compile("area="))
    bench.tab("PELLWICK")
    page.locator("[data-area]").click()
    expect(picture).to_have_attribute("src", whole)
    box = page.locator("#strip .frame").nth(1).bounding_box()
    chosen = page.locator('#strip .frame[aria-pressed="true"] b').text_content()
    page.mouse.move(box["x"] + 40, box["y"] + 30)
    page.mouse.down()
    expect(page.locator(".telling")).to_have_text("Part of the way · not what fires")
    page.mouse.up()
    expect(page.locator(".telling")).to_have_text("Exact · this is what fires")
    assert page.locator('#strip .frame[aria-pressed="true"] b').text_content() == chosen


def test_as_large_as_in_print_on_a_screen_that_was_measured(bench):
    page = bench.page
    page.keyboard.press("s")
    expect(page.locator("#screen-dialog")).to_be_visible()
    assert faults(page) == []
    page.locator("[data-long]").fill("450")  # CSS px that are 100 mm here
    page.locator("[data-take-screen]").click()
    scale = 4.5 * 25.4 / bench.document["ppi"]
    expect(page.locator(".zoom output")).to_have_text(f"{round(100 * scale)} %")
    page.keyboard.press("2")
    expect(page.locator(".zoom output")).to_have_text("200 %")
    page.keyboard.press("s")  # measured once
    expect(page.locator(".zoom output")).to_have_text(f"{round(100 * scale)} %")
    page.keyboard.press("0")
