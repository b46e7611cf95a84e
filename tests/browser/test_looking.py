"""The wipe, what is off while a key is held, and what was done, in the real interface."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.test_access import faults
from tests.browser.test_tryouts import comes_to

pytestmark = pytest.mark.browser


def before(page) -> np.ndarray:
    """The earlier picture of the wipe, as it was drawn."""
    import base64
    import io

    from PIL import Image

    url = page.evaluate("document.getElementById('before').toDataURL()")
    data = base64.b64decode(url.split(",")[1])
    return np.asarray(Image.open(io.BytesIO(data)).convert("RGB"), np.float32)


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
