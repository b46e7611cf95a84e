"""Three directions of a piece, by keyboard and by pointer; a step that is shared; a copy."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.driver import late, until
from tests.browser.test_access import faults
from tests.browser.test_looking import pixels_of

pytestmark = pytest.mark.browser
LOOKS = {
    "Harbour wear": ["wear", "soften"],
    "Chalky": ["wear", "grain"],
    "Soft as fog": ["soften"],
}


@pytest.fixture
def looks(bench):
    """Three recipes, gone afterwards: where there are some, art that comes in is offered looks."""
    made, begun = {}, bench.document
    texture = mark_of(bench, "PELLWICK")["treatment"][0]["params"]["texture"]
    part = mark_of(bench, "PELLWICK")["id"]
    for name, kinds in LOOKS.items():
        steps = [{"kind": k, "params": {"texture": texture} if k == "wear" else {}} for k in kinds]
        told = bench.told["version"]
        edit = {"op": "add_steps", "part": part, "steps": steps, "instead": True}
        changed = sent(bench, "change/", {"version": told, "edits": [edit], "label": "Look"})
        kept = {"version": changed["version"], "part": part, "name": name, "group": "worn"}
        made[name] = sent(bench, "recipes/keep/", kept)["id"]
        bench.open()
    bench.back_to(begun)
    yield made
    for one in made.values():
        form = {"csrfmiddlewaretoken": bench.csrf}
        bench.page.context.request.post(f"/bin/recipe/{one}/away/", form=form)


def sent(bench, name, data):
    headers = {"X-CSRFToken": bench.csrf, "Accept": "application/json"}
    url = f"/pieces/{bench.piece}/{name}"
    answer = bench.page.context.request.post(url, data=data, headers=headers)
    assert answer.ok, answer.text()
    return answer.json()


def mark_of(bench, words):
    return next(m for m in bench.document["stack"] if m["art"].get("text") == words)


def placed(page, count):
    expect(page.locator("[data-pane]")).to_have_count(count)


def shown(page):
    """All panes show the exact picture of what stands in them."""
    until(
        page,
        "[...document.querySelectorAll('[data-pane]')]"
        ".every(({ dataset }) => dataset.drawn === dataset.state)",
    )


def test_three_looks_by_keys_mixed_and_gone_on_with(bench, looks):
    page = bench.page
    bench.tab("PELLWICK")
    page.keyboard.press("d")
    page.wait_for_url("**/directions/**")
    cards = page.locator("[data-look]")
    expect(cards).to_have_count(3)
    expect(cards.first).to_be_focused()
    until(page, "[...document.querySelectorAll('[data-look] img')].every((i) => i.naturalWidth)")
    order = [one.get_attribute("data-words") for one in cards.all()]
    boxes = [one.bounding_box() for one in cards.all()]
    for place, move in ((1, "ArrowRight"), (2, "ArrowRight"), (3, None)):
        page.keyboard.press(str(place))
        placed(page, place)
        if move:
            page.keyboard.press(move)
    assert [one.bounding_box() for one in cards.all()] == boxes, "no card changed its place"
    assert not faults(page)
    page.keyboard.press("v")
    shown(page)
    heads = [one.inner_text() for one in page.locator(".direction h2").all()]
    assert [one.split("\n")[0].strip() for one in heads] == [f"{n}" for n in order]
    assert not faults(page)
    first, second = (pixels_of(page, f"#direction-{n} canvas") for n in (1, 2))
    assert first.shape == second.shape and np.abs(first - second).max() > 8
    page.locator("[data-pane] [data-view]").first.focus()
    zoom = page.locator(".both-zoom output")
    fitted = int(zoom.inner_text().split()[0])
    page.keyboard.press("+")
    expect(zoom).not_to_have_text(f"{fitted} %")
    assert int(zoom.inner_text().split()[0]) == pytest.approx(fitted * 1.5, abs=1)
    shown(page)
    giver = order.index("Harbour wear") + 1
    taker = order.index("Soft as fog") + 1
    chip = page.locator(f"#direction-{giver} .step-chip", has_text="Wear")
    chip.focus()
    page.keyboard.press("Enter")
    page.locator(f"#direction-{giver} .dropdown-menu.show [data-taker='{taker}']").click()
    expect(page.locator(f"#direction-{taker} h2")).to_contain_text("Soft as fog, mixed")
    expect(page.locator(f"#direction-{taker} .step-chip")).to_have_text(["Soften", "Wear"])
    page.locator(f"#direction-{taker} [data-go-on]").click()
    page.wait_for_url(re.compile(r"/pieces/[0-9a-f-]+/$"))
    bench.settle()
    kinds = [one["kind"] for one in mark_of(bench, "PELLWICK")["treatment"]]
    assert kinds == ["soften", "wear"] and "Direction: Soft as fog, mixed" in bench.told["undo"]


def test_resting_shows_a_look_dragging_mixes_and_all_are_fired(bench, looks):
    page, part = bench.page, mark_of(bench, "PELLWICK")["id"]
    page.goto(f"/pieces/{bench.piece}/directions/?part={part}")
    for place, name in ((1, "Soft as fog"), (2, "Harbour wear")):
        page.locator(".look-card", has_text=name).locator(f"[data-put='{place}']").click()
        placed(page, place)
    page.locator("[data-show-beside]").click()
    shown(page)
    pane = page.locator("#direction-1")
    page.locator("#direction-1 [data-view]").click()
    before = pixels_of(page, "#direction-1 canvas")
    page.locator("[data-look]", has_text="Harbour wear").hover()
    expect(pane).to_have_attribute("data-drawn", "Harbour wear")
    assert np.abs(pixels_of(page, "#direction-1 canvas") - before).max() > 8
    page.locator(".brand").hover()
    expect(pane).to_have_attribute("data-drawn", re.compile(r"^\d+$"))
    page.locator("#direction-2 .step-chip", has_text="Wear").drag_to(pane.locator("h2"))
    expect(pane.locator(".step-chip")).to_have_text(["Soften", "Wear"])
    page.locator("#direction-2 [data-reseed]").click()
    page.locator("[data-fire-all]").click()
    expect(page.locator("[data-which] :checked")).to_have_count(2)
    page.locator("[data-fire-start]").click()
    page.wait_for_url("**/firings/")
    expect(page.locator("main")).to_contain_text("Soft as fog, mixed")
    expect(page.locator("main")).to_contain_text("Harbour wear")


def test_with_the_server_away_nothing_is_lost_and_it_is_said(bench, looks):
    page, part = bench.page, mark_of(bench, "PELLWICK")["id"]
    page.goto(f"/pieces/{bench.piece}/directions/?part={part}")
    page.locator("[data-look]").first.focus()
    page.keyboard.press("1")
    placed(page, 1)
    page.context.set_offline(True)
    page.keyboard.press("2")
    expect(page.locator(".directions-trouble")).to_be_visible()
    page.context.set_offline(False)
    placed(page, 1)
    page.keyboard.press("2")
    placed(page, 2)
    expect(page.locator(".directions-trouble")).to_be_hidden()


def test_a_step_is_shared_changed_once_and_made_its_own(bench):
    page = bench.page
    cup = next(m for m in bench.document["stack"] if m["art"]["kind"] == "vector")
    bench.tab("PELLWICK")
    bench.step("Soften")
    page.locator(".copy-to button").first.click()
    page.locator(f"[data-share='{cup['id']}']").click()
    bench.settle()
    expect(page.locator(".shared-told")).to_contain_text("Shared with")
    page.get_by_role("spinbutton", name="Softness").first.fill("4")
    page.keyboard.press("Tab")
    bench.settle()
    of_cup = lambda: next(m for m in bench.document["stack"] if m["id"] == cup["id"])["treatment"]  # noqa: E731
    assert of_cup()[-1]["params"]["radius"]["value"] == 4
    page.locator("[data-unshare]").click()
    bench.settle()
    page.get_by_role("spinbutton", name="Softness").first.fill("2")
    page.keyboard.press("Tab")
    bench.settle()
    assert of_cup()[-1]["params"]["radius"]["value"] == 4


def test_a_copy_stays_a_copy_and_words_are_mirrored(bench, looks):
    page = bench.page
    bench.tab("PELLWICK")
    bench.step("Bare")
    before = mark_of(bench, "PELLWICK")
    page.locator("[data-copy-mark]").click()
    bench.settle()
    expect(page.locator("#looks-dialog")).to_be_hidden()
    twin = bench.document["stack"][-1]
    assert twin["treatment"] and twin["art"] == before["art"]
    for axis in "xy":
        assert twin["placement"][axis]["value"] == before["placement"][axis]["value"] + 40
    page.locator("#sheet summary", has_text="Lines, case and forms").click()
    page.get_by_label("Mirrored").check()
    bench.settle()
    assert bench.document["stack"][-1]["art"]["mirrored"] is True
    expect(page.locator("#sheet details.more")).to_have_attribute("open", "")


def test_answers_half_a_second_late_and_keys_that_do_not_wait(bench, looks):
    page, part = bench.page, mark_of(bench, "PELLWICK")["id"]

    late(page, 500, "**/directions/put/")
    page.goto(f"/pieces/{bench.piece}/directions/?part={part}")
    page.locator("[data-look]").first.focus()
    for key in ("Enter", "ArrowRight", "Enter", "ArrowRight", "3"):
        page.keyboard.press(key)
    placed(page, 3)
    names = [one.get_attribute("data-name") for one in page.locator("[data-pane]").all()]
    assert names == [one.get_attribute("data-words") for one in page.locator("[data-look]").all()]


def words_of(page):
    return [one.get_attribute("data-words") for one in page.locator("#looks-dialog .tryout").all()]


def test_cards_change_places_only_when_the_pointer_has_left(bench, looks):
    page = bench.page
    bench.tab("PELLWICK")
    with page.expect_response(lambda r: "/tryouts/" in r.url and "first=1" not in r.url):
        page.locator("[data-looks]").click()
        page.locator("#looks-dialog .tryout").first.hover()
        before = words_of(page)
    page.wait_for_timeout(300)
    assert words_of(page) == before and len(before) == 3
    page.locator("#looks-dialog h2").hover()
    for _ in range(100):  # then they are in order, those that look the same in one card
        if words_of(page) != before:
            break
        page.wait_for_timeout(50)
    assert words_of(page) != before
