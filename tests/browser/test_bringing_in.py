"""What a designer brings in: dropped, pasted, chosen; knocked out, inked, parted, recoloured."""

import base64
import re

import numpy as np
import pytest
from playwright.sync_api import expect

from kilnmark.demo import ART
from tests.browser.driver import Bench, late, until
from tests.pdfs import LOCKED, TWO
from tests.pictures import jpeg, png

ICONS = ("bell", "anchor", "lantern", "rope", "cup", "berth", "key", "gull")
DROP = """([selector, files, x, y]) => {
    const data = new DataTransfer();
    for (const [name, coded, type] of files) {
        const bytes = Uint8Array.from(atob(coded), (c) => c.charCodeAt(0));
        data.items.add(new File([bytes], name, { type }));
    }
    const target = document.querySelector(selector);
    const { left, top } = target.getBoundingClientRect();
    for (const kind of ['dragover', 'drop']) {
        target.dispatchEvent(new DragEvent(kind, { bubbles: true, cancelable: true,
            dataTransfer: data, clientX: left + x, clientY: top + y }));
    }
}"""
PASTE = """([text, files]) => {
    const data = new DataTransfer();
    if (text) data.setData('text/plain', text);
    for (const [name, coded, type] of files) {
        const bytes = Uint8Array.from(atob(coded), (c) => c.charCodeAt(0));
        data.items.add(new File([bytes], name, { type }));
    }
    document.body.dispatchEvent(new ClipboardEvent('paste',
        { bubbles: true, cancelable: true, clipboardData: data }));
}"""


def coded(*named) -> list:
    return [[name, base64.b64encode(data).decode(), ""] for name, data in named]


@pytest.fixture
def fresh(page, server):
    """A new piece of 1200 x 800 px on plain stock."""
    page.goto("/pieces/start/")
    page.get_by_label("Title").fill("Brought in")
    page.get_by_label("Width").fill("1200")
    page.get_by_label("Height").fill("800")
    page.get_by_role("button", name="Start", exact=True).click()
    page.wait_for_url(re.compile("/pieces/[0-9a-f-]{36}/"))
    made = Bench(page, page.url.rstrip("/").rsplit("/", 1)[1])
    made.settle()
    return made


def drop(bench, *named, on="#stage", at=(200, 150)):
    before = bench.told["version"]
    bench.page.evaluate(DROP, [on, coded(*named), *at])
    until(
        bench.page,
        f"Alpine.$data(document.getElementById('bench')).bench().session.version > {before}",
    )
    bench.settle()


def paste(bench, text="", *named):
    before = bench.told["version"]
    bench.page.evaluate(PASTE, [text, coded(*named)])
    until(
        bench.page,
        f"Alpine.$data(document.getElementById('bench')).bench().session.version > {before}",
    )
    bench.settle()


def sheet(bench):
    return bench.page.locator("#sheet")


def near(picture, colour, away=10) -> float:
    """The share of the picture that has a colour."""
    rgb = [int(colour[i : i + 2], 16) for i in (1, 3, 5)]
    return float((np.abs(picture - rgb).max(2) < away).mean())


def test_a_picture_is_dropped_and_knocked_out(fresh):
    drop(fresh, ("badge-on-paper.jpg", (ART / "badge-on-paper.jpg").read_bytes()))
    page = fresh.page
    told = "Its plain background is knocked out, and 1 hole that is as plain."
    expect(sheet(fresh).get_by_text(told)).to_be_visible()
    page.locator("[data-bring-back]").click()
    fresh.settle()
    white = near(fresh.picture(), "#fbfaf8", 6)
    assert white > 0.1
    expect(page.get_by_role("tab", name="badge on paper")).to_be_visible()
    sheet(fresh).get_by_role("button", name="Knock it out").click()
    expect(sheet(fresh).get_by_role("heading", name="Knock out")).to_be_visible()
    fresh.settle()
    assert near(fresh.picture(), "#fbfaf8", 6) < 0.002  # what lies within the ring too
    sheet(fresh).get_by_label("And holes that are as plain").click()
    fresh.settle()
    outside = near(fresh.picture(), "#fbfaf8", 6)
    assert 0.02 < outside < white / 1.5  # what lies within the ring is not reached from the border
    sheet(fresh).get_by_label("Only what touches the border").click()
    fresh.settle()
    assert near(fresh.picture(), "#fbfaf8", 6) < 0.002
    assert near(fresh.picture(), "#1f3a5f", 12) > 0.03
    # one more colour, picked on the picture: the moon goes
    gold = near(fresh.picture(), "#d9912b", 16)
    source = sheet(fresh).locator("[data-source]").first
    expect(source).to_be_visible()
    until(page, "document.querySelector('#sheet [data-source]').width > 320")
    box = source.bounding_box()
    source.click(position={"x": box["width"] * 0.36, "y": box["height"] * 0.4})
    fresh.settle()
    (operation,) = fresh.document["stack"][0]["art"]["chain"]
    assert len(operation["colours"]) == 2
    assert gold > 0.012 and near(fresh.picture(), "#d9912b", 16) < gold / 10
    for _ in range(4):
        page.keyboard.press("Control+z")
        fresh.settle()
    assert near(fresh.picture(), "#fbfaf8", 6) == pytest.approx(white, abs=0.01)


def test_tolerance_is_dragged_as_a_draft_and_kept_when_let_go(fresh):
    pixels = np.full((300, 400, 3), 250, np.uint8)
    pixels[100:200, 100:200] = 235
    pixels[100:200, 220:320] = (30, 60, 110)
    drop(fresh, ("seal.png", png(pixels)))
    expect(
        sheet(fresh).get_by_label("Tolerance", exact=True)
    ).to_be_visible()  # it came in knocked out
    fresh.settle()
    both = fresh.picture()
    slider = sheet(fresh).get_by_label("Tolerance", exact=True)
    slider.fill("1")
    fresh.settle()
    assert near(fresh.picture(), "#ebebeb", 3) > 0.008 > near(both, "#ebebeb", 3)
    assert fresh.document["stack"][0]["art"]["chain"][0]["tolerance"] == pytest.approx(0.01)


def test_ink_is_taken_from_paper(fresh):
    drop(fresh, ("deck-lamp-in-ink.jpg", (ART / "deck-lamp-in-ink.jpg").read_bytes()))
    stock = near(fresh.picture(), "#f4f0e7", 6)
    sheet(fresh).get_by_role("button", name="Ink from paper").click()
    expect(sheet(fresh).get_by_role("heading", name="Ink from paper")).to_be_visible()
    fresh.settle()
    sheet(fresh).get_by_label("Even out the light first").click()
    fresh.settle()
    inked = near(fresh.picture(), "#f4f0e7", 6)
    assert inked > stock + 0.1
    sheet(fresh).get_by_label("One colour for all ink").click()
    fresh.settle()
    hex_field = sheet(fresh).get_by_label("Colour in hex")
    hex_field.fill("#c2451a")
    hex_field.press("Enter")
    fresh.settle()
    assert near(fresh.picture(), "#c2451a", 30) > 0.01


def test_an_svg_is_parted_by_colour(fresh):
    drop(fresh, ("moon-badge.svg", (ART / "moon-badge.svg").read_bytes()))
    before = fresh.picture()
    sheet(fresh).get_by_role("button", name="Part by colour").click()
    expect(fresh.page.get_by_role("tab")).to_have_count(4)  # ground, two parts, whole piece
    fresh.settle()
    assert np.abs(fresh.picture() - before).mean() < 0.5
    stack = fresh.document["stack"]
    assert [one["art"]["shown"]["paints"] for one in stack] == [["#e3b04b"], ["#efe8d6"]]
    fresh.page.keyboard.press("Control+z")
    fresh.settle()
    assert len(fresh.document["stack"]) == 1


def test_a_colour_of_a_drawing_is_replaced_by_one_of_the_piece(fresh):
    paste(fresh, "PELLWICK")
    drop(fresh, ("moon-badge.svg", (ART / "moon-badge.svg").read_bytes()))
    gold = near(fresh.picture(), "#e3b04b", 4)
    bar = sheet(fresh).locator(".colour-bar")
    bar.get_by_role("button", name=re.compile("^#e3b04b")).click()
    bar.get_by_role("button", name="Take #20262a").click()
    fresh.settle()
    assert fresh.document["stack"][-1]["art"]["recolour"] == [{"old": "#e3b04b", "new": "#20262a"}]
    assert gold > 0.02 and near(fresh.picture(), "#e3b04b", 4) < 0.001
    bar.get_by_role("button", name="As it was").click()
    fresh.settle()
    assert near(fresh.picture(), "#e3b04b", 4) == pytest.approx(gold, abs=0.002)


def test_a_colour_is_picked_from_the_piece(fresh):
    drop(fresh, ("moon-badge.svg", (ART / "moon-badge.svg").read_bytes()))
    paste(fresh, "PELLWICK")
    page = fresh.page
    sheet(fresh).get_by_role("button", name="Pick from the piece").click()
    expect(page.locator("#stage")).to_have_class(re.compile("picking"))
    page.keyboard.press("Escape")
    expect(page.locator("#stage")).not_to_have_class(re.compile("picking"))
    sheet(fresh).get_by_role("button", name="Pick from the piece").click()
    ys, xs = np.nonzero(np.abs(fresh.picture() - [0xE3, 0xB0, 0x4B]).max(2) < 3)
    spot = len(ys) // 2
    box = page.locator("#picture").bounding_box()
    page.mouse.click(box["x"] + xs[spot] + 0.5, box["y"] + ys[spot] + 0.5)
    fresh.settle()
    assert fresh.mark("PELLWICK")["art"]["colour"] == "#e3b04b"


def test_eight_icons_are_dropped_at_once(fresh):
    drop(fresh, *((f"{name}.svg", (ART / f"{name}.svg").read_bytes()) for name in ICONS))
    stack = fresh.document["stack"]
    assert [one["name"] for one in stack] == list(ICONS)
    assert len({one["placement"]["scale"] for one in stack}) == 1
    xs = sorted({one["placement"]["x"]["value"] for one in stack})
    ys = sorted({one["placement"]["y"]["value"] for one in stack})
    assert (len(xs), len(ys)) in ((4, 2), (3, 3), (5, 3)) or len(xs) * len(ys) >= 8
    fresh.page.keyboard.press("Control+z")
    fresh.settle()
    assert fresh.document["stack"] == []


def test_words_an_svg_and_a_picture_are_pasted(fresh):
    paste(fresh, "  Night\nferry ")
    assert fresh.document["stack"][-1]["art"]["text"] == "Night\nferry"
    paste(fresh, '<?xml version="1.0"?>\n' + (ART / "gull.svg").read_text())
    assert fresh.document["stack"][-1]["art"]["kind"] == "vector"
    pixels = np.random.default_rng(1).integers(0, 256, (60, 80, 3), dtype=np.uint8)
    paste(fresh, "", ("image.png", png(pixels)))
    assert fresh.document["stack"][-1]["art"]["kind"] == "picture"
    # in a field, paste is the field's own
    fresh.page.locator("#sheet input.number").first.focus()
    fresh.page.evaluate(PASTE.replace("document.body", "document.activeElement"), ["words", []])
    fresh.page.wait_for_timeout(300)
    assert len(fresh.document["stack"]) == 3


def test_what_cannot_be_used_says_why_and_leaves_the_piece(fresh):
    page, before = fresh.page, fresh.told["version"]
    page.evaluate(DROP, ["#stage", coded(("a.png", b"\x89PNG\r\n\x1a\n junk")), 100, 100])
    expect(page.locator(".trouble")).to_contain_text("damaged")
    fresh.settle()
    assert fresh.told["version"] == before
    drop(fresh, ("a.png", b"GIF89a"), ("gull.svg", (ART / "gull.svg").read_bytes()))
    expect(page.locator(".trouble")).to_contain_text("a.png")
    assert len(fresh.document["stack"]) == 1


def test_a_picture_is_dropped_on_the_ground_and_fitted(fresh):
    pixels = np.random.default_rng(2).integers(0, 256, (300, 300, 3), dtype=np.uint8)
    drop(fresh, ("wall.jpg", jpeg(pixels)), on=".tab[data-part='ground']", at=(9, 9))
    assert fresh.document["ground"]["fill"]["kind"] == "picture"
    covered = near(fresh.picture(), "#8b8b8b", 1)
    fresh.tab("Ground")
    sheet(fresh).get_by_label("Fit").select_option("contain")
    fresh.settle()
    assert fresh.document["ground"]["fill"]["fit"] == "contain" and covered < 0.5


def test_a_gradient_is_a_ground_with_stops_by_the_keyboard(fresh):
    fresh.tab("Ground")
    sheet(fresh).get_by_role("button", name="Gradient", exact=True).click()
    fresh.settle()
    top, bottom = fresh.picture()[[2, -3], 100]
    assert np.abs(top - [0x1D, 0x2C, 0x45]).max() < 4
    assert np.abs(bottom - [0xC2, 0x45, 0x1A]).max() < 4
    stop = sheet(fresh).get_by_role("slider", name=re.compile("Stop 2"))
    stop.focus()
    stop.press("Shift+ArrowLeft")
    stop.press("Shift+ArrowLeft")
    until(
        fresh.page,
        "Alpine.$data(document.getElementById('bench')).bench().session.document"
        ".ground.fill.stops[1].at === 0.8",
    )
    fresh.settle()
    sheet(fresh).locator("[data-plot]").click(position={"x": 130, "y": 10})
    fresh.settle()
    assert len(fresh.document["ground"]["fill"]["stops"]) == 3


def test_a_crop_by_the_keyboard_leaves_the_rest_in_place(fresh):
    pixels = np.full((200, 200, 3), (200, 60, 40), np.uint8)
    pixels[:, 100:] = (30, 60, 110)
    drop(fresh, ("flag.png", png(pixels)), at=(300, 200))
    sheet(fresh).get_by_role("button", name="Crop", exact=True).click()
    expect(sheet(fresh).get_by_role("slider", name="Crop, left edge")).to_be_visible()
    fresh.settle()
    number = sheet(fresh).get_by_role("spinbutton", name="left")
    number.fill("50")
    number.press("Enter")
    fresh.settle()
    picture = fresh.picture()
    assert near(picture, "#c83c28") < 0.001 and near(picture, "#1e3c6e") > 0.01
    (operation,) = fresh.document["stack"][0]["art"]["chain"]
    assert operation["left"] == 0.5
    edge = sheet(fresh).get_by_role("slider", name="Crop, top edge")
    edge.focus()
    edge.press("Shift+ArrowDown")
    until(
        fresh.page,
        "Alpine.$data(document.getElementById('bench')).bench().session.document"
        ".stack[0].art.chain[0].top === 0.05",
    )


def test_files_wait_when_nobody_answers(fresh):
    page = fresh.page
    page.route("**/bring-in/", lambda route: route.abort())
    page.evaluate(DROP, ["#stage", coded(("gull.svg", (ART / "gull.svg").read_bytes())), 99, 99])
    expect(page.locator(".saved")).to_have_text("1 change waits to be saved")
    page.unroute("**/bring-in/")
    page.on("dialog", lambda dialog: dialog.accept())
    page.reload()
    expect(page.get_by_role("tab", name="gull")).to_be_visible()
    fresh.settle()
    assert len(fresh.document["stack"]) == 1


def test_a_piece_starts_from_a_dropped_file(page, server):
    page.goto("/pieces/")
    data = (ART / "badge-on-paper.jpg").read_bytes()
    page.evaluate(DROP, ["main", coded(("badge-on-paper.jpg", data)), 99, 99])
    page.wait_for_url(re.compile("/pieces/[0-9a-f-]{36}/"))
    bench = Bench(page, page.url.rstrip("/").rsplit("/", 1)[1])
    bench.settle()
    assert bench.document["size_px"] == [1500, 1500]
    assert bench.document["stack"][0]["art"]["kind"] == "picture"


def test_a_double_click_opens_the_art(fresh):
    paste(fresh, "PELLWICK")
    fresh.tab("Ground")
    place = fresh.document["stack"][0]["placement"]
    fresh.page.mouse.dblclick(*fresh.at(place["x"]["value"], place["y"]["value"]))
    expect(fresh.page.locator(".words-on-piece")).to_be_focused()


def test_files_on_their_way_show_how_far_they_are(fresh):
    page = fresh.page

    late(page, 800, "**/bring-in/")
    named = [(f"{name}.svg", (ART / f"{name}.svg").read_bytes()) for name in ICONS[:3]]
    page.evaluate(DROP, ["#stage", coded(*named), 200, 150])
    coming = page.locator("[data-coming]")
    expect(coming.locator("li")).to_have_count(3)
    expect(coming.locator("b")).to_have_text(re.compile("Bringing in 3 files|3 files being looked"))
    expect(coming.get_by_role("progressbar", name="How far bell.svg is")).to_be_visible()
    fresh.settle()
    expect(coming).to_be_hidden()
    assert len(fresh.document["stack"]) == 3


def test_a_page_of_a_pdf_is_chosen_from_its_pictures(fresh):
    drop(fresh, ("bill.pdf", TWO))
    page = fresh.page
    expect(page.locator("#sheet h2")).to_have_text("PDF page")
    fresh.settle()
    before = fresh.picture()
    second = page.locator("[data-page='1']")
    until(page, "document.querySelector(\"[data-page='1'] img\").naturalWidth > 0")
    second.focus()
    page.keyboard.press("Enter")
    fresh.settle()
    expect(page.locator("[data-page='1']")).to_have_attribute("aria-pressed", "true")
    assert fresh.document["stack"][-1]["art"]["page"] == 1
    assert (fresh.picture() != before).any()
    drop_locked = coded(("locked.pdf", LOCKED))
    page.evaluate(DROP, ["#stage", drop_locked, 100, 100])
    expect(page.locator(".trouble")).to_contain_text("password")
