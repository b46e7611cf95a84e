"""What a hand does is kept, and does what was meant: with answers that come late or never, in two
tabs, by double-clicks, and while something else is being fetched.
"""

import re

import pytest
from playwright.sync_api import expect

from tests.browser.driver import Bench, late, until

pytestmark = pytest.mark.browser

SESSION = "Alpine.$data(document.getElementById('bench')).bench().session"


def wear(bench) -> dict:
    return next(
        step
        for mark in bench.document["stack"]
        for step in mark["treatment"]
        if step["kind"] == "wear"
    )


def slide(page, name, *values):
    """Each value let go at once after the one before."""
    for value in values:
        page.locator(f"#sheet input[type=range][data-title='{name}']").evaluate(
            """(slider, value) => {
            slider.value = value;
            for (const name of ['input', 'change'])
                slider.dispatchEvent(new Event(name, { bubbles: true }));
        }""",
            value,
        )


def offline(page, what=("change", "undo", "redo", "stage")):
    pattern = re.compile(f"/({'|'.join(what)})/$")
    page.route(pattern, lambda route: route.abort())
    return lambda: page.unroute(pattern)


def step_opened(bench, mark="PELLWICK"):
    bench.tab(mark)
    bench.step("Wear")
    return bench.page


def strength(bench):
    return wear(bench)["landing"]["strength"]


@pytest.fixture
def worn(bench):
    """The bench with the landing of a wear open."""
    page = step_opened(bench)
    page.locator("#sheet [data-landing] > summary").click()
    return bench


def test_a_value_that_is_set_back_while_it_is_on_its_way_is_stored(worn):
    page, begun = worn.page, strength(worn)
    online = offline(page)
    slide(page, "Strength", 60, round(begun * 100))
    online()
    worn.settle()
    assert strength(worn) == begun
    page.reload()
    worn.settle()
    assert strength(worn) == begun


def test_a_switch_that_is_pressed_twice_is_as_it_was(worn):
    late(worn.page, 300)
    switch = worn.page.locator("#step-on")
    for _ in range(2):
        switch.click()
    worn.settle()
    assert wear(worn)["on"] and switch.is_checked()


def test_what_waited_is_made_again_on_what_another_tab_made(worn, context, piece):
    page, online = worn.page, offline(worn.page)
    slide(page, "Strength", 80, 70, 60)
    page.locator("#step-on").click()
    other = Bench(context.new_page(), piece).open()
    other.tab("Whole piece")
    other.page.get_by_label("Title").fill("From the other tab")
    other.page.get_by_label("Title").press("Enter")
    other.settle()
    online()
    worn.settle()
    assert (strength(worn), wear(worn)["on"]) == (0.6, False)
    assert worn.document["title"] == "From the other tab"


def test_what_cannot_be_made_again_is_kept_and_told(worn, context, piece):
    page, online = worn.page, offline(worn.page)
    slide(page, "Strength", 60)
    other = Bench(context.new_page(), piece).open()
    step_opened(other).locator("#sheet [data-remove-step]").click()
    other.settle()
    online()
    expect(page.locator("[data-kept-told]")).to_contain_text("One change could not be made again")
    page.reload()
    expect(page.locator("[data-kept-told]")).to_contain_text("One change could not be made again")
    page.keyboard.press("Control+z")  # the step is there again
    worn.settle()
    page.get_by_role("button", name="See what is kept").click()
    expect(page.locator("#kept-dialog li b")).to_have_text("Strength")
    page.get_by_role("button", name="Make it now").click()
    expect(page.locator("[data-kept-told]")).to_be_hidden()
    worn.settle()
    assert strength(worn) == 0.6


def test_a_nudge_is_stored_before_anything_else_is_chosen_or_undone(bench):
    bench.tab("PELLWICK")
    bench.step("Bare")
    x = bench.mark("PELLWICK")["placement"]["x"]["value"]
    body = bench.page.locator("#overlay .body")
    body.focus()
    for _ in range(3):
        bench.page.keyboard.press("ArrowRight")
    bench.page.get_by_role("tab", name="Ground", exact=True).click()
    bench.settle()
    assert bench.mark("PELLWICK")["placement"]["x"]["value"] == pytest.approx(x + 3)
    bench.tab("PELLWICK")
    bench.step("Bare")
    body.focus()
    bench.page.keyboard.press("ArrowRight")
    bench.page.keyboard.press("Control+z")
    bench.settle()
    assert bench.mark("PELLWICK")["placement"]["x"]["value"] == pytest.approx(x + 3)


def test_a_key_that_is_held_on_a_slider_makes_one_state(worn):
    page = worn.page
    states = page.evaluate(f"{SESSION}.version")
    slider = page.locator("#sheet input[type=range][data-title='Strength']")
    slider.focus()
    for _ in range(12):
        page.keyboard.press("ArrowDown")
    worn.settle()
    assert page.evaluate(f"{SESSION}.version") == states + 1
    assert strength(worn) < 1


def test_no_key_acts_behind_a_dialog(worn):
    page, before = worn.page, worn.document
    page.route(re.compile("/firings/of/"), lambda route: route.abort())
    page.get_by_role("button", name="Fire", exact=True).click()
    page.locator("[data-fire-start]").click()
    page.evaluate("document.activeElement.blur()")
    for key in ("Delete", "l", "o", "Backspace", "g"):
        page.keyboard.press(key)
    page.keyboard.press("Escape")
    expect(page.locator("#fire-dialog")).to_be_hidden()
    worn.settle()
    assert worn.document == before


def test_words_that_are_typed_are_there_after_a_reload_as_one_state(bench):
    box = bench.told["boxes"][bench.mark("PELLWICK")["id"]]
    version = bench.told["version"]
    bench.page.mouse.dblclick(*bench.at(box["x"], box["y"]))
    expect(bench.page.locator(".words-on-piece")).to_be_focused()
    bench.page.keyboard.type("HARBOUR", delay=60)
    bench.page.reload()
    bench.settle()
    assert bench.mark("HARBOUR")
    bench.page.keyboard.press("Control+z")
    bench.settle()
    assert bench.mark("PELLWICK") and bench.told["version"] > version


def test_while_the_cursor_is_in_the_words_the_picture_becomes_exact(bench):
    bench.tab("PELLWICK")
    bench.step("Bare")
    bench.page.locator("#sheet").get_by_label("Words").fill("PELLWICKS")
    bench.settle()
    expect(bench.page.locator(".telling")).to_have_text("Exact · this is what fires")
    expect(bench.page.locator("#sheet").get_by_label("Words")).to_be_focused()
    assert bench.mark("PELLWICKS")


def test_words_typed_where_a_mark_is_brought_in_are_words(bench):
    bench.page.locator("[data-add-mark]").click()
    bench.page.keyboard.type("FOG")
    expect(bench.page.locator("#new-words")).to_have_value("FOG")
    bench.page.get_by_role("button", name="Set these words").dblclick()
    expect(bench.page.locator("#mark-dialog")).to_be_hidden()
    bench.page.keyboard.press("Escape")
    bench.settle()
    assert [m["art"].get("text") for m in bench.document["stack"]].count("FOG") == 1


def test_the_sheet_of_something_else_takes_no_input(bench):
    page = step_opened(bench)
    late(page, 600, "**/sheet/?**")
    field = page.locator("#sheet input[type=number]").first
    before = bench.document
    page.get_by_role("tab", name="Ground", exact=True).click()
    assert page.locator("#sheet").evaluate("sheet => sheet.inert")
    field.evaluate("field => field.focus()")
    page.keyboard.type("7")
    expect(page.locator("#sheet h2")).to_have_text("Ground")
    assert not page.locator("#sheet").evaluate("sheet => sheet.inert")
    assert bench.document == before


def test_one_key_on_a_closed_menu_does_nothing(worn):
    page, before = worn.page, worn.document
    for name in ("Only where", "Copy to"):
        page.locator("#sheet").get_by_role("button", name=name).last.focus()
        page.keyboard.press("ArrowDown")
        page.keyboard.press("Escape")
    page.wait_for_timeout(200)
    assert worn.document == before


def test_a_server_that_fails_keeps_what_was_changed_waiting(worn):
    page = worn.page
    failing = re.compile("/change/$")
    page.route(
        failing, lambda route: route.fulfill(status=500, headers={"X-Kilnmark": "1"}, json={})
    )
    slide(page, "Strength", 60)
    expect(page.get_by_role("button", name="What waits")).to_be_visible(timeout=40_000)
    page.unroute(failing)
    worn.settle()
    assert strength(worn) == 0.6


def test_a_page_that_is_no_answer_is_taken_for_none(worn):
    page, foreign = worn.page, re.compile("/(change|sheet)/")
    page.route(
        foreign,
        lambda route: route.fulfill(body="<h1>Sign in to the hotel</h1>", content_type="text/html"),
    )
    slide(page, "Strength", 60)
    expect(page.locator(".saved")).to_have_text("1 change waits to be saved")
    assert "hotel" not in page.locator("#sheet").inner_text()
    page.unroute(foreign)
    worn.settle()
    assert strength(worn) == 0.6


def test_a_double_click_before_the_bench_is_ready_opens_the_words(bench):
    box = bench.told["boxes"][bench.mark("PELLWICK")["id"]]
    at = bench.at(box["x"], box["y"])
    scripts = re.compile(r"bench/(?!hands/early).*\.js|alpine")
    held = []
    bench.page.route(scripts, lambda route: held.append(route))
    bench.page.goto(bench.url, wait_until="commit")
    expect(bench.page.locator("#stage")).to_be_visible()
    bench.page.wait_for_timeout(300)
    bench.page.mouse.dblclick(*at)
    for route in held:
        route.continue_()
    bench.page.unroute(scripts)
    expect(bench.page.locator(".words-on-piece")).to_be_focused()


def test_a_press_on_the_piece_goes_on_while_it_is_drawn_anew(bench):
    bench.tab("PELLWICK")
    bench.step("Bare")
    box = bench.told["boxes"][bench.mark("PELLWICK")["id"]]
    x, y = bench.at(box["x"], box["y"])
    mouse = bench.page.mouse
    mouse.move(x, y)
    for count in (1, 2):
        mouse.down(click_count=count)
        bench.page.evaluate(
            "Alpine.$data(document.getElementById('bench')).bench().handles.settle()"
        )
        mouse.up(click_count=count)
    expect(bench.page.locator(".words-on-piece")).to_be_focused()


def test_the_keyboard_stays_where_the_work_is(worn):
    page = worn.page
    page.locator("#sheet").get_by_role("button", name="Only where").click()
    page.locator(".hold-more .dropdown-item", has_text="Fading").click()
    worn.settle()
    until(page, "() => document.activeElement !== document.body")
    page.locator(".frame-add").click()
    page.locator("[data-add-step=grain]").click()
    worn.settle()
    expect(page.locator("#strip .frame:focus b")).to_have_text("Grain")
    page.keyboard.press("r")
    expect(page.locator("#looks-dialog")).to_be_visible()
    page.keyboard.press("Escape")
    until(page, "() => document.activeElement !== document.body")
    page.get_by_role("button", name="Fire", exact=True).click()
    page.locator("[data-fire-start]").click()
    until(page, "() => document.activeElement.closest('#fire-dialog footer')")


def test_exact_is_not_said_of_a_picture_of_what_was_before(worn):
    page = worn.page
    late(page, 700, "**/stage/")
    slide(page, "Strength", 40)
    until(page, "() => document.getElementById('stage').dataset.quality !== 'exact'", 2)
    expect(page.locator(".telling")).not_to_have_text("Exact · this is what fires", timeout=500)
    page.unroute("**/stage/")
    worn.settle()


def test_a_step_is_found_by_typing_and_stands_at_the_end(worn):
    """In the menu of steps, grouped, each with its picture; no letter is a shortcut meanwhile."""
    page, before = worn.page, len(wear_of(worn))
    page.locator(".frame-add").click()
    expect(page.locator("[data-find-step]")).to_be_focused()
    page.keyboard.type("noise")
    expect(page.locator("[data-add-step]:visible b")).to_have_text(["Grain"])
    image = page.locator("[data-add-step=grain] img")
    until(page, "() => document.querySelector('[data-add-step=grain] img').naturalWidth > 20")
    assert "add_step" in image.get_attribute("src")
    page.keyboard.press("Enter")
    worn.settle()
    steps = wear_of(worn)
    assert len(steps) == before + 1 and steps[-1]["kind"] == "grain"


def wear_of(bench) -> list[dict]:
    return bench.mark("PELLWICK")["treatment"]
