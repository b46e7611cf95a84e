"""Wear, placements, looks and versions in the real interface, by pointer and by keyboard."""

import re

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.test_access import faults
from tests.browser.test_tryouts import comes_to, settings

pytestmark = pytest.mark.browser


@pytest.fixture
def worn(bench):
    """The bench with the wear's sheet open and its aim on."""
    bench.tab("PELLWICK")
    bench.step("Wear")
    bench.page.get_by_label("Aim: take away a share").check()
    bench.settle()
    return bench


def line(page, title):
    page.locator(".line summary", has_text=title).click()


def test_edges_specks_and_floors_by_keyboard(worn):
    page = worn.page
    before = worn.picture()
    edges = page.get_by_label("Where it wears", exact=True)
    edges.focus()
    page.keyboard.press("End")
    worn.settle()
    assert settings(worn)["params"]["bias"] == 1 and np.abs(worn.picture() - before).max() > 8
    page.get_by_label("Size of what is taken", exact=True).focus()
    for _ in range(30):
        page.keyboard.press("ArrowRight")
    worn.settle()
    assert settings(worn)["params"]["specks"] == pytest.approx(0.3)
    line(page, "Kept readable")
    floor = page.get_by_role("spinbutton", name="Stroke kept")
    floor.fill("6")
    floor.press("Tab")
    worn.settle()
    assert settings(worn)["params"]["least_stroke"] == {"value": 6, "unit": "px"}
    expect(page.locator(".line summary", has_text="Kept readable")).to_contain_text("6 px")
    page.get_by_label("Letter keeps", exact=True).focus()
    page.keyboard.press("End")
    worn.settle()
    expect(page.locator("[data-solved-note]")).to_contain_text("it takes 0.0 %")
    assert faults(page) == []


def test_readings_show_where_on_the_piece(worn):
    page = worn.page
    readings = page.locator(".wear-readings li")
    expect(readings.first).to_contain_text("Taken away")
    expect(readings.filter(has_text=re.compile("The .* keeps"))).to_be_visible()
    worn.settle()
    shows = page.get_by_role("button", name=re.compile("Show where: The"))
    shows.press("Enter")  # readings that are told anew between two acts would take the focus along
    marked = page.locator("#overlay .marked")
    expect(marked).to_be_visible()
    assert faults(page) == []
    was = marked.get_attribute("points")
    page.set_viewport_size({"width": 1180, "height": 800})  # the view is drawn anew; it stays
    expect(marked).not_to_have_attribute("points", was)
    page.keyboard.press("Escape")
    expect(page.locator("#overlay .marked")).to_have_count(0)


def test_a_region_is_drawn_moved_and_removed(worn):
    page = worn.page
    line(page, "Kept readable")
    page.locator("[data-draw-region]").click()
    worn.drag(worn.at(430, 330), worn.at(600, 500))
    worn.settle()
    region = settings(worn)["params"]["region"]
    assert region["width"]["value"] == pytest.approx(170, abs=3)
    assert region["height"]["value"] == pytest.approx(170, abs=3)
    page.locator("#overlay .body").press("ArrowRight")
    page.wait_for_timeout(500)
    worn.settle()
    assert settings(worn)["params"]["region"]["x"]["value"] == pytest.approx(
        region["x"]["value"] + 1, abs=0.01
    )
    page.get_by_label("Spared in it", exact=True).focus()
    page.keyboard.press("Home")
    worn.settle()
    assert settings(worn)["params"]["region_share"] == 0
    assert faults(page) == []
    page.locator("[data-remove-region]").click()
    worn.settle()
    assert settings(worn)["params"]["region"] is None
    page.locator("[data-draw-region]").focus()
    page.keyboard.press("Enter")  # by keys: half the page, around its middle
    page.keyboard.press("Enter")
    worn.settle()
    assert settings(worn)["params"]["region"]["width"]["value"] == pytest.approx(500, abs=1)


def test_art_and_texture_are_seen_together_while_placing(worn):
    page = worn.page
    before = worn.picture()
    page.locator("[data-see-through]").click()
    expect(page.locator(".telling")).to_have_text("Seen through · not what fires")
    assert comes_to(worn, before, lambda apart: apart > 20)
    version = worn.told["version"]
    page.locator("[data-see-through]").focus()
    page.keyboard.press("Enter")
    expect(page.locator(".telling")).to_have_text("Exact · this is what fires")
    assert worn.told["version"] == version
    assert comes_to(worn, before, lambda apart: apart < 3)


def test_a_placement_is_found_and_another(worn):
    page = worn.page
    page.locator("[data-kind=found]").focus()
    page.keyboard.press("Enter")
    expect(page.locator(".tryout[aria-current]")).to_contain_text("where it is · now")
    first = page.locator(".tryout b").all_text_contents()
    assert len(first) >= 5 and first[1].startswith("place 1")
    assert faults(page) == []
    page.locator("[data-another]").click()
    expect(page.locator(".tryout", has_text="place 9")).to_be_visible()
    page.locator(".tryout", has_text="place 9").focus()
    page.keyboard.press("Enter")
    worn.settle()
    placement = settings(worn)["params"]["placement"]
    assert placement["x"]["value"] or placement["y"]["value"]
    assert settings(worn)["params"]["aim"] is True


def test_an_undercoat_shows(worn):
    page = worn.page
    line(page, "Undercoat")
    before = worn.picture()
    page.get_by_label("Shows").select_option("colour")
    worn.settle()
    expect(page.locator(".line summary", has_text="Undercoat")).to_contain_text("brown")
    assert np.abs(worn.picture() - before).max() > 20
    expect(page.get_by_label("Rim", exact=True)).to_be_visible()
    expect(page.get_by_label("Blend mode", exact=True)).to_have_count(0)  # it lays itself over
    assert faults(page) == []


def test_walls_of_textures_and_of_modes_by_textures(worn):
    page = worn.page
    page.locator("[data-kind=textures]").first.click()
    expect(page.locator(".tryout[aria-current]")).to_contain_text("Grunge · now")
    page.locator('.tryout[data-words="Concrete"]').focus()
    page.keyboard.press("Enter")
    worn.settle()
    expect(page.locator("#sheet .texture-field b").first).to_have_text("Concrete")
    page.get_by_role("button", name="Step", exact=True).click()
    page.locator(".dropdown-menu.show", has_text="Texture coat").get_by_text("Texture coat").click()
    worn.settle()
    page.locator("[data-kind=pairs]").click()
    expect(page.locator(".tryout").first).to_be_focused()
    page.keyboard.press("End")
    page.keyboard.press("Enter")
    worn.settle()
    coat = next(one for one in worn.mark("PELLWICK")["treatment"] if one["kind"] == "coat")
    assert coat["params"]["texture"]
    page.get_by_label("Blends").select_option("both")
    worn.settle()
    page.get_by_label("In the darks", exact=True).focus()
    page.keyboard.press("End")
    worn.settle()
    coat = next(one for one in worn.mark("PELLWICK")["treatment"] if one["kind"] == "coat")
    assert coat["params"]["way"] == "both" and coat["params"]["in_darks"] == 3
    expect(page.get_by_label("Blend mode", exact=True)).to_have_count(0)


def test_words_that_change_keep_their_points_until_they_are_solved_again(worn):
    page = worn.page
    worn.step("Bare")
    page.get_by_role("textbox", name="Words", exact=True).fill("PELLHAVEN")
    page.get_by_role("textbox", name="Words", exact=True).press("Tab")
    worn.settle()
    worn.step("Wear")
    note = page.locator("[data-solved-note]")
    expect(note).to_contain_text("Solved for the words before")
    page.locator("[data-before-after]").click()
    panes = page.locator("[data-pane]")
    expect(panes.nth(0).locator("select")).to_have_value(re.compile(r"\d+"))
    expect(panes.nth(0).locator("li").first).to_contain_text("Taken away")
    expect(panes.nth(1).locator("li").first).to_contain_text("Taken away")
    for n in (0, 1):
        expect(panes.nth(n)).to_have_attribute("data-drawn", re.compile(r"\d+"))
    chosen = [panes.nth(n).locator("select option:checked").text_content() for n in (0, 1)]
    assert chosen == ["Before the words or art changed", "As it is"]
    assert faults(page) == []
    page.keyboard.press("Escape")
    page.locator("[data-solve-again]").focus()
    page.keyboard.press("Enter")
    worn.settle()
    expect(note).to_have_text(re.compile(r"Solved: takes \d+\.\d %"))


def test_two_versions_move_and_zoom_together(bench):
    page = bench.page
    page.keyboard.press("v")
    panes = page.locator("[data-pane]")
    for n in (0, 1):
        expect(panes.nth(n)).to_have_attribute("data-drawn", re.compile(r"\d+"))
    views = page.locator("[data-view]")
    panes.nth(0).locator("select").select_option(label="As it is")
    page.wait_for_timeout(1500)

    def shown():
        return [views.nth(n).locator("canvas").evaluate("c => c.toDataURL()") for n in (0, 1)]

    fitted = shown()
    assert fitted[0] == fitted[1]
    views.nth(1).focus()
    page.keyboard.press("1")
    page.keyboard.press("ArrowRight")
    page.wait_for_timeout(1500)
    close = shown()
    assert close[0] == close[1] != fitted[0]
    box = views.nth(0).bounding_box()
    page.mouse.move(box["x"] + 200, box["y"] + 200)
    page.mouse.down()
    page.mouse.move(box["x"] + 260, box["y"] + 230, steps=4)
    page.mouse.up()
    page.wait_for_timeout(1500)
    assert shown()[0] == shown()[1] != close[0]
    assert faults(page) == []
    page.keyboard.press("Escape")


def test_a_treatment_is_kept_as_a_recipe_and_art_that_comes_in_starts_from_it(bench):
    page = bench.page
    begun = bench.document
    bench.tab("PELLWICK")
    page.keyboard.press("r")
    page.locator("[data-name]").fill("Harbour wear")
    page.locator("[data-keep]").click()
    expect(page.locator("#looks-dialog .tryout", has_text="Harbour wear")).to_be_visible()
    assert faults(page) == []
    page.keyboard.press("Escape")
    bench.open()
    try:
        page.locator("[data-add-mark]").click()
        page.locator("#new-words").fill("TEA")
        page.get_by_role("button", name="Set these words").click()
        offer = page.locator("#looks-dialog.starting")
        expect(offer.locator(".tryout", has_text="Harbour wear")).to_be_focused()
        assert faults(page) == []
        page.keyboard.press("p")
        expect(offer.locator(".pinned-look")).to_have_count(1)
        for sizes in ("physical", "scaled"):  # asked anew before the other is there
            offer.locator("[data-sizes]").select_option(sizes)
        expect(offer.locator("[data-pin-card][aria-pressed=true]")).to_have_count(1)
        expect(offer.locator(".tryout img[src]").first).to_be_visible()
        expect(offer.locator(".reading")).to_be_hidden()  # nothing says that there are no recipes
        page.keyboard.press("Escape")  # skipped
        expect(offer).to_be_hidden()
        assert bench.mark("TEA")["treatment"] == []
        bench.settle()
        page.locator("[data-looks]").click()
        page.locator("#looks-dialog .tryout", has_text="Harbour wear").focus()
        page.keyboard.press("Enter")
        bench.settle()
        kinds = [one["kind"] for one in bench.mark("TEA")["treatment"]]
        assert kinds == [one["kind"] for one in bench.mark("PELLWICK")["treatment"]]
        assert "Harbour wear" in bench.told["undo"]
        bench.back_to(begun)
    finally:
        page.goto("/recipes/")
        page.get_by_role("button", name="Throw Harbour wear away").click()
        expect(page.get_by_text("is in the bin for 30 days")).to_be_visible()
