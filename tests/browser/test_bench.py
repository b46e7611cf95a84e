"""The main job, in the real interface: every line of it that a designer would try."""

import io
import re
import subprocess
import sys
from pathlib import Path
from zipfile import ZipFile

import numpy as np
import pytest
from PIL import Image
from playwright.sync_api import expect

from tests.browser.driver import Bench, late, until
from tests.pictures import png

pytestmark = pytest.mark.browser
ART = Path(__file__).parents[2] / "src" / "kilnmark" / "demo" / "art"


@pytest.fixture
def fresh(page):
    """A piece of one's own, started in the interface: 600 x 400 px."""
    page.goto("/pieces/start/")
    page.get_by_label("Title").fill("Luggage label")
    page.get_by_label("Width").fill("600")
    page.get_by_label("Height").fill("400")
    expect(page.locator("[data-size-told]")).to_contain_text("600 × 400 px")
    page.get_by_role("button", name="Start", exact=True).click()
    page.wait_for_url(re.compile(r"/pieces/[0-9a-f-]{36}/"))
    bench = Bench(page, page.url.split("/")[-2])
    bench.settle()
    return bench


def letter(bench, words="GULL"):
    bench.page.get_by_role("button", name="Mark", exact=True).click()
    bench.page.get_by_label("Lettering").fill(words)
    bench.page.get_by_role("button", name="Set these words").click()
    expect(bench.page.get_by_role("tab", name=words)).to_be_visible()
    bench.settle()


def add_step(bench, title):
    bench.page.get_by_role("button", name="Step", exact=True).click()
    bench.page.locator(
        ".dropdown-item", has=bench.page.locator("b", has_text=re.compile(f"^{title}$"))
    ).click()
    expect(bench.page.locator("#sheet h2")).to_have_text(title)
    bench.settle()


def test_pieces_are_pictures_and_open(page, server):
    page.goto("/pieces/")
    card = page.locator(".piece-card", has_text="Untitled").first
    in_sight = "[...document.images].filter(i => i.getBoundingClientRect().top < innerHeight)"
    until(page, f"{in_sight}.every(i => i.complete && i.naturalWidth > 100)")
    assert page.evaluate(f"{in_sight}.length") > 0
    card.get_by_role("link").click()
    expect(page.locator("#strip .frame").first).to_be_visible()


def test_from_an_empty_piece_to_a_worn_mark(fresh):
    letter(fresh)
    art = (fresh.picture().max(2) < 128).mean()  # dark letters on pale stock
    for title in ("Wear", "Texture coat", "Follow surface", "Soften"):
        add_step(fresh, title)
    assert fresh.titles() == [
        "Bare",
        "Wear",
        "Texture coat",
        "Follow surface",
        "Soften",
        "On the piece",
    ]
    worn = (fresh.picture().max(2) < 128).mean()
    assert 0.3 * art < worn < 0.98 * art  # some of it is gone, and it can still be read
    until(
        fresh.page,
        "[...document.querySelectorAll('#strip .frame img')]"
        ".every(i => i.complete && i.naturalWidth > 50)",
    )


def test_what_is_being_typed_stays_when_the_sheet_is_drawn_anew(fresh):
    """An earlier change brings a new sheet between typing and letting go."""
    letter(fresh)
    page, held = fresh.page, []
    page.route("**/sheet/**", lambda route: held.append(route))
    page.locator("[data-choose-face]").click()
    page.locator('#face-dialog [data-face="anton"]').click()
    field = page.locator("#sheet").get_by_label("Colour in hex")
    for _ in range(80):
        page.wait_for_timeout(100)
        if held:
            break
    assert held
    field.fill("#14646b")
    with page.expect_response("**/sheet/**"):
        for one in held:
            one.continue_()
    page.unroute("**/sheet/**")
    page.wait_for_timeout(300)
    assert field.input_value() == "#14646b"
    field.press("Enter")
    fresh.settle()
    art = fresh.document["stack"][0]["art"]
    assert (art["font"], art["colour"]) == ("anton", "#14646b")


def test_lettering_by_its_fields(fresh):
    letter(fresh)
    sheet = fresh.page.locator("#sheet")
    sheet.get_by_label("Words").fill("NIGHT\nGULL")
    sheet.get_by_label("Words").blur()
    fresh.page.locator("[data-choose-face]").click()
    fresh.page.locator('#face-dialog [data-face="anton"]').click()
    sheet.get_by_label("Alignment").select_option("Left")
    sheet.get_by_label("Tracking, ‰ em").fill("120")
    sheet.get_by_label("Tracking, ‰ em").press("Enter")
    sheet.get_by_label("Colour in hex").fill("#14646b")
    sheet.get_by_label("Colour in hex").press("Enter")
    sheet.locator("summary", has_text="Lines, case and forms").click()
    sheet.get_by_role("slider", name="Line spacing").press("ArrowRight")
    sheet.get_by_label("Case").select_option("Small letters")
    sheet.get_by_label("Kerning").uncheck()
    fresh.settle()
    art = fresh.document["stack"][0]["art"]
    assert (art["text"], art["font"], art["align"], art["tracking"], art["colour"]) == (
        "NIGHT\nGULL",
        "anton",
        "left",
        120,
        "#14646b",
    )
    assert art["line_spacing"] > 1.1 and art["case"] == "small" and not art["kerning"]
    assert (np.abs(fresh.picture() - [0x14, 0x64, 0x6B]).max(2) < 2).sum() > 500


def test_a_length_keeps_its_size_in_another_unit(fresh):
    """90 px at 300 ppi are 7.62 mm."""
    letter(fresh)
    size = fresh.page.locator("#sheet [data-field]", has_text="Size").first
    size.locator(".number").fill("90")
    size.locator(".number").press("Enter")
    fresh.settle()
    before = fresh.picture()
    size.get_by_label("Unit of Size").select_option("mm")
    fresh.settle()
    assert fresh.document["stack"][0]["art"]["size"] == {"value": 7.62, "unit": "mm"}
    assert size.locator(".number").input_value() == "7.62"
    assert np.abs(fresh.picture() - before).max() <= 2


def test_an_svg_and_one_that_cannot_be_used(fresh):
    page = fresh.page
    page.get_by_role("button", name="Mark", exact=True).click()
    page.locator("[data-art-file]").set_input_files(
        {"name": "bad.svg", "mimeType": "image/svg+xml", "buffer": b"<svg"}
    )
    expect(page.locator("[data-mark-trouble]")).to_contain_text("damaged")
    page.locator("[data-art-file]").set_input_files(ART / "anchor.svg")
    expect(page.get_by_role("tab", name="anchor")).to_be_visible()
    page.locator("[data-close]").first.evaluate("b => b.closest('dialog').close()")
    fresh.settle()
    assert len(fresh.document["stack"]) == 1
    assert (np.abs(fresh.picture() - [0x23, 0x3F, 0x73]).max(2) < 2).sum() > 1000


def test_moving_scaling_and_turning_on_the_piece(fresh):
    letter(fresh)
    mark = fresh.document["stack"][0]
    box = fresh.told["boxes"][mark["id"]]
    seen = []
    fresh.drag(
        fresh.at(300, 200),
        fresh.at(237, 151),
        pause=lambda: (
            fresh.page.wait_for_selector("#stage[data-quality=draft]"),
            seen.append(True),
        ),
    )
    fresh.settle()
    place = fresh.document["stack"][0]["placement"]
    assert (
        place["x"]["value"] == pytest.approx(237, abs=2)
        and place["y"]["value"] == pytest.approx(151, abs=2)
        and seen
    )
    assert (
        fresh.page.locator("#sheet").get_by_role("spinbutton", name="Across").input_value()
        == f"{round(place['x']['value'], 2):g}"
    )
    corner = fresh.page.locator("#overlay .grip").nth(2).bounding_box()
    grip = (corner["x"] + corner["width"] / 2, corner["y"] + corner["height"] / 2)
    middle = fresh.at(place["x"]["value"], place["y"]["value"])
    fresh.drag(grip, tuple(m + (g - m) * 1.4 for g, m in zip(grip, middle, strict=True)))
    fresh.settle()
    assert fresh.told["boxes"][mark["id"]]["width"] == pytest.approx(1.4 * box["width"], rel=0.05)
    knob = fresh.page.locator("#overlay .knob").bounding_box()
    fresh.drag((knob["x"] + 8, knob["y"] + 8), (middle[0] + 160, middle[1]))
    fresh.settle()
    assert fresh.document["stack"][0]["placement"]["rotation_deg"] == pytest.approx(90, abs=3)


def test_placing_by_numbers_and_keys(fresh):
    letter(fresh)
    fresh.page.locator("#sheet").get_by_role("spinbutton", name="Across").fill("111")
    fresh.page.locator("#sheet").get_by_role("spinbutton", name="Across").press("Enter")
    fresh.page.locator("#sheet").get_by_role("spinbutton", name="Turn").fill("30")
    fresh.page.locator("#sheet").get_by_role("spinbutton", name="Turn").press("Enter")
    fresh.settle()
    place = fresh.document["stack"][0]["placement"]
    assert (place["x"]["value"], place["rotation_deg"]) == (111, 30)
    fresh.page.locator("#overlay .body").focus()
    for key in ("ArrowRight", "ArrowRight", "Shift+ArrowDown"):
        fresh.page.keyboard.press(key)
    until(fresh.page, "Alpine.$data(document.getElementById('bench')).bench().session.version > 4")
    fresh.settle()
    place = fresh.document["stack"][0]["placement"]
    assert (place["x"]["value"], place["y"]["value"]) == (113, 210)


def test_the_ground_none_colour_texture(fresh):
    fresh.tab("Ground")
    fresh.page.get_by_role("button", name="None", exact=True).click()
    expect(fresh.page.locator("#sheet")).to_contain_text("transparent")
    fresh.page.get_by_role("button", name="Colour", exact=True).click()
    fresh.page.locator("#sheet").get_by_label("Colour in hex").fill("#102030")
    fresh.page.locator("#sheet").get_by_label("Colour in hex").press("Enter")
    fresh.settle()
    np.testing.assert_allclose(fresh.picture().mean((0, 1)), [16, 32, 48], atol=1)
    fresh.page.get_by_role("button", name="Texture", exact=True).click()
    fresh.page.locator("#texture-dialog .choice", has_text="Concrete").click()
    expect(fresh.page.locator("#sheet .texture-field b")).to_have_text("Concrete")
    fresh.settle()
    assert fresh.picture().std() > 8


def test_a_texture_that_is_seen_twice_is_made_endless_and_repeats_again(fresh):
    fresh.tab("Ground")
    fresh.page.get_by_role("button", name="Texture", exact=True).click()
    fresh.page.locator("#texture-dialog .choice", has_text="Concrete").click()
    scale = fresh.page.locator("#sheet").get_by_label("Scale")
    scale.fill("20")
    scale.press("Enter")
    fresh.settle()
    before = fresh.picture()
    expect(fresh.page.locator(".placed-reading")).to_contain_text("times across the page")
    fresh.page.get_by_role("button", name="Make it endless").click()
    beyond = fresh.page.get_by_label("Beyond it")
    expect(beyond).to_have_value("endless")
    fresh.settle()
    texture = fresh.document["ground"]["fill"]["texture"]
    assert [one["kind"] for one in texture["chain"]] == ["endless"]
    assert texture["chain"][0]["piece"] > 0
    assert np.abs(fresh.picture().astype(int) - before).mean() > 1
    expect(fresh.page.locator(".placed-reading")).to_have_count(0)
    beyond.focus()
    beyond.press("ArrowUp")
    beyond.press("ArrowUp")
    fresh.settle()
    assert fresh.document["ground"]["fill"]["texture"]["chain"] == []
    np.testing.assert_array_equal(fresh.picture(), before)


def test_a_texture_is_uploaded_where_it_is_wanted(fresh, rng):
    fresh.tab("Ground")
    fresh.page.get_by_role("button", name="Texture", exact=True).click()
    chooser = fresh.page.locator("[data-texture-file]")
    chooser.set_input_files(
        {"name": "broken.png", "mimeType": "image/png", "buffer": b"\x89PNG\r\n\x1a\nxx"}
    )
    expect(fresh.page.locator("[data-texture-trouble]")).to_contain_text("damaged")
    pixels = rng.integers(100, 120, (80, 90, 3), dtype=np.uint8)
    chooser.set_input_files(
        {"name": "Rust scan.png", "mimeType": "image/png", "buffer": png(pixels)}
    )
    fresh.page.locator("#texture-dialog .choice", has_text="Rust scan").first.click()
    expect(fresh.page.locator("#sheet .texture-field b")).to_have_text("Rust scan")
    fresh.settle()
    assert (
        100 <= fresh.picture().mean() <= 120
        and fresh.document["ground"]["fill"]["texture"]["edges"] == "mirror"
    )


def test_wear_by_its_levels(bench):
    bench.tab("PELLWICK")
    bench.step("Wear")
    point = bench.page.get_by_role("slider", name="Shown from")
    plot = bench.page.locator(".levels-plot").bounding_box()
    grip = point.bounding_box()
    bench.drag((grip["x"] + 11, grip["y"] + 60), (plot["x"] + plot["width"] * 0.9, plot["y"] + 60))
    bench.settle()
    wear = bench.mark("PELLWICK")["treatment"][0]["params"]
    assert wear["white"] == pytest.approx(0.9, abs=0.01)
    before = bench.picture()
    bench.page.get_by_role("slider", name="Hidden up to").focus()
    for _ in range(4):
        bench.page.keyboard.press("Shift+ArrowRight")
    until(
        bench.page,
        "Alpine.$data(document.getElementById('bench')).bench().session.version > "
        f"{bench.told['version']}",
    )
    bench.settle()
    assert bench.mark("PELLWICK")["treatment"][0]["params"]["black"] == pytest.approx(
        wear["black"] + 40 / 255, abs=0.001
    )
    assert np.abs(bench.picture() - before).mean() > 0.01
    bench.page.get_by_label("Invert").check()
    expect(bench.page.locator("[data-low-label]")).to_have_text("shown to")
    bench.settle()
    assert bench.mark("PELLWICK")["treatment"][0]["params"]["invert"] is True


def test_the_texture_is_moved_on_the_piece(bench):
    bench.tab("PELLWICK")
    bench.step("Wear")
    bench.page.locator(".line summary", has_text="Texture's place").click()
    bench.page.locator("[data-place-texture]").click()
    before = bench.mark("PELLWICK")
    bench.drag(bench.at(500, 420), bench.at(560, 390))
    bench.settle()
    after = bench.mark("PELLWICK")
    assert after["placement"] == before["placement"]
    texture = after["treatment"][0]["params"]["placement"]
    assert (texture["x"]["value"], texture["y"]["value"]) == (
        pytest.approx(60, abs=2),
        pytest.approx(-30, abs=2),
    )
    bench.page.locator(".placement label", has_text="Flip across").click()
    bench.page.locator(".placement").get_by_label("Scale").fill("150")
    bench.page.locator(".placement").get_by_label("Scale").press("Enter")
    bench.settle()
    texture = bench.mark("PELLWICK")["treatment"][0]["params"]["placement"]
    assert texture["flip_x"] is True and texture["scale"] == 1.5


def test_steps_are_bypassed_repeated_reordered_and_removed(bench):
    bench.tab("PELLWICK")
    order = bench.titles()
    frames = bench.page.locator("#strip [data-movable]")
    frames.nth(0).drag_to(frames.nth(2))
    expect(bench.page.locator("#strip .frame b").nth(3)).to_have_text("Wear")
    bench.settle()
    bench.page.keyboard.press("Control+z")
    expect(bench.page.locator("#strip .frame b").nth(1)).to_have_text("Wear")
    bench.step("Soften")
    on = bench.page.locator("#step-on")
    on.uncheck()
    expect(bench.page.locator("#strip .frame.off")).to_have_count(1)
    bench.settle()
    bench.page.get_by_role("button", name="Repeat this step").click()
    expect(bench.page.locator("#strip .frame")).to_have_count(len(order) + 1)
    bench.page.get_by_role("button", name="Later").click()
    expect(bench.page.locator("#strip .frame b").nth(4)).to_have_text("Follow surface")
    bench.settle()
    bench.page.get_by_role("button", name="Remove this step").click()
    expect(bench.page.locator("#strip .frame")).to_have_count(len(order))
    for _ in range(4):
        bench.settle()
        bench.page.get_by_role("button", name="Undo").click()
    bench.settle()
    assert bench.titles() == order


def test_marks_are_restacked_by_dragging_tabs(bench):
    names = lambda: bench.page.locator(".tab[data-mark]").all_text_contents()  # noqa: E731
    before = names()
    bench.page.locator(".tab[data-mark]").nth(1).drag_to(
        bench.page.locator(".tab[data-mark]").nth(0)
    )
    expect(bench.page.locator(".tab[data-mark]").first).to_have_text(before[1])
    bench.settle()
    bench.page.get_by_role("button", name="Undo").click()
    expect(bench.page.locator(".tab[data-mark]").first).to_have_text(before[0])


def test_a_mark_is_chosen_on_the_picture(bench):
    bench.tab("Ground")
    bench.page.mouse.click(*bench.at(500, 420))
    expect(bench.page.get_by_role("tab", name="PELLWICK")).to_have_attribute(
        "aria-selected", "true"
    )


def test_how_a_mark_lands(bench):
    bench.tab("PELLWICK")
    bench.step("On the piece")
    before = bench.picture()
    bench.page.get_by_label("Blend mode", exact=True).select_option("Difference")
    bench.settle()
    bench.page.get_by_label("Strength, %").fill("40")
    bench.page.get_by_label("Strength, %").press("Enter")
    bench.settle()
    assert (
        bench.mark("PELLWICK")["landing"].items() >= {"mode": "difference", "strength": 0.4}.items()
    )
    assert np.abs(bench.picture() - before).mean() > 1
    expect(bench.page.locator("#strip .landing span")).to_contain_text("difference, 40 %")


def test_undo_and_redo_survive_a_reload(bench):
    bench.tab("Whole piece")
    first = bench.document["title"]
    bench.page.get_by_label("Title").fill("Deck sign")
    bench.page.get_by_label("Title").press("Enter")
    expect(bench.page.locator(".where h1")).to_have_text("Deck sign")
    bench.settle()
    bench.page.reload()
    bench.settle()
    bench.page.get_by_role("button", name="Undo").click()
    expect(bench.page.locator(".where h1")).to_have_text(first)
    bench.settle()
    bench.page.reload()
    bench.settle()
    bench.page.keyboard.press("Control+Shift+z")
    expect(bench.page.locator(".where h1")).to_have_text("Deck sign")


def test_a_draft_under_the_hand_then_the_exact_picture(bench):
    """While a control moves the draft shows; when it rests, the exact picture; let go, it is
    saved.
    """
    bench.tab("PELLWICK")
    bench.step("Soften")
    version, before = bench.told["version"], bench.picture()
    slider = bench.page.get_by_label("Softness").last
    slider.evaluate("s => { s.value = 9; s.dispatchEvent(new Event('input', { bubbles: true })); }")
    bench.page.wait_for_selector("#stage[data-quality=draft]")
    until(bench.page, "document.querySelector('.telling').textContent === 'Draft'")
    assert bench.told["version"] == version
    slider.evaluate("s => s.dispatchEvent(new Event('change', { bubbles: true }))")
    bench.settle()
    expect(bench.page.locator(".telling")).to_have_text("Exact · this is what fires")
    assert bench.told["version"] == version + 1 and np.abs(bench.picture() - before).mean() > 0.2


def test_what_a_hand_moves_is_at_once_under_it(bench):
    """As a cut-out, while drafts are late; then the draft and the exact picture have its place."""
    page, frame = bench.page, bench.page.locator("#lifted")
    bench.tab("PELLWICK")
    bench.settle()
    page.mouse.move(*bench.at(500, 420))
    until(page, "document.querySelector('#lifted canvas').width > 300")
    late(page, 500, "**/stage/")
    page.mouse.down()
    page.mouse.move(*bench.at(560, 390))
    expect(frame).to_be_visible()
    moved = frame.locator("canvas").last.evaluate("one => new DOMMatrix(one.style.transform).e")
    assert moved > 10 and page.locator("#stage[data-quality=behind]").count()
    expect(frame).to_be_hidden()
    page.mouse.up()
    bench.settle()
    page.unroute("**/stage/")
    expect(frame).to_be_hidden()


def test_letters_show_as_they_are_typed(bench):
    page = bench.page
    bench.tab("PELLWICK")
    bench.settle()
    page.mouse.dblclick(*bench.at(500, 420))
    field = page.locator(".words-on-piece")
    until(page, "document.querySelector('#lifted canvas').width > 300")
    late(page, 700, "**/stage/")
    page.keyboard.press("End")
    page.keyboard.type("S")
    expect(field).to_have_css("color", "rgb(239, 232, 214)")
    expect(page.locator("#lifted")).to_be_visible()
    expect(field).to_have_css("color", "rgba(0, 0, 0, 0)")
    expect(page.locator("#lifted")).to_be_hidden()
    page.unroute("**/stage/")
    page.keyboard.press("Escape")
    bench.settle()
    assert bench.document["stack"][0]["art"]["text"] == "PELLWICKS"


def test_up_to_here_and_bare_art_are_said_not_to_fire(bench):
    bench.tab("PELLWICK")
    bench.step("Wear")
    whole = bench.picture()
    bench.page.locator("#strip .frame").nth(1).focus()
    bench.page.keyboard.down("b")
    expect(bench.page.locator(".telling")).to_contain_text("not what fires")
    assert np.abs(bench.picture() - whole).mean() > 5
    bench.page.keyboard.up("b")
    expect(bench.page.locator(".telling")).to_contain_text("this is what fires")
    bench.page.get_by_role("button", name="up to here").click()
    expect(bench.page.locator(".telling")).to_contain_text("not what fires")


def test_resting_on_a_picture_shows_what_the_step_alone_changed(bench):
    bench.tab("PELLWICK")
    frame = bench.page.locator("#strip .frame", has_text="Wear")
    whole = frame.locator("img").get_attribute("src")
    with bench.page.expect_response(lambda r: "alone" in r.url and r.ok) as asked:
        frame.hover()
    shown = np.asarray(Image.open(io.BytesIO(asked.value.body())), float)
    ember = shown[..., 0] - shown[..., 1] > 25  # all else is grey
    assert 20 < ember.sum() < ember.size / 3
    bench.page.locator(".brand").hover()
    expect(frame.locator("img")).to_have_attribute("src", re.compile(re.escape(whole) + "$"))


def test_true_pixels_and_fit(bench):
    bench.page.get_by_role("button", name="True pixels").click()
    bench.settle()
    expect(bench.page.locator(".zoom")).to_contain_text("100 %")
    assert bench.picture().shape[1] <= 964
    bench.page.get_by_role("button", name="Fit", exact=True).click()
    expect(bench.page.locator(".zoom output")).not_to_have_text("100 %")


def test_two_tabs_do_not_overwrite_each_other(bench, context, piece):
    other = Bench(context.new_page(), piece).open()
    for one, title in ((other, "From the other tab"), (bench, "From this tab")):
        one.tab("Whole piece")
        one.page.get_by_label("Title").fill(title)
        one.page.get_by_label("Title").press("Enter")
        if one is other:
            other.settle()
    expect(bench.page.locator(".where h1")).to_have_text(
        "From this tab"
    )  # made again on the other's
    bench.settle()
    bench.page.get_by_role("button", name="Undo", exact=True).click()
    expect(bench.page.locator(".where h1")).to_have_text("From the other tab")


def test_signed_out_elsewhere_is_said(bench, context):
    context.clear_cookies(name="sessionid")
    bench.page.get_by_role("tab", name="Ground").click()
    expect(bench.page.locator(".trouble")).to_contain_text("You were signed out")


def test_fired_with_and_without_its_ground(bench, tmp_path, server, piece):
    page = bench.page
    for choice, mode in (("With its ground", "RGB"), ("Without its ground", "RGBA")):
        page.get_by_role("button", name="Fire", exact=True).click()
        page.locator("#fire-dialog").get_by_text(choice, exact=True).click()
        page.get_by_role("button", name="Make the file").click()
        with page.expect_download() as waiting:
            page.get_by_role("link", name="Save the PNG").click()
        path = tmp_path / f"{mode}.png"
        waiting.value.save_as(path)
        image = Image.open(path)
        assert (
            image.size == (1000, 700)
            and image.mode == mode
            and image.info["dpi"][0] == pytest.approx(300, abs=0.02)
        )
        page.locator("#fire-dialog [data-close]").click()
    command = [
        sys.executable,
        "-m",
        "kilnmark.cli",
        "fire",
        piece,
        "-o",
        str(tmp_path / "cli.png"),
    ]
    subprocess.run(command, env=server.env, check=True, capture_output=True)
    np.testing.assert_array_equal(
        np.asarray(Image.open(tmp_path / "cli.png")), np.asarray(Image.open(tmp_path / "RGB.png"))
    )
    page.get_by_role("button", name="Fire", exact=True).click()
    page.get_by_label("What", exact=True).select_option("marks")
    expect(page.locator("#fire-dialog").get_by_text("With its ground", exact=True)).to_be_hidden()
    page.get_by_role("button", name="Make the file").click()
    with page.expect_download() as waiting:
        page.get_by_role("link", name="Save the zip").click()
    with ZipFile(waiting.value.path()) as together:
        assert together.namelist() == ["pellwick.png", "mark.png"]
    page.goto("/firings/")
    expect(page.locator(".firings tbody tr")).to_have_count(3)


def test_the_keyboard_reaches_everything_and_shows_where_it_is(bench):
    """Tab through the page: every control gets a visible outline, and none traps the focus."""
    seen = set()
    bench.page.locator("body").press("Tab")
    for _ in range(60):
        name = bench.page.evaluate("""() => {
            const at = document.activeElement, style = getComputedStyle(at);
            if (at === document.body) return '';
            const shown = style.outlineStyle !== 'none' || style.boxShadow !== 'none'
                || at.matches('.body, [type=range], .visually-hidden, [type=hidden]');
            const name = at.ariaLabel || at.title || at.textContent.trim().slice(0, 20);
            return (name || at.id || at.tagName) + (shown ? '' : ' HIDDEN');
        }""")
        assert "HIDDEN" not in name, name
        seen.add(name)
        bench.page.keyboard.press("Tab")
    assert len(seen) > 25


def soften(bench):
    return next(s for s in bench.mark("PELLWICK")["treatment"] if s["kind"] == "soften")["params"][
        "radius"
    ]["value"]


def test_a_killed_server_loses_nothing(bench, server):
    """Changes that are let go while nobody answers wait in order, and are there when the server is
    back.
    """
    bench.tab("PELLWICK")
    bench.step("Soften")
    field = bench.page.locator("#sheet").get_by_label("Softness").first
    field.fill("3.5")
    field.press("Enter")
    bench.settle()
    server.kill()
    for value in ("7", "4.25"):
        field.fill(value)
        field.press("Enter")
    expect(bench.page.locator(".trouble")).to_contain_text("does not answer")
    expect(bench.page.locator(".saved")).to_have_text("2 changes wait to be saved")
    server.start()
    bench.settle()
    assert soften(bench) == 4.25 and bench.told["undo"] == "Softness"
    expect(bench.page.locator(".trouble")).to_be_hidden()
    bench.page.get_by_role("button", name="Undo").click()
    bench.settle()
    assert soften(bench) == 7


def test_what_waits_survives_a_reload_and_an_svg_waits_in_the_same_line(bench, server, context):
    """The page is left with three changes that could not be sent; opened again, it sends them, each
    once.
    """
    page, before = bench.page, bench.told["version"]
    warned = []
    page.on("dialog", lambda dialog: (warned.append(dialog.type), dialog.accept()))
    bench.tab("PELLWICK")
    bench.step("Soften")
    field = page.locator("#sheet").get_by_label("Softness").first
    page.route("**/change/", lambda route: route.abort())
    page.route("**/bring-in/", lambda route: route.abort())
    field.fill("2.5")
    field.press("Enter")
    page.get_by_role("button", name="Mark", exact=True).click()
    page.locator("[data-art-file]").set_input_files(ART / "anchor.svg")
    expect(page.locator(".saved")).to_have_text("2 changes wait to be saved")
    page.unroute("**/change/")
    page.unroute("**/bring-in/")
    page.reload()
    assert warned == ["beforeunload"]
    expect(page.get_by_role("tab", name="anchor")).to_be_visible()
    bench.settle()
    assert soften(bench) == 2.5 and bench.told["version"] == before + 2
    page.reload()
    bench.settle()
    assert bench.told["version"] == before + 2
    page.get_by_role("button", name="Undo").click()
    bench.settle()


def test_a_change_whose_answer_was_lost_is_applied_once(bench):
    """It reached the server, the answer did not reach the page: sent again, it is known."""
    page, before = bench.page, bench.told["version"]
    lost = []

    def lose(route):
        if not lost:
            lost.append(route.fetch())
            return route.abort()
        return route.continue_()

    page.route("**/change/", lose)
    bench.tab("PELLWICK")
    bench.step("Soften")
    page.get_by_role("button", name="Repeat").click()
    expect(page.locator(".trouble")).to_contain_text("does not answer")
    expect(page.locator(".trouble")).to_be_hidden()
    bench.settle()
    assert lost[0].ok and bench.told["version"] == before + 1
    page.get_by_role("button", name="Undo").click()
    bench.settle()


def test_when_a_session_has_ended_one_signs_in_in_place_and_it_goes_on(bench, context):
    page = bench.page
    bench.tab("PELLWICK")
    bench.step("Soften")
    context.clear_cookies(name="sessionid")
    field = page.locator("#sheet").get_by_label("Softness").first
    field.fill("1.75")
    field.press("Enter")
    expect(page.locator(".trouble")).to_contain_text("signed out")
    page.locator(".trouble").get_by_role("button", name="Sign in").click()
    dialog = page.locator("#sign-in-dialog")
    expect(dialog.get_by_label("Name")).to_have_value("purser")
    dialog.get_by_label("Password").fill("wrong")
    dialog.get_by_role("button", name="Sign in").click()
    expect(dialog).to_contain_text("do not go together")
    dialog.get_by_label("Password").fill("night-ferry")
    dialog.get_by_role("button", name="Sign in").click()
    bench.settle()
    assert soften(bench) == 1.75
    expect(page.locator(".trouble")).to_be_hidden()


def test_signing_in_in_another_tab_lets_this_one_go_on(bench, context):
    bench.tab("PELLWICK")
    bench.step("Soften")
    context.clear_cookies()
    field = bench.page.locator("#sheet").get_by_label("Softness").first
    field.fill("1.25")
    field.press("Enter")
    expect(bench.page.locator(".trouble")).to_contain_text("signed out")
    other = context.new_page()
    other.goto("/account/sign-in/")
    other.get_by_label("Name").fill("purser")
    other.get_by_label("Password").fill("night-ferry")
    other.get_by_role("button", name="Sign in").click()
    other.wait_for_url("**/pieces/")
    other.close()
    bench.settle()
    assert soften(bench) == 1.25


def test_a_picture_that_does_not_decode_does_not_stop_the_stage(bench):
    broken = []

    def cut(route):
        if len(broken) < 2:
            broken.append(1)
            return route.fulfill(status=200, content_type="image/png", body=b"\x89PNG cut short")
        return route.continue_()

    bench.page.route("**/stage/", cut)
    bench.tab("PELLWICK")
    bench.step("Soften")
    field = bench.page.locator("#sheet").get_by_label("Softness").first
    field.fill("2")
    field.press("Enter")
    bench.settle()
    assert len(broken) == 2


def test_a_sheet_that_is_drawn_anew_keeps_what_has_the_focus(bench):
    """Fragments are morphed: the very element stays, with its focus; another step has others."""
    page = bench.page
    bench.tab("PELLWICK")
    bench.step("Wear")
    invert = page.locator("#sheet").get_by_label("Invert")
    invert.uncheck()  # an earlier test may have left it on
    bench.settle()
    expect(page.locator("[data-low-label]")).to_have_text("hidden to")
    invert.focus()
    page.evaluate("document.activeElement.wasHere = true")
    invert.press("Space")
    bench.settle()
    expect(page.locator("[data-low-label]")).to_have_text("shown to")
    assert page.evaluate("document.activeElement.wasHere") is True
    page.locator("#strip .frame").nth(1).focus()
    page.evaluate("document.activeElement.wasHere = true")
    page.keyboard.press("Control+z")
    bench.settle()
    expect(page.locator("[data-low-label]")).to_have_text("hidden to")
    assert page.evaluate("document.activeElement.wasHere") is True
    bench.step("Soften")
    bench.step("Wear")
    assert not page.evaluate(
        "[...document.querySelectorAll('#sheet input')].some((i) => i.wasHere)"
    )


def test_a_page_that_came_while_a_change_was_stored_shows_that_change(bench):
    """The answer of the page is held back until another visit has changed the piece."""
    page, before = bench.page, bench.document["title"]
    bench.tab("Whole piece")
    edits = [{"op": "set", "path": ["title"], "value": "Stored meanwhile"}]
    change = {"version": bench.told["version"], "edits": edits, "label": "Title"}
    headers, url, stored = {"X-CSRFToken": bench.csrf, "Referer": bench.url}, bench.url, []

    def overtaken(route):
        answer = route.fetch()  # the page as it was
        if not stored:
            post = page.context.request.post
            stored.append(post(f"{url}change/", headers=headers, data=change).status)
        route.fulfill(response=answer)

    page.route(url, overtaken)
    page.goto(url)
    expect(page.locator(".where h1")).to_have_text("Stored meanwhile")
    page.unroute(url)
    bench.settle()
    assert stored == [200] and bench.document["title"] == "Stored meanwhile"
    page.keyboard.press("Control+z")
    bench.settle()
    assert bench.document["title"] == before
