"""Drawing by hand in the real interface: with a mouse, a pen, by keys; answers that come late or
never, and two tabs.
"""

import json

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.driver import Bench, late, until
from tests.browser.test_access import faults

pytestmark = pytest.mark.browser
PEN = {"button": "left", "pointerType": "pen", "clickCount": 1}
DRAWING = "Alpine.$data(document.getElementById('bench')).bench().drawing"


@pytest.fixture
def drawing(bench):
    """The drawn cup, of which strokes are laid, with the pad up and its pictures there."""
    cup(bench)
    bench.step("On the piece")
    bench.page.locator("#sheet .hand-line > summary").click()
    begin(bench)
    return bench


def cup(bench):
    """The second mark is chosen."""
    bench.page.locator("#strip [role=tab]").nth(2).click()
    expect(bench.page.locator("#strip .frames[aria-busy]")).to_have_count(0)


def begin(bench):
    bench.page.locator("#sheet [data-draw]").first.click()
    expect(bench.page.locator("#hand")).to_be_visible()
    until(bench.page, f"Object.keys({DRAWING}.overlay.ends).length === 2")


def tip(bench, title):
    bench.page.locator("#sheet .hand-tip", has_text=title).first.click()
    bench.page.wait_for_timeout(150)


def touch(bench):
    return bench.document["stack"][1]["landing"]["touch"]


def draw(bench, *places, steps=8):
    """From place to place, document px; what is under the hand before it is lifted."""
    page = bench.page
    page.mouse.move(*bench.at(*places[0]))
    page.mouse.down()
    for place in places[1:]:
        page.mouse.move(*bench.at(*place), steps=steps)
    page.wait_for_timeout(120)
    under = bench.picture()
    page.mouse.up()
    return under


def test_what_is_under_the_hand_is_what_comes_of_it(drawing):
    """At most 8/255 off; hidden, brought back, undone, and there after a reload."""
    before = drawing.picture()
    for title in ("Soft round", "Cork"):
        tip(drawing, title)
        under = draw(drawing, (180, 150), (320, 190), (200, 230))
        drawing.settle()
        exact = drawing.picture()
        assert np.abs(exact - before).max() > 40, title
        off = np.abs(exact - under).max(-1)
        assert (off > 8).mean() < 0.0005 and np.quantile(off, 0.99) <= 4, title
        drawing.page.wait_for_timeout(600)
    assert len(touch(drawing)) == 2
    hidden = drawing.picture()
    drawing.page.locator("#sheet label", has_text="Bring back").first.click()
    tip(drawing, "Soft round")
    under = draw(drawing, (180, 150), (320, 190), (200, 230))
    drawing.settle()
    off = np.abs(drawing.picture() - under).max(-1)
    assert np.quantile(off, 0.999) <= 8
    assert np.abs(drawing.picture() - before).mean() < np.abs(hidden - before).mean()
    kept = touch(drawing)
    drawing.page.keyboard.press("Escape")
    drawing.page.keyboard.press("Control+z")
    drawing.settle()
    assert len(touch(drawing)) == 2
    drawing.page.keyboard.press("Control+Shift+z")
    drawing.settle()
    drawing.open()
    assert touch(drawing) == kept


def test_by_keys_alone(drawing):
    page = drawing.page
    before = drawing.picture()
    page.locator("#hand").focus()
    page.mouse.move(*drawing.at(200, 180))
    page.keyboard.press("Space")
    for _ in range(6):
        page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Space")
    drawing.settle()
    assert len(touch(drawing)) == 1 and np.abs(drawing.picture() - before).max() > 20
    size = float(page.locator("#sheet [data-brush=sizeMm][type=number]").first.input_value())
    page.locator("#hand").focus()
    page.keyboard.press("]")
    page.wait_for_timeout(100)
    grown = float(page.locator("#sheet [data-brush=sizeMm][type=number]").first.input_value())
    assert grown > size
    assert faults(page) == []
    page.keyboard.press("Escape")
    expect(page.locator("#hand")).to_be_hidden()
    page.locator("#sheet [data-take-back]").first.press("Enter")
    drawing.settle()
    assert touch(drawing) == []
    np.testing.assert_array_equal(drawing.picture(), before)


def test_a_pen_presses_and_s_sizes_the_tip(drawing):
    page = drawing.page
    tip(drawing, "Soft round")
    tools = page.context.new_cdp_session(page)
    places = [drawing.at(160 + 20 * n, 190) for n in range(9)]

    def send(kind, n, force):
        x, y = places[n]
        tools.send(
            "Input.dispatchMouseEvent", {"type": kind, "x": x, "y": y, "force": force, **PEN}
        )

    send("mousePressed", 0, 0.2)
    for n in range(1, 9):
        send("mouseMoved", n, n / 9)
    send("mouseReleased", 8, 0)
    drawing.settle()
    (name,) = touch(drawing)
    assert name
    page.locator("#sheet .hand-more > summary").first.click()
    page.locator("#sheet [data-brush=thins][type=number]").first.fill("0")
    wide = drawing.picture()
    page.locator("#sheet [data-take-back]").first.click()
    drawing.settle()
    send("mousePressed", 0, 0.2)
    for n in range(1, 9):
        send("mouseMoved", n, n / 9)
    send("mouseReleased", 8, 0)
    drawing.settle()
    assert len(touch(drawing)) == 1 and touch(drawing) != [name]
    assert np.abs(drawing.picture() - wide).max() > 20
    size = page.evaluate("JSON.parse(localStorage.getItem('kilnmark-hand') ?? '{}').sizeMm ?? 6")
    page.mouse.move(*drawing.at(200, 200))
    page.keyboard.down("s")
    page.mouse.move(*[a + b for a, b in zip(drawing.at(200, 200), (60, 0), strict=True)], steps=4)
    page.keyboard.up("s")
    grown = page.evaluate("JSON.parse(localStorage.getItem('kilnmark-hand')).sizeMm")
    assert grown > 1.3 * size and len(touch(drawing)) == 1


def test_a_rough_tip_turns_with_a_pen_that_leans(drawing):
    page = drawing.page
    tip(drawing, "Torn card")
    tools = page.context.new_cdp_session(page)
    pictures = []
    for tilt in ({"tiltX": 0, "tiltY": 50}, {"tiltX": 50, "tiltY": 0}):
        for kind in ("mousePressed", "mouseReleased"):
            x, y = drawing.at(240, 190)
            told = {"type": kind, "x": x, "y": y, "force": 1, **PEN, **tilt}
            tools.send("Input.dispatchMouseEvent", told)
        drawing.settle()
        pictures.append(drawing.picture())
        (one,) = strokes_of(drawing, ["stack", drawing.document["stack"][1]["id"], "landing"])
        page.locator("#sheet [data-take-back]").first.click()
        drawing.settle()
    assert one["tip"] and np.abs(pictures[0] - pictures[1]).max() > 30


def test_scratches_scrapes_and_one_of_them_taken_back(drawing):
    page = drawing.page
    page.locator("#sheet [data-scratches]").first.click()
    until(page, f"{DRAWING}.session.resting")
    drawing.settle()
    expect(page.locator("#sheet [data-strokes]").first).to_have_attribute("data-strokes", "12")
    tip(drawing, "Cork")
    page.get_by_role("button", name="Scrape edges").first.click()
    page.locator("#sheet .dropdown-item", has_text="All edges").first.click()
    page.wait_for_timeout(300)
    drawing.settle()
    strokes = int(page.locator("#sheet [data-strokes]").first.get_attribute("data-strokes"))
    assert strokes > 14
    scraped = drawing.picture()
    page.locator(
        "#sheet [data-look=hatched]"
    ).click()  # what strokes hide is hatched, as ranges are
    expect(page.locator("#held")).to_be_visible()
    page.locator("#sheet [data-look=hatched]").click()
    expect(page.locator("#held")).to_be_hidden()
    page.locator("#sheet [data-choose]").first.click()
    expect(page.locator("#hand .way")).to_be_attached()
    page.keyboard.press("PageUp")
    page.keyboard.press("Delete")
    page.wait_for_timeout(300)
    drawing.settle()
    expect(page.locator("#sheet [data-strokes]").first).to_have_attribute(
        "data-strokes", str(strokes - 1)
    )
    assert np.abs(drawing.picture() - scraped).max() > 5
    page.locator("#sheet [data-invert]").first.click()
    page.wait_for_timeout(300)
    drawing.settle()
    page.get_by_role("button", name="Clear", exact=True).first.click()
    page.wait_for_timeout(300)
    drawing.settle()
    assert touch(drawing) == []


def test_a_scratch_from_place_to_place(drawing):
    tip(drawing, "Scratch")
    page = drawing.page
    page.mouse.click(*drawing.at(170, 160))
    page.mouse.click(*drawing.at(330, 210))
    until(page, f"{DRAWING}.session.resting && !{DRAWING}.line")
    page.wait_for_timeout(400)
    drawing.settle()
    assert len(touch(drawing)) == 1


def test_a_scratch_by_keys_alone_and_with_the_server_away(drawing):
    tip(drawing, "Scratch")
    page = drawing.page
    pattern = "**/{change,stage}/"
    page.route(pattern, lambda route: route.abort())
    page.mouse.move(*drawing.at(180, 170))
    page.locator("#hand").focus()
    page.keyboard.press("Space")
    for _ in range(5):
        page.keyboard.press("Shift+ArrowRight")
    page.keyboard.press("Space")
    page.get_by_role("button", name="Scrape edges").first.press("Enter")
    page.locator("#sheet .dropdown-item", has_text="Upper left").first.press("Enter")
    expect(page.locator(".saved")).to_contain_text("wait")
    page.unroute(pattern)
    page.evaluate(f"{DRAWING}.session.again()")
    until(page, f"{DRAWING}.session.resting")
    drawing.settle()
    assert len(touch(drawing)) >= 2


def test_strokes_wait_while_nobody_answers_and_come_late(drawing):
    page = drawing.page
    pattern = "**/{change,stage}/"
    page.route(pattern, lambda route: route.abort())
    under = draw(drawing, (180, 150), (320, 190))
    page.wait_for_timeout(500)
    shown = drawing.picture()
    assert np.abs(shown - under).mean() < 1  # it is shown all the while
    draw(drawing, (180, 210), (320, 240))
    expect(page.locator(".saved")).to_contain_text("wait")
    page.unroute(pattern)
    late(page, 500)
    page.evaluate(f"{DRAWING}.session.again()")
    drawing.settle()
    assert len(touch(drawing)) == 2


def test_two_tabs_draw_on_one_landing_and_nothing_is_lost_or_twice(drawing):
    other = Bench(drawing.page.context.new_page(), drawing.piece)
    other.open(drawing.url.rstrip("/").rsplit("/", 1)[1])
    cup(other)
    other.step("On the piece")
    other.page.locator("#sheet .hand-line > summary").click()
    begin(other)
    for n in range(2):
        for aside, one in enumerate((drawing, other)):
            one.page.bring_to_front()
            draw(one, (180, 150 + 20 * n + 50 * aside), (320, 170 + 20 * n))
            one.page.wait_for_timeout(200)
    for one in (drawing, other):
        one.page.bring_to_front()
        until(one.page, f"{DRAWING}.session.resting")
    drawing.page.reload()
    drawing.settle()
    assert len(touch(drawing)) == 4 and len(set(touch(drawing))) == 4
    other.page.close()


def test_below_a_follow_it_is_hatched_and_dabs_add(bench):
    bench.tab("PELLWICK")
    bench.step("Wear")
    page = bench.page
    page.locator("#sheet summary", has_text="How it lands").click()
    page.locator("#sheet .hand-line > summary").click()
    page.locator("#sheet [data-draw]").first.click()
    expect(page.locator("#sheet .hand").first).to_have_attribute("data-bends", "true")
    page.wait_for_timeout(400)
    bench.settle()
    before = bench.picture()
    tip(bench, "Soft round")
    under = draw(bench, (400, 420), (600, 420))
    assert np.abs(under - before).max() > 60
    bench.settle()
    page.keyboard.press("Escape")
    bench.change({"op": "add_step", "part": bench.mark("PELLWICK")["id"], "kind": "dabs"})
    bench.step("Dabs")
    begin(bench)
    page.mouse.move(*bench.at(380, 420))
    draw(bench, (380, 420), (620, 430))
    bench.settle()
    dabs = next(one for one in bench.mark("PELLWICK")["treatment"] if one["kind"] == "dabs")
    assert len(dabs["params"]["strokes"]) == 1 and json.dumps(dabs)


def test_a_tip_that_comes_late_still_draws_what_was_drawn(drawing):
    late(drawing.page, 700, "**/pixels/")
    drawing.page.locator("#sheet .hand-tip", has_text="Sponge").first.click()
    drawing.page.mouse.click(*drawing.at(250, 190))
    until(drawing.page, f"{DRAWING}.session.document.stack[1].landing.touch.length === 1")
    drawing.settle()
    assert len(touch(drawing)) == 1


def test_the_view_may_move_while_the_pen_is_down(drawing):
    page = drawing.page
    page.mouse.move(*drawing.at(180, 160))
    page.mouse.down()
    page.mouse.move(*drawing.at(260, 190), steps=5)
    page.mouse.wheel(0, 60)
    page.mouse.move(*drawing.at(300, 210), steps=5)
    page.mouse.up()
    page.wait_for_timeout(300)
    drawing.settle()
    assert len(touch(drawing)) == 1


def drawn_mark(bench):
    """A mark that is drawn by hand, with the pad up."""
    page = bench.page
    page.locator("[data-add-mark]").click()
    page.get_by_role("button", name="Drawn by hand").click()
    expect(page.locator("#sheet h2")).to_have_text("Drawn by hand")
    page.keyboard.press("Escape")
    bench.settle()
    begin(bench)


def test_a_mark_is_drawn_by_hand_and_grows_with_what_is_drawn(bench):
    drawn_mark(bench)
    before = bench.picture()
    under = draw(bench, (150, 120), (500, 260), (850, 140))
    bench.settle()
    exact = bench.picture()
    assert np.abs(exact - before).max() > 40
    assert (np.abs(exact - under).max(-1) > 8).mean() < 0.001
    art = bench.document["stack"][-1]["art"]
    assert art["kind"] == "drawn" and len(art["strokes"]) == 1
    assert (art["right"] - art["left"]) * 700 == pytest.approx(700, rel=0.2)
    draw(bench, (150, 600), (850, 640))
    bench.settle()
    np.testing.assert_allclose(bench.picture()[:250], exact[:250], atol=1)
    assert len(bench.document["stack"][-1]["art"]["strokes"]) == 2


@pytest.fixture
def curve(bench):
    """A mark that is drawn by hand: a curve through four points that is not ended yet."""
    drawn_mark(bench)
    page = bench.page
    page.locator("#sheet label", has_text="By points").first.click()
    for place in CURVE:
        page.mouse.click(*bench.at(*place))
    return bench


CURVE = ((150, 150), (350, 300), (550, 130), (800, 280))


def strokes_of(bench, path=None):
    """As the page is told them."""
    path = path or ["stack", bench.document["stack"][-1]["id"], "art"]
    asked = f"""async () => (await (await fetch(
        'strokes/?path=' + encodeURIComponent({json.dumps(json.dumps(path))}))).json()).strokes"""
    return bench.page.evaluate(asked)


def ink(bench, x, y):
    """The colour that the stage shows at a place of the piece."""
    shown = bench.page.locator("#picture").bounding_box()
    across, down = bench.at(x, y)
    return bench.picture()[round(down - shown["y"]), round(across - shown["x"])]


def test_a_curve_through_points_is_under_the_hand_and_comes_as_it_was(curve):
    page = curve.page
    page.locator("#sheet [data-brush=taperOutMm][type=number]").first.fill("6")
    page.wait_for_timeout(300)
    assert strokes_of(curve) == []  # it is not ended yet
    expect(page.locator("#hand .node")).to_have_count(4)
    page.mouse.click(*curve.at(700, 400))
    page.keyboard.press("Backspace")
    expect(page.locator("#hand .node")).to_have_count(4)
    page.mouse.click(*curve.at(*CURVE[-1]))  # once more the last one: it is ended
    page.wait_for_timeout(100)
    under = curve.picture()
    curve.settle()
    exact = curve.picture()
    assert (np.abs(exact - under).max(-1) > 8).mean() < 0.001
    (one,) = strokes_of(curve)
    assert one["curved"] and len(one["points"]) == 4 and one["taper_out"] > 0 and one["id"]
    for x, y in CURVE[:3]:
        assert np.abs(ink(curve, x, y) - (32, 38, 42)).max() < 12


def test_a_curve_by_keys_alone_with_a_corner_closed(curve):
    page = curve.page
    page.keyboard.press("Enter")
    curve.settle()
    page.locator("#hand").focus()
    page.mouse.move(*curve.at(300, 500))
    for keys in (("ArrowRight",) * 4, ("ArrowDown",) * 3, ("ArrowLeft",) * 4):
        page.keyboard.press("Shift+Space" if keys[0] == "ArrowDown" else "Space")
        for key in keys:
            page.keyboard.press(f"Shift+{key}")
    page.keyboard.press("Space")
    for _ in range(3):
        page.keyboard.press("Shift+ArrowUp")
    page.keyboard.press("Space")  # on the first one
    curve.settle()
    _, one = strokes_of(curve)
    assert one["closed"] and one["corners"] == [1] and len(one["points"]) == 4
    assert faults(page) == []


def test_a_view_that_moves_leaves_a_curve_that_is_begun(curve):
    page = curve.page
    page.mouse.wheel(0, 60)
    curve.settle()
    expect(page.locator("#hand .node")).to_have_count(4)
    page.keyboard.press("Escape")
    curve.settle()
    assert len(strokes_of(curve)[0]["points"]) == 4
    expect(page.locator("#hand")).to_be_visible()


def test_a_stroke_is_held_bent_moved_changed_and_taken_away(curve):
    page = curve.page
    page.keyboard.press("Enter")
    page.locator("#sheet label", has_text="Freely").first.click()
    draw(curve, (150, 550), (800, 560))
    curve.settle()
    page.locator("#sheet [data-choose]").first.click()
    expect(page.locator("#sheet [data-held-stroke]")).to_contain_text("Stroke 2 of 2")
    draw(curve, (320, 552), (330, 640))  # its body: it is moved
    curve.settle()
    before, (first, second) = curve.picture(), strokes_of(curve)
    assert second["points"][0][1] > 0.2 and ink(curve, 320, 640).max() < 60
    page.mouse.click(*curve.at(550, 130))
    expect(page.locator("#sheet [data-held-stroke]")).to_contain_text("Stroke 1 of 2")
    draw(curve, (550, 130), (560, 60))  # its third point
    curve.settle()
    bent = strokes_of(curve)[0]["points"]
    assert bent[2][1] < first["points"][2][1] - 0.05 and bent[1] == first["points"][1]
    assert np.abs(curve.picture() - before).max() > 60
    page.mouse.dblclick(*curve.at(560, 60))
    curve.settle()
    assert strokes_of(curve)[0]["corners"] == [2]
    page.locator("#sheet [data-stroke=radius][type=number]").first.fill("12")
    page.keyboard.press("Tab")
    page.wait_for_timeout(900)
    curve.settle()
    assert strokes_of(curve)[0]["radius"] > 1.5 * first["radius"]
    page.locator("#sheet [data-take-away]").first.click()
    curve.settle()
    (left,) = strokes_of(curve)
    assert left["id"] == second["id"]
    page.locator("#hand").focus()
    page.keyboard.press("Escape")
    page.keyboard.press("Escape")
    expect(page.locator("#hand")).to_be_hidden()
    for _ in range(5):
        page.keyboard.press("Control+z")
        curve.settle()
    np.testing.assert_array_equal(curve.picture()[:250], before[:250])


def test_a_stroke_is_held_by_keys_with_late_answers(curve):
    page = curve.page
    page.keyboard.press("Enter")
    curve.settle()
    late(page, 500)
    page.locator("#sheet [data-choose]").first.press("Enter")
    expect(page.locator("#hand .way")).to_be_attached()
    (before,) = strokes_of(curve)
    page.locator("#hand").focus()
    for _ in range(3):
        page.keyboard.press("Shift+ArrowDown")
    page.keyboard.press("Enter")  # the first of its points
    page.keyboard.press("Shift+ArrowLeft")
    page.wait_for_timeout(800)
    until(page, f"{DRAWING}.session.resting")
    curve.settle()
    (after,) = strokes_of(curve)
    down = [b[1] - a[1] for a, b in zip(before["points"], after["points"], strict=True)]
    assert min(down) > 0.005 and max(down) - min(down) < 0.002
    assert (
        after["points"][0][0]
        < before["points"][0][0]
        == pytest.approx(after["points"][0][0], abs=0.1)
    )
    page.keyboard.press("Delete")
    curve.settle()
    assert len(strokes_of(curve)[0]["points"]) == 3


def test_what_hides_everything_is_no_stroke_to_be_held(drawing):
    """Inverted strokes begin with one; those that lie over it are held, the last one first."""
    draw(drawing, (180, 160), (320, 170))
    drawing.settle()
    draw(drawing, (180, 165), (320, 175))
    drawing.settle()
    page = drawing.page
    page.locator("#sheet [data-invert]").first.click()
    page.wait_for_timeout(300)
    drawing.settle()
    page.locator("#sheet [data-choose]").first.click()
    held = page.locator("#sheet [data-held-stroke]").first
    expect(held).to_contain_text("Stroke 3 of 3")
    page.keyboard.press("PageDown")
    expect(held).to_contain_text("Stroke 2 of 3")
    page.mouse.click(*drawing.at(232, 167))  # between its handles
    expect(held).to_contain_text("Stroke 3 of 3")
    page.mouse.click(*drawing.at(250, 260))
    expect(held).to_be_hidden()


def test_a_stroke_that_another_tab_took_back_is_said_and_nothing_else_moves(curve):
    page = curve.page
    page.keyboard.press("Enter")
    curve.settle()
    other = Bench(page.context.new_page(), curve.piece)
    other.open(curve.url.rstrip("/").rsplit("/", 1)[1])
    page.bring_to_front()
    page.locator("#sheet [data-choose]").first.click()
    expect(page.locator("#hand .way")).to_be_attached()
    path = ["stack", curve.document["stack"][-1]["id"], "art"]
    other.change({"op": "take_back_stroke", "path": path, "number": 0})
    page.locator("#hand").focus()
    page.keyboard.press("ArrowDown")
    page.wait_for_timeout(900)
    until(page, f"!{DRAWING}.session.line.busy")
    expect(page.locator("body")).to_contain_text("no longer there")
    assert strokes_of(curve) == []
    other.page.close()


def hold(bench, says):
    bench.page.locator("#sheet [data-choose]").first.click()
    expect(bench.page.locator("#sheet [data-held-stroke]").first).to_contain_text(says)


@pytest.fixture
def two(curve):
    """The curve is ended, and a stroke drawn freely lies below it; that is held."""
    curve.page.keyboard.press("Enter")
    curve.page.locator("#sheet label", has_text="Freely").first.click()
    draw(curve, (150, 550), (800, 560))
    curve.settle()
    hold(curve, "Stroke 2 of 2")
    return curve


def test_a_slider_changes_the_stroke_that_was_held_when_it_moved(two):
    """Another one is held before that is stored."""
    first, second = strokes_of(two)
    field = two.page.locator("#sheet [data-stroke=radius][type=number]").first
    field.fill("15")
    two.page.locator("#hand").focus()
    two.page.keyboard.press("PageUp")
    two.page.wait_for_timeout(900)
    two.settle()
    after = strokes_of(two)
    assert after[0] == first and after[1]["radius"] > 1.5 * second["radius"]
    off = np.abs(np.subtract(after[1]["points"], second["points"]))
    assert off.max() < 2e-3  # a broader stroke's way is told less finely


def test_a_slider_and_keys_at_once_are_both_stored(two):
    _, before = strokes_of(two)
    two.page.locator("#sheet [data-stroke=taper_out][type=number]").first.fill("20")
    two.page.locator("#hand").focus()
    two.page.keyboard.press("Shift+ArrowDown")
    two.page.mouse.move(*two.at(400, 300))  # a pointer over it drags nothing
    two.page.mouse.move(*two.at(600, 200))
    two.page.wait_for_timeout(900)
    two.settle()
    _, after = strokes_of(two)
    assert after["taper_out"] > 0
    far = np.subtract(after["points"], before["points"])
    assert np.abs(far[:, 0]).max() < 0.002 and 0 < far[:, 1].min() and far[:, 1].max() < 0.03


def test_delete_on_the_pad_takes_nothing_but_a_stroke(two):
    marks = len(two.document["stack"])
    two.page.locator("#hand").focus()
    for _ in range(3):
        two.page.keyboard.press("Delete")
        two.page.wait_for_timeout(150)
    two.settle()
    assert strokes_of(two) == [] and len(two.document["stack"]) == marks
    begin(two)
    two.page.locator("#hand").focus()
    for key in ("Delete", "Backspace", "Enter"):
        two.page.keyboard.press(key)
    two.settle()
    assert len(two.document["stack"]) == marks
    expect(two.page.locator("#hand")).to_be_visible()


def test_curves_and_what_is_done_to_strokes_wait_while_nobody_answers(two):
    page, pattern = two.page, "**/{change,stage}/"
    page.route(pattern, lambda route: route.abort())
    draw(two, (320, 552), (330, 610))
    page.locator("#sheet label", has_text="By points").first.click()
    for place in ((200, 430), (400, 470), (600, 430)):
        page.mouse.click(*two.at(*place))
    page.keyboard.press("Enter")
    expect(page.locator(".saved")).to_contain_text("wait")
    page.unroute(pattern)
    late(page, 500)
    page.evaluate(f"{DRAWING}.session.again()")
    until(page, f"{DRAWING}.session.resting")
    two.settle()
    _, moved, curve = strokes_of(two)
    assert curve["curved"] and len(curve["points"]) == 3
    assert ink(two, 330, 612).max() < 60 and ink(two, 320, 552).max() > 100
    assert moved["id"] and not moved["curved"]


def test_a_tip_that_comes_late_still_draws_the_curve_that_was_set(curve):
    page = curve.page
    page.keyboard.press("Enter")
    curve.settle()
    late(page, 900, "**/pixels/")
    page.locator("#sheet .hand-tip", has_text="Sponge").first.click()
    for place in ((200, 430), (400, 470), (600, 430)):
        page.mouse.click(*curve.at(*place))
    page.keyboard.press("Enter")
    curve.settle()
    _, one = strokes_of(curve)
    assert one["tip"] and len(one["points"]) == 3


def test_a_curve_of_very_many_points_goes_on_in_another(curve):
    """None of them is lost: a curve has 200 at most."""
    page = curve.page
    page.evaluate(
        f"""() => {{
        const {{ points }} = {DRAWING}.ways;
        for (let n = 0; n < 230; n += 1) points.set([100 + n * 2, 300 + 40 * Math.sin(n / 4)]);
        points.finish();
    }}"""
    )
    until(page, f"{DRAWING}.session.resting")
    curve.settle()
    first, second = strokes_of(curve)
    assert len(first["points"]) == 200 and len(second["points"]) == 4 + 230 - 200 + 1
    assert second["points"][0] == pytest.approx(first["points"][-1], abs=2e-3)


def test_in_perspective_a_stroke_is_held_where_it_lies(two):
    """Its way is shown on its ink; a place that is bent comes to lie under the pointer."""
    ring = [[120, 90], [860, 190], [820, 560], [160, 640]]
    sign = two.document["stack"][-1]["id"]
    for _ in range(2):
        two.page.keyboard.press("Escape")
    expect(two.page.locator("#hand")).to_be_hidden()
    two.change({"op": "lay_corners", "mark": sign, "corners": ring})
    hold(two, "of 2")
    two.page.locator("#hand").focus()
    two.page.keyboard.press("PageUp")
    page = two.page
    node = page.locator("#hand .node").nth(1).bounding_box()
    x, y = node["x"] + node["width"] / 2, node["y"] + node["height"] / 2
    shown = page.locator("#picture").bounding_box()
    place = round(y - shown["y"]), round(x - shown["x"])
    assert two.picture()[place].max() < 90  # the ink runs through its points
    page.mouse.move(x, y)
    page.mouse.down()
    page.mouse.move(x + 40, y + 30, steps=5)
    page.mouse.up()
    two.settle()
    assert two.picture()[place[0] + 30, place[1] + 40].max() < 90
