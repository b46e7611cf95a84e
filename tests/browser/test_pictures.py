"""How pictures come to the stage: coarse drafts, very large exact ones, groups, a kiln that is
still cold.
"""

import numpy as np
import pytest
from playwright.sync_api import expect

from tests.browser.driver import until

pytestmark = pytest.mark.browser
STAGE = "Alpine.$data(document.getElementById('bench')).bench().stage"


def blocks(picture):
    """Means of 8 x 8 px, of the part that both pictures have."""
    rows, columns = (side // 8 - 1 for side in picture.shape[:2])
    return picture[: rows * 8, : columns * 8].reshape(rows, 8, columns, 8, 3).mean((1, 3))[:40, :60]


def test_a_slow_draft_comes_at_half_its_resolution_and_lies_where_the_exact_one_does(bench):
    bench.tab("PELLWICK")
    bench.step("Bare")
    bench.settle()
    bench.page.wait_for_timeout(
        400
    )  # nothing may be on its way: a newer picture would put the coarse one off
    until(bench.page, f"!{STAGE}.pictures.running && !{STAGE}.pictures.wanted")
    sharp, place = bench.picture(), bench.page.locator("#picture").bounding_box()
    sizes = bench.page.evaluate(f"""async () => {{
        const stage = {STAGE};
        stage.slow = true;
        clearTimeout(stage.timer);
        stage.told = null; // as if it were not exact
        await stage.want("draft");
        return [stage.canvas.width, stage.canvas.height];
    }}""")
    assert sizes[0] == pytest.approx(sharp.shape[1] / 2, abs=1) and sizes[1] == pytest.approx(
        sharp.shape[0] / 2, abs=1
    )
    coarse = bench.page.locator("#picture").bounding_box()
    assert all(abs(coarse[side] - place[side]) <= 2 for side in ("x", "y", "width", "height"))
    draft = np.repeat(np.repeat(bench.picture(), 2, 0), 2, 1)
    assert np.abs(blocks(draft) - blocks(sharp)).mean() < 4
    bench.page.evaluate(f"{STAGE}.rest(0)")
    until(bench.page, "document.getElementById('stage').dataset.quality === 'exact'")
    np.testing.assert_array_equal(bench.picture(), sharp)


def test_a_very_large_exact_picture_comes_band_by_band(page):
    """30 megapixels behind one view: the draft first, then the file's own pixels from the top down,
    and said so.
    """
    page.goto("/pieces/start/")
    page.get_by_label("Title").fill("Pier banner")
    page.get_by_label("Width").fill("6000")
    page.get_by_label("Height").fill("5000")
    page.get_by_role("button", name="Start", exact=True).click()
    page.wait_for_url("**/pieces/*-*/")
    page.wait_for_selector("#stage[data-quality=exact]", timeout=60_000)
    told = page.evaluate("""() => new Promise((done) => {
        const said = [];
        const stage = Alpine.$data(document.getElementById('bench')).bench().stage;
        window.addEventListener('picture-told', ({ detail }) => {
            said.push([detail.quality, document.querySelector('.telling').textContent]);
            if (detail.quality === 'exact') done(said);
        });
        stage.told = null; // as if nothing were shown yet
        stage.move();
    })""")
    assert (
        [quality for quality, _ in told].count("sharpening") >= 2
        and told[0][0] == "draft"
        and told[-1][0] == "exact"
    )
    expect(page.locator(".telling")).to_have_text("Exact · this is what fires")


def test_a_group_is_shown_chosen_and_moved_as_one(bench):
    """Grouped by the edit: its tab, its sheet, its members' tabs; dragged, all of it moves."""
    ids = [mark["id"] for mark in bench.document["stack"]]
    bench.page.evaluate(
        """(marks) => Alpine.$data(document.getElementById('bench')).bench().session
        .change([{ op: 'group', marks }], 'Grouped', { reload: true })""",
        ids,
    )
    until(bench.page, "document.querySelectorAll('#strip .tab[data-mark]').length === 3")
    bench.settle()
    bench.page.get_by_role("tab", name="Group of 2").click()
    expect(bench.page.locator("#sheet h2")).to_have_text("Group")
    before, boxes = bench.picture(), bench.told["boxes"]
    group = bench.document["stack"][0]["id"]
    middle = boxes[group]["x"], boxes[group]["y"]
    bench.drag(bench.at(*middle), bench.at(middle[0] + 60, middle[1] + 40))
    bench.settle()
    after = bench.told["boxes"]
    for item_id in (group, *ids):
        assert after[item_id]["x"] - boxes[item_id]["x"] == pytest.approx(60, abs=12) and after[
            item_id
        ]["y"] - boxes[item_id]["y"] == pytest.approx(40, abs=12)
    assert np.abs(bench.picture() - before).mean() > 0.5
    bench.tab("PELLWICK")
    expect(bench.page.locator("#sheet h2")).not_to_have_text("Group")
    for _ in range(2):
        bench.page.keyboard.press("Control+z")
        bench.settle()
    assert [mark["id"] for mark in bench.document["stack"]] == ids
