"""Words on the piece, faces, groups, replacing, the bin, treatments dragged: as a designer does."""

import re

import pytest
from playwright.sync_api import expect

from kilnmark.demo import ART
from tests.browser.driver import Bench, until
from tests.documents import lettering, mark, piece, px, step

FIELD = ".words-on-piece"
SESSION = "Alpine.$data(document.getElementById('bench')).bench().session"


def made(page, title, size=(1200, 800)):
    page.goto("/pieces/start/")
    page.get_by_label("Title").fill(title)
    page.get_by_label("Width").fill(str(size[0]))
    page.get_by_label("Height").fill(str(size[1]))
    page.get_by_role("button", name="Start", exact=True).click()
    page.wait_for_url(re.compile("/pieces/[0-9a-f-]{36}/"))
    bench = Bench(page, page.url.rstrip("/").rsplit("/", 1)[1])
    bench.settle()
    return bench


def changed(bench, edits, label="Set up"):
    """Edits made at once, as a control makes them."""
    bench.page.evaluate(
        """([edits, label]) => Alpine.$data(document.getElementById('bench')).bench()
            .session.change(edits, label, { reload: true })""",
        [edits, label],
    )
    bench.settle()


@pytest.fixture
def words(page, server):
    """A piece with three words, one of them with five steps."""
    bench = made(page, "Words")
    steps = [
        step("soften", radius=px(0.6)),
        step("grain", "overlay", amount=8, size=px(2)),
        step("soften", radius=px(0.4)),
        step("grain", "screen", amount=4, size=px(1)),
        step("soften", radius=px(0.3)),
    ]
    marks = [
        mark(lettering("FERRY", 130, "#22303c"), 400, 200, steps),
        mark(lettering("QUAY", 90, "#a03020"), 400, 420),
        mark(lettering("BERTH", 90, "#204060"), 800, 600),
    ]
    for one in piece(*marks).model_dump(mode="json")["stack"]:
        changed(bench, [{"op": "add_mark", "mark": one}])
    bench.page.reload()
    bench.settle()
    return bench


def middle(bench, text):
    box = bench.told["boxes"][bench.mark(text)["id"]]
    return bench.at(box["x"], box["y"])


def write(bench, text):
    bench.page.mouse.dblclick(*middle(bench, text))
    expect(bench.page.locator(FIELD)).to_be_focused()
    return bench.page.locator(FIELD)


def test_words_are_edited_on_the_piece_after_five_steps(words):
    bench, keys = words, words.page.keyboard
    before = bench.mark("FERRY")
    field = write(bench, "FERRY")
    expect(field).to_have_value("FERRY")
    keys.press("End")
    keys.type(" LINE")
    keys.press("Escape")
    expect(field).to_have_count(0)
    bench.settle()
    after = bench.mark("FERRY LINE")
    assert after["treatment"] == before["treatment"] and len(after["treatment"]) == 5
    expect(bench.page.locator("#sheet textarea")).to_have_value("FERRY LINE")
    bench.page.get_by_role("button", name="Undo").click()
    bench.settle()
    assert bench.mark("FERRY") == before


def test_the_field_lies_on_the_letters(words):
    """The browser sets them as we do: the caret stands at the letters' own places, to 2 px."""
    bench = words
    field = write(bench, "FERRY")
    box = bench.told["boxes"][bench.mark("FERRY")["id"]]
    zoom = bench.page.evaluate(
        "Alpine.$data(document.getElementById('bench')).bench().stage.view.zoom"
    )
    measured = lambda: field.evaluate(  # noqa: E731
        """(field) => { const c = document.createElement('canvas').getContext('2d');
            const s = getComputedStyle(field);
            c.font = `${s.fontSize} ${s.fontFamily}`; return c.measureText(field.value).width; }"""
    )
    for _ in range(200):  # until its face has come
        if abs(measured() - box["width"] * zoom) < 2:
            break
        bench.page.wait_for_timeout(100)
    assert measured() == pytest.approx(box["width"] * zoom, abs=2)
    shown = field.bounding_box()
    x, y = bench.at(box["x"], box["y"])
    assert shown["x"] + shown["width"] / 2 == pytest.approx(x, abs=2)
    assert shown["y"] < y < shown["y"] + shown["height"]


def test_what_is_typed_is_stored_while_one_writes_and_pasting_selecting_and_lines_work(words):
    bench, keys = words, words.page.keyboard
    field = write(bench, "QUAY")
    keys.type("SEA")
    keys.press("Enter")
    keys.insert_text("WALL 7")
    until(
        bench.page,
        f"() => {SESSION}.document.stack.some((m) => m.art.text === 'SEA\\nWALL 7')",
    )
    expect(field).to_be_focused()
    keys.press("Shift+Home")
    keys.press("Delete")
    bench.page.mouse.click(*bench.at(1150, 40))
    expect(field).to_have_count(0)
    bench.settle()
    assert bench.mark("SEA\n")


def test_the_strip_waits_for_a_pause_while_one_writes(words):
    """Every letter is stored; the strip and the sheet are told once, and name the words then."""
    bench, asked = words, []
    field = write(bench, "QUAY")
    bench.page.on("request", lambda one: asked.append(one.url))
    for count, letter in enumerate("SEASONS", 1):
        bench.page.keyboard.type(letter)
        typed = "SEASONS"[:count]
        until(
            bench.page,
            f"() => {SESSION}.document.stack.some((m) => m.art.text === '{typed}')",
        )
    # none on a machine with time; one or two where storing a letter takes as long as a pause
    assert len([one for one in asked if "/strip/?" in one]) <= 2
    bench.page.keyboard.press("Escape")
    expect(field).to_have_count(0)
    bench.settle()
    expect(bench.page.get_by_role("tab", name="SEASONS")).to_have_count(1)
    assert [one for one in asked if "/strip/?" in one]


def test_keys_of_the_bench_are_letters_while_one_writes(words):
    bench = words
    write(bench, "QUAY")
    bench.page.keyboard.type("bufglo+-01?")
    bench.page.keyboard.press("Control+Enter")
    bench.settle()
    assert bench.mark("bufglo+-01?")
    assert not bench.page.locator("dialog[open]").count()


def test_a_face_is_chosen_from_pictures_of_the_words(words):
    bench, page = words, words.page
    bench.tab("QUAY")
    expect(page.locator("#sheet").get_by_label("Words")).to_have_value("QUAY")
    page.locator("[data-choose-face]").click()
    dialog = page.locator("#face-dialog")
    expect(dialog.locator("[data-face]")).not_to_have_count(0)
    expect(dialog.locator('[data-face="alfa-slab-one"]')).to_be_focused()
    picture = dialog.locator('[data-face="rye"] img')
    assert "text=QUAY" in picture.get_attribute("src")
    until(page, "() => document.querySelector('[data-face=rye] img').naturalWidth > 100")
    page.keyboard.press("ArrowRight")
    page.keyboard.press("ArrowDown")
    expect(dialog.locator('[data-face="anton"]')).to_be_focused()
    until(
        page,
        f"() => {SESSION}.draftEdits.some((edit) => edit.value === 'anton')",
    )
    page.keyboard.press("Escape")
    assert bench.mark("QUAY")["art"]["font"] == "alfa-slab-one"
    page.locator("[data-choose-face]").click()
    dialog.locator('[data-face="fraunces"]').click()
    bench.settle()
    assert bench.mark("QUAY")["art"]["font"] == "fraunces"
    weight = page.locator('[data-axis="wght"]')
    weight.fill("300")
    bench.settle()
    assert bench.mark("QUAY")["art"]["axes"]["wght"] == 300


def test_a_font_of_ones_own_is_brought_in_and_set(words, tmp_path):
    from tests.core.test_font_intake import built

    bench, page = words, words.page
    own, wrong = tmp_path / "harbour.ttf", tmp_path / "wrong.ttf"
    own.write_bytes(built("QUAYBERTH"))
    wrong.write_bytes(b"\0\1\0\0" + bytes(4000))
    bench.tab("QUAY")
    page.locator("[data-choose-face]").click()
    page.locator("[data-font-file]").set_input_files(wrong)
    expect(page.locator("[data-face-trouble]")).to_contain_text("damaged")
    page.locator("[data-font-file]").set_input_files(own)
    newest = page.locator("#face-dialog [data-newest]")
    expect(newest).to_contain_text("Harbour Bold")
    newest.click()
    told = "Alpine.$data(document.getElementById('bench')).bench().session.document.stack"
    until(page, f"{told}.some((mark) => /^[0-9a-f]{{64}}$/.test(mark.art.font))")
    bench.settle()
    assert re.fullmatch("[0-9a-f]{64}", bench.mark("QUAY")["art"]["font"])
    write(bench, "QUAY")
    page.keyboard.press("Escape")


def test_a_group_is_made_worn_nested_and_dissolved(words):
    bench, page = words, words.page
    before = bench.told["boxes"]
    bench.tab("QUAY")
    page.keyboard.down("Shift")
    page.mouse.click(*middle(bench, "BERTH"))
    page.keyboard.up("Shift")
    expect(page.locator("#sheet h2")).to_have_text("2 chosen")
    page.keyboard.press("g")
    bench.settle()
    expect(page.locator("#sheet h2")).to_have_text("Group")
    group = next(item for item in bench.document["stack"] if item["kind"] == "group")
    assert [m["art"]["text"] for m in group["members"]] == ["QUAY", "BERTH"]
    page.locator(".frame-add").click()
    page.locator('[data-add-step="wear"]').click()
    bench.settle()
    bench.tab("FERRY")
    page.locator(".tab[data-part]", has_text="Group of 2").click(modifiers=["Shift"])
    expect(page.locator("#sheet h2")).to_have_text("2 chosen")
    page.keyboard.press("g")
    bench.settle()
    (outer,) = bench.document["stack"]
    assert {member["kind"] for member in outer["members"]} == {"mark", "group"}
    inner = next(member for member in outer["members"] if member["kind"] == "group")
    assert [one["kind"] for one in inner["treatment"]] == ["wear"]
    for name, box in before.items():
        now = bench.told["boxes"][name]
        assert (now["x"], now["y"]) == pytest.approx((box["x"], box["y"]), abs=1e-3)
    page.locator("[data-ungroup]").click()
    bench.settle()
    assert [item["kind"] for item in bench.document["stack"]] == ["mark", "group"]
    tabs = page.locator(".tab[data-mark]")
    tabs.filter(has_text="QUAY").drag_to(
        tabs.filter(has_text="FERRY"), target_position={"x": 4, "y": 10}
    )
    bench.settle()
    assert [item.get("art", {}).get("text") for item in bench.document["stack"]][:1] == ["QUAY"]
    tabs.filter(has_text="QUAY").drag_to(page.locator(".tab[data-group]"))
    bench.settle()
    group = next(item for item in bench.document["stack"] if item["kind"] == "group")
    assert len(group["members"]) == 2


def test_a_frame_chooses_and_what_is_chosen_moves_together_and_lines_up(words):
    bench, page = words, words.page
    bench.drag(bench.at(1100, 760), bench.at(300, 380))
    expect(page.locator("#sheet h2")).to_have_text("2 chosen")
    page.locator('[data-align="left"]').click()
    bench.settle()
    boxes = bench.told["boxes"]
    lefts = [
        boxes[bench.mark(n)["id"]]["x"] - boxes[bench.mark(n)["id"]]["width"] / 2
        for n in ("QUAY", "BERTH")
    ]
    assert lefts[0] == pytest.approx(lefts[1], abs=1e-6)
    before = {n: boxes[bench.mark(n)["id"]] for n in ("QUAY", "BERTH", "FERRY")}
    start = middle(bench, "QUAY")
    page.keyboard.down("Alt")
    bench.drag(start, (start[0] + 60, start[1] + 20))
    page.keyboard.up("Alt")
    bench.settle()
    after = {n: bench.told["boxes"][bench.mark(n)["id"]] for n in before}
    moved = [(after[n]["x"] - before[n]["x"], after[n]["y"] - before[n]["y"]) for n in before]
    assert moved[0] == pytest.approx(moved[1], abs=1e-6) and moved[0][0] > 30 and moved[2] == (0, 0)
    page.keyboard.press("Delete")
    bench.settle()
    assert len(bench.document["stack"]) == 1


def test_a_dragged_mark_snaps_to_anothers_edge(words):
    bench, page = words, words.page
    boxes = bench.told["boxes"]
    quay, ferry = (boxes[bench.mark(n)["id"]] for n in ("QUAY", "FERRY"))
    zoom = page.evaluate("Alpine.$data(document.getElementById('bench')).bench().stage.view.zoom")
    by = (ferry["x"] - ferry["width"] / 2) - (quay["x"] - quay["width"] / 2)
    start = middle(bench, "QUAY")
    end = (start[0] + by * zoom + 3, start[1] + 12)

    def until_it_snaps():
        """A hand goes on until a guide shows."""
        for away in (0, 1, -1, 2, -2, 3, -3, 4):
            page.mouse.move(end[0] + away, end[1])
            page.wait_for_timeout(300)
            if page.locator("#overlay .guide").count():
                return
        raise AssertionError("no guide")

    bench.drag(start, end, pause=until_it_snaps)
    bench.settle()
    now = bench.told["boxes"][bench.mark("QUAY")["id"]]
    assert now["x"] - now["width"] / 2 == pytest.approx(ferry["x"] - ferry["width"] / 2, abs=0.01)


def test_what_is_locked_is_not_moved_and_what_is_left_out_is_not_drawn(words):
    bench, page = words, words.page
    bench.tab("QUAY")
    page.locator("[data-lock]").click()
    expect(page.locator(".tab", has_text="QUAY").locator("svg")).to_be_visible()  # the lock
    bench.settle()
    before = bench.told["boxes"]
    start = middle(bench, "QUAY")
    bench.drag(start, (start[0] + 80, start[1]))
    bench.settle()
    assert bench.told["boxes"] == before
    bench.tab("QUAY")
    picture = bench.picture()
    page.locator("[data-leave-out]").click()
    bench.settle()
    assert bench.mark("QUAY")["left_out"] and abs(bench.picture() - picture).max() > 60
    expect(page.locator(".tab.left-out")).to_have_count(1)


def test_a_picture_of_the_strip_is_dragged_onto_another_tab(words):
    bench, page = words, words.page
    bench.tab("FERRY")
    frames, tabs = page.locator("#strip [data-movable]"), page.locator(".tab[data-mark]")
    frames.nth(1).drag_to(tabs.filter(has_text="QUAY"))
    bench.settle()
    assert [one["kind"] for one in bench.mark("QUAY")["treatment"]] == ["grain"]
    assert (
        bench.mark("QUAY")["treatment"][0]["params"]
        == bench.mark("FERRY")["treatment"][1]["params"]
    )
    bench.tab("FERRY")
    page.locator('#strip [data-step="lands"]').drag_to(tabs.filter(has_text="BERTH"))
    bench.settle()
    kinds = [[one["kind"] for one in bench.mark(n)["treatment"]] for n in ("BERTH", "FERRY")]
    assert kinds[0] == kinds[1] and len(kinds[0]) == 5


def test_art_is_replaced_here_and_everywhere(page, server):
    pieces = []
    for title in ("First", "Second"):
        bench = made(page, title)
        page.locator("[data-add-mark]").click()
        page.locator("[data-art-file]").set_input_files([ART / "bell.svg"])
        bench.settle()
        pieces.append(bench.piece)
    page.locator("[data-replace]").click()
    dialog = page.locator("#replace-dialog")
    dialog.locator("[data-replace-file]").set_input_files([ART / "gull.svg"])
    expect(dialog.locator("[data-newest]")).to_have_attribute("aria-pressed", "true")
    dialog.locator("[data-replace-now]").click()
    bench.settle()
    gull = bench.document["stack"][0]["art"]["hash"]
    bench.open(pieces[0])
    bell = bench.document["stack"][0]["art"]["hash"]
    assert bell != gull
    bench.open(pieces[1])
    page.get_by_role("button", name="Undo").click()
    bench.settle()
    page.locator(".tab[data-mark]").click()
    page.locator("[data-replace]").click()
    dialog.locator("[data-artwork]", has_text="gull").first.click()
    dialog.locator("[data-everywhere]").check()
    expect(dialog.locator("[data-uses]")).to_contain_text("First")
    dialog.locator("[data-replace-now]").click()
    bench.settle()
    assert bench.document["stack"][0]["art"]["hash"] == gull
    bench.open(pieces[0])
    assert bench.document["stack"][0]["art"]["hash"] == gull
    page.get_by_role("button", name="Undo").click()
    bench.settle()
    assert bench.document["stack"][0]["art"]["hash"] == bell
    bench.open(pieces[1])
    assert bench.document["stack"][0]["art"]["hash"] == gull


def test_a_piece_is_thrown_away_and_fetched_back(page, server):
    bench = made(page, "Thrown overboard")
    page.goto("/pieces/")
    page.get_by_role("button", name="Throw Thrown overboard away").click()
    expect(page.locator(".cards")).not_to_contain_text("Thrown overboard")
    assert page.goto(f"/pieces/{bench.piece}/").status == 404
    page.goto("/bin/")
    page.locator("li", has_text="Thrown overboard").get_by_role("button").click()
    page.goto("/pieces/")
    page.get_by_role("link", name="Thrown overboard").click()
    bench.settle()


def test_the_page_is_cropped_scaled_turned_and_undone(words):
    bench, page = words, words.page
    bench.tab("Whole piece")
    page.locator('[data-room="left"]').fill("-100")
    page.locator('[data-room="bottom"]').fill("60")
    page.locator("[data-trim]").click()
    bench.settle()
    assert bench.document["size_px"] == [1100, 860]
    page.locator("[data-turn-right]").click()
    bench.settle()
    assert bench.document["size_px"] == [860, 1100]
    page.locator('[data-side="width"]').fill("430")
    expect(page.locator('[data-side="height"]')).to_have_value("550")
    page.locator("[data-resize]").click()
    bench.settle()
    assert bench.document["size_px"] == [430, 550]
    page.locator('[data-side="width"]').fill("3")
    page.locator("[data-resize]").click()
    expect(page.locator(".trouble")).to_contain_text("A piece has 16 to")
    assert bench.document["size_px"] == [430, 550]
    for _ in range(3):
        page.get_by_role("button", name="Undo").click()
        bench.settle()
    assert bench.document["size_px"] == [1200, 800]


def test_a_backdrop_is_judged_on_and_not_fired(words):
    bench, page = words, words.page
    bench.tab("Ground")
    page.locator('[data-ground="none"]').click()
    bench.settle()
    page.locator('[data-backdrop="black"]').click()
    bench.settle()
    shade = page.evaluate("getComputedStyle(document.getElementById('picture')).backgroundColor")
    assert shade == "rgb(17, 17, 17)" and bench.document["backdrop"] == "black"


def test_a_side_of_the_page_is_dragged_and_moved_by_keys(words):
    bench, page = words, words.page
    bench.tab("Whole piece")
    start = bench.at(1200, 400)
    bench.drag(start, (start[0] - 80, start[1]))
    bench.settle()
    width = bench.document["size_px"][0]
    assert width < 1150 and bench.document["size_px"][1] == 800
    side = page.get_by_role("slider", name="Bottom side of the page")
    side.focus()
    page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("ArrowUp")
    expect(page.locator('[data-room="bottom"]')).to_have_value("9")
    until(page, f"() => {SESSION}.document.size_px[1] === 809")
    bench.settle()
    assert bench.document["size_px"] == [width, 809]
