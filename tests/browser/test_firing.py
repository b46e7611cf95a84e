"""The fire dialog: by keyboard alone, with answers that come late, and while nobody answers."""

import re
from zipfile import ZipFile

import pytest
from PIL import Image
from playwright.sync_api import expect

from tests.browser.driver import late

pytestmark = pytest.mark.browser
FIRINGS = re.compile("/firings/")
ASKED = re.compile("/firings/of/")


@pytest.fixture
def dialog(bench):
    """Opened by its key."""
    bench.page.locator("#stage").click(position={"x": 4, "y": 4})
    bench.page.keyboard.press("f")
    shown = bench.page.locator("#fire-dialog")
    expect(shown).to_be_visible()
    return shown


def focused(page) -> str:
    """What has the focus, by the first of its data names."""
    return page.evaluate(
        "Object.keys(document.activeElement.dataset)[0] ?? document.activeElement.name ?? ''"
    )


def reach(page, name: str) -> None:
    for _ in range(20):
        if focused(page) == name:
            return
        page.keyboard.press("Tab")
    raise AssertionError(f"Tab never came to {name}")


def test_by_keyboard_alone_from_its_key_to_the_saved_file(dialog):
    page = dialog.page
    reach(page, "fireFormat")
    page.keyboard.press("w")  # WebP, by its first letter
    expect(page.locator("#fire-format-told")).to_contain_text("screens")
    reach(page, "fireStart")
    page.keyboard.press("Enter")
    expect(page.locator("[data-fire-file]")).to_be_focused()
    with page.expect_download() as saved:
        page.keyboard.press("Enter")
    image = Image.open(saved.value.path())
    assert (image.format, image.size) == ("WEBP", (1000, 700))
    page.keyboard.press("Escape")
    expect(dialog).to_be_hidden()
    assert page.evaluate("document.activeElement !== document.body")


def test_what_is_fired_chooses_what_else_is_asked(dialog):
    page = dialog.page
    reach(page, "fireContent")
    page.keyboard.press("ArrowDown")  # each mark alone
    expect(page.locator("#fire-content-told")).to_contain_text("mark")
    expect(dialog.get_by_text("With its ground", exact=True)).to_be_hidden()
    reach(page, "fireStart")
    page.keyboard.press("Enter")
    with page.expect_download() as saved:
        page.get_by_role("link", name="Save the zip").click()
    with ZipFile(saved.value.path()) as together:
        assert all(name.endswith(".png") for name in together.namelist())
        assert len(together.namelist()) == 2


def test_with_answers_half_a_second_late_all_goes_the_same_way(dialog):
    page = dialog.page
    late(page, 500, FIRINGS)
    page.locator("[data-fire-start]").click()
    expect(page.locator("[data-fire-stop]")).to_be_focused()
    expect(page.locator("[data-fire-start]")).to_be_hidden()
    expect(page.locator("[data-fire-file]")).to_be_focused()
    expect(page.locator("[data-fire-told]")).to_contain_text("Fired:")


def test_stop_counts_before_the_kiln_has_answered(dialog):
    page = dialog.page
    late(page, 1500, ASKED)
    page.locator("[data-fire-start]").click()
    page.locator("[data-fire-stop]").click()
    expect(page.locator("[data-fire-start]")).to_be_visible()
    expect(page.locator("[data-fire-file]")).to_be_hidden()
    page.unroute(ASKED)
    page.locator("[data-fire-start]").click()  # and the next one is not stopped
    expect(page.locator("[data-fire-file]")).to_be_visible()


def test_while_nobody_answers_it_says_so_and_can_be_asked_again(dialog):
    page = dialog.page
    page.route(ASKED, lambda route: route.abort())
    page.locator("[data-fire-start]").click()
    expect(page.locator("[data-fire-told]")).to_contain_text("does not answer")
    expect(page.locator("[data-fire-start]")).to_be_focused()
    page.unroute(ASKED)
    page.wait_for_timeout(600)  # twice in a breath counts once
    page.keyboard.press("Enter")
    expect(page.locator("[data-fire-file]")).to_be_visible()


def test_a_kiln_that_is_not_heard_for_a_while_is_heard_again(dialog):
    page = dialog.page
    status = re.compile("/status/")
    page.route(status, lambda route: route.abort())
    page.locator("[data-fire-start]").click()
    expect(page.locator("[data-fire-told]")).to_contain_text("does not answer")
    page.unroute(status)
    expect(page.locator("[data-fire-file]")).to_be_visible()


def test_what_was_changed_is_saved_before_it_is_fired(bench):
    page, asked = bench.page, []
    late(page, 800, re.compile("/change/"))
    page.on("request", lambda one: asked.append(one) if ASKED.search(one.url) else None)
    version = bench.told["version"]
    page.evaluate(
        "Alpine.$data(document.getElementById('bench')).bench().session.change("
        "[{ op: 'set', path: ['title'], value: 'Late' }], 'Title')"
    )
    page.keyboard.press("f")
    page.locator("[data-fire-start]").click()
    expect(page.locator("[data-fire-told]")).to_contain_text("to be saved")
    expect(page.locator("[data-fire-file]")).to_be_visible()
    sent = [one.post_data_json for one in asked if one.method == "POST"]
    assert [one["version"] for one in sent] == [version + 1]


def test_closed_while_it_works_it_is_found_again(dialog):
    page = dialog.page
    page.locator("[data-fire-start]").click()
    page.keyboard.press("Escape")
    expect(dialog).to_be_hidden()
    page.keyboard.press("f")
    expect(page.locator("[data-fire-file]")).to_be_visible()


def test_a_change_makes_what_was_fired_an_older_one(bench, dialog):
    page = dialog.page
    page.locator("[data-fire-start]").click()
    expect(page.locator("[data-fire-file]")).to_be_visible()
    page.keyboard.press("Escape")
    bench.change({"op": "set", "path": ["title"], "value": "Another title"})
    page.keyboard.press("f")
    expect(page.locator("[data-fire-start]")).to_be_visible()
    expect(page.locator("[data-fire-file]")).to_be_hidden()
