"""What scripts work out by themselves, each module in a page without a server: numbers as the
server writes them, what snaps, what lies where, bands, the view, and the line of changes.
"""

import numpy as np
import pytest

from kilncore.model.units import format_number
from tests.browser.modules import Modules

pytestmark = pytest.mark.browser
PAGE = {"width": 400, "height": 300}


def box(x, y, width=40, height=30, turn=0):
    return {"x": x, "y": y, "width": width, "height": height, "rotation_deg": turn}


@pytest.fixture
def of(browser):
    """of(**paths): modules by name; closed at the end."""
    opened = []

    def opening(**paths):
        opened.append(Modules(browser, **paths))
        return opened[-1].run

    yield opening
    for one in opened:
        one.close()


def test_numbers_are_written_as_the_server_writes_them(of):
    run = of(numbers="controls/lib/numbers.js")
    spread = [
        n * 10.0**power for n in (1, 1.005, 2.5, 3.14159, 9.995, 99.96) for power in range(-4, 5)
    ]
    values = [0, 1, -1, 0.5, 100, 1000, 0.1 + 0.2, *spread, *(-n for n in spread)]
    found = run("return a.map((one) => numbers.formatNumber(one))", values)
    wrong = [
        (v, f, format_number(v))
        for v, f in zip(values, found, strict=True)
        if f != format_number(v)
    ]
    # halves may fall to either side, by a unit of the last place that is shown
    assert all(abs(float(f) - float(w)) <= 0.1001 * max(abs(v), 0.01) for v, f, w in wrong)
    assert len(wrong) <= len(values) // 20


# --- snapping ---

SNAP = "const guides = snapping.snapped(a, b, 6, c ?? []); return { box: a, guides };"


@pytest.mark.parametrize(
    "start, ends",
    [
        (box(203, 150), (200, 150)),  # its middle to the page's
        (box(17, 150), (20, 150)),  # its left side to the page's
        (box(383, 288), (380, 285)),  # right and below
        (box(100, 100), (100, 100)),  # nothing is near
    ],
)
def test_what_is_dragged_snaps_to_the_page(of, start, ends):
    found = of(snapping="bench/hands/snapping.js")(SNAP, start, PAGE)
    assert (found["box"]["x"], found["box"]["y"]) == ends


def test_sides_and_middles_of_others(of):
    run = of(snapping="bench/hands/snapping.js")
    found = run(SNAP, box(104, 60), PAGE, [box(140, 200, 30, 20)])
    assert found["box"]["x"] == 105  # right side to the other's left, 125
    assert {"axis": "x", "at": 125} in found["guides"]
    found = run(SNAP, box(138, 60), PAGE, [box(140, 200, 30, 20)])
    assert found["box"]["x"] == 140  # middles are nearest


def test_equal_gaps_between_two_and_beside_two(of):
    run = of(snapping="bench/hands/snapping.js")
    between = run(SNAP, box(152, 100), PAGE, [box(60, 100), box(250, 100)])
    assert between["box"]["x"] == pytest.approx(155)  # 80 .. 135 and 175 .. 230: 55 on both sides
    assert len([one for one in between["guides"] if one["axis"] == "x"]) == 2
    beside = run(SNAP, box(241, 100), PAGE, [box(60, 100), box(149, 100)])
    assert beside["box"]["x"] == pytest.approx(238)  # as far on as the two are apart: 49


def test_turned_boxes_snap_by_what_is_around_them(of):
    found = of(snapping="bench/hands/snapping.js")(SNAP, box(25, 150, 40, 40, 45), PAGE)
    half = 20 * np.sqrt(2)
    assert found["box"]["x"] == pytest.approx(half, abs=1e-6)


# --- finding ---

FIND = """
    const session = { snapshot: { boxes: a.boxes }, document: { stack: a.stack },
        groupsAround: (id) => a.around[id] ?? [] };
    return finding[b](session, ...c);
"""


def stack(**flags):
    items = [{"id": name} | flags.get(name, {}) for name in ("low", "mid", "top")]
    boxes = {"low": box(100, 100, 200, 150), "mid": box(120, 110), "top": box(130, 110)}
    return {"stack": items, "boxes": boxes, "around": {}}


@pytest.mark.parametrize(
    "at, flags, expected",
    [
        ([125, 110], {}, "top"),
        ([105, 110], {}, "mid"),
        ([30, 60], {}, "low"),
        ([390, 290], {}, None),
        ([125, 110], {"top": {"locked": True}}, "mid"),
        ([125, 110], {"top": {"left_out": True}, "mid": {"left_out": True}}, "low"),
    ],
)
def test_the_topmost_that_is_free_lies_at_a_point(of, at, flags, expected):
    run = of(finding="bench/hands/finding.js")
    assert run(FIND, stack(**flags), "markAt", [at, None]) == expected


def test_within_a_group_its_members_are_found_first(of):
    run = of(finding="bench/hands/finding.js")
    members = [{"id": "inner"}]
    piece = stack()
    piece["stack"].append({"id": "group", "members": members})
    piece["boxes"] |= {"inner": box(125, 110, 10, 10), "group": box(125, 110, 60, 60)}
    assert run(FIND, piece, "markAt", [[125, 110], None]) == "group"
    piece["around"] = {"inner": [{"members": members}]}
    assert run(FIND, piece, "markAt", [[125, 110], "inner"]) == "inner"
    assert run(FIND, piece, "markAt", [[101, 110], "inner"]) == "group"
    assert run(FIND, piece, "memberAt", [{"members": members}, [125, 110]]) == "inner"


def test_a_frame_takes_what_it_touches(of):
    run = of(finding="bench/hands/finding.js")
    frame = {"left": 141, "right": 160, "top": 90, "bottom": 100}
    assert run(FIND, stack(), "marksWithin", [frame]) == ["low", "top"]
    assert run(FIND, stack(low={"locked": True}), "marksWithin", [frame]) == ["top"]


# --- bands and the view ---


@pytest.mark.parametrize("zoom", [2, 1, 0.4, 0.08, 0.03])
def test_bands_cover_the_view_once(of, zoom):
    asked = {"left": 13, "top": 7, "width": 901, "height": 611, "zoom": zoom}
    parts = of(bands="bench/stage/bands.js")("return bands.bands(a)", asked)
    below = 0
    for part in parts:
        region = part["region"]
        assert part["below"] == below
        assert (region["x"] * zoom, region["width"] * zoom) == pytest.approx((13, 901))
        assert region["y"] * zoom == pytest.approx(7 + below)
        below += round(region["height"] * zoom)
    assert below == 611
    behind = 901 * 611 / min(zoom, 1) ** 2
    assert (len(parts) > 1) == (behind > 20e6)


VIEW = """
    const shown = new views.View({ clientWidth: 900, clientHeight: 500 }, [2400, 1600]);
"""


def test_fitted_the_whole_piece_is_seen_with_a_margin(of):
    run = of(views="bench/stage/view.js")
    left, top, right, bottom = run(
        VIEW + "return [...shown.toStage(0, 0), ...shown.toStage(2400, 1600)]"
    )
    assert min(left, top, 900 - right, 500 - bottom) >= 27
    assert min(left, top, 900 - right, 500 - bottom) <= 29


@pytest.mark.parametrize("zoom", [0.05, 0.5, 1, 7])
def test_zooming_keeps_the_point_under_the_pointer(of, zoom):
    run = of(views="bench/stage/view.js")
    before, after = run(
        VIEW
        + """const before = shown.toPiece(450, 260); shown.zoomTo(a, [450, 260]);
        return [before, shown.toPiece(450, 260)]""",
        zoom,
    )
    assert after == pytest.approx(before, abs=1e-6)


def test_stage_and_piece_are_each_the_others_way_back(of):
    run = of(views="bench/stage/view.js")
    found = run(
        VIEW
        + """shown.zoomTo(0.37, [100, 80]); shown.pan(31, -17);
        return a.map((at) => shown.toPiece(...shown.toStage(...at)))""",
        [[0, 0], [1200, 800], [2399, 1], [17.5, 993.25]],
    )
    # the corner lies on a whole pixel of the screen: half of one, 1.4 px of the piece
    np.testing.assert_allclose(found, [[0, 0], [1200, 800], [2399, 1], [17.5, 993.25]], atol=1.5)


def test_the_piece_stays_in_reach_and_what_is_asked_for_within_it(of):
    run = of(views="bench/stage/view.js")
    region = run(VIEW + "shown.zoomTo(1); shown.pan(-9000, 9000); return shown.region")
    assert 0 <= region["x"] < 2400 and 0 <= region["y"] < 1600
    assert region["x"] + region["width"] <= 2400.5 and region["y"] + region["height"] <= 1600.5
    assert min(region["width"], region["height"]) > 0


# --- the channel ---


def test_what_is_heard_ends_when_it_is_ended(of):
    run = of(events="bench/events.js")
    body = """
        const heard = [];
        const end = events.hear("piece-told", (detail) => heard.push(detail.version));
        events.say("piece-told", { version: 1 });
        events.say("piece-saving");
        end();
        events.say("piece-told", { version: 2 });
        return heard;
    """
    assert run(body) == [1]


def test_a_part_that_comes_later_wins_and_keeps_its_getters(of):
    run = of(parts="controls/lib/with_parts.js")
    body = """
        const made = parts.withParts(
            { size: 2, get twice() { return 2 * this.size; }, name: () => "first" },
            { name: () => "second" },
        );
        made.size = 5;
        return [made.twice, made.name()];
    """
    assert run(body) == [10, "second"]


# --- the line of changes ---

LINE = """
    const told = [], answers = [...a];
    for (const name of ["piece-told", "piece-saving", "trouble-told", "changes-kept"])
        events.hear(name, (detail) => told.push([name, detail]));
    const posted = [];
    window.fetch = async (url, { body }) => {
        posted.push({ url, ...JSON.parse(body) });
        const next = answers.shift();
        if (next === null || next === undefined) throw new TypeError("nobody answers");
        return new Response(JSON.stringify(next.data), { status: next.status ?? 200,
            headers: { "Content-Type": "application/json", "X-Kilnmark": "1" } });
    };
    const session = new sessions.Session("/pieces/1/", { version: 1, document: { stack: [] } });
    await session.takenUp;
    const set = (name, value, more) => session.change(
        [{ op: "set", path: [name], value }], name, more);
    const rest = (ms = 0) => new Promise((done) => setTimeout(done, ms));
"""


@pytest.fixture
def line(of):
    """line(answers, body): what is posted and said, of a session whose server gives these."""
    run = of(sessions="bench/changes/session.js", events="bench/events.js")
    return lambda answers, body: run(LINE + body, answers)


def state(version):
    return {"data": {"version": version, "document": {"stack": []}}}


def test_changes_go_one_after_another_each_on_the_state_before(line):
    found = line(
        [state(2), state(3), state(4)],
        """
        await Promise.all([set("x", 1), set("y", 2), set("z", 3)]);
        return { posted, version: session.version, waiting: session.queue.length };
        """,
    )
    assert [one["version"] for one in found["posted"]] == [1, 2, 3]
    assert [one["label"] for one in found["posted"]] == ["x", "y", "z"]
    assert len({one["token"] for one in found["posted"]}) == 3
    assert (found["version"], found["waiting"]) == (4, 0)


def test_nobody_answers_and_the_same_change_is_sent_again(line):
    found = line(
        [None, state(2)],
        """
        const done = set("x", 1);
        await rest(50);
        const waits = session.waits;
        session.again();
        await done;
        return { posted, waits, left: session.waits };
        """,
    )
    first, second = found["posted"]
    assert first == second  # the same token: done once, however often it comes
    assert (found["waits"], found["left"]) == (1, 0)


def test_a_stale_change_is_made_again_on_the_newest(line):
    newest = state(7)["data"]
    found = line(
        [{"status": 409, "data": {"reason": "stale", "newest": newest}}, state(8)],
        "const answer = await set('x', 1); return { posted, ok: answer.ok, told };",
    )
    assert [one["version"] for one in found["posted"]] == [1, 7]
    assert found["ok"]


def test_what_cannot_be_made_again_is_kept_and_what_undoes_it_too(line):
    newest = state(7)["data"]
    refused = {"status": 422, "data": {"message": "There is no such mark on this piece."}}
    found = line(
        [{"status": 409, "data": {"reason": "stale", "newest": newest}}, refused, state(8)],
        """
        const all = [set("gone", 1), session.undo(), set("stays", 2)];
        await Promise.all(all);
        return { posted, kept: session.line.kept.map(({ why, url }) => [url, why]),
            said: told.filter(([name]) => name === "changes-kept").length };
        """,
    )
    assert [one.get("label") for one in found["posted"]] == ["gone", "gone", "stays"]
    (first, why), (second, then) = found["kept"]
    assert (first, second) == ("change/", "undo/")
    assert why == "There is no such mark on this piece." and "could not be made" in then
    assert found["said"] == 2


def test_a_change_that_is_kept_is_made_after_all_or_let_go(line):
    newest = state(7)["data"]
    stale = {"status": 409, "data": {"reason": "stale", "newest": newest}}
    refused = {"status": 422, "data": {"message": "Not there."}}
    found = line(
        [stale, refused, state(8), stale, refused],
        """
        await set("x", 1);
        const [{ token }] = session.line.kept;
        await session.line.make(token);
        const afterwards = session.line.kept.length;
        await set("y", 2);
        session.line.letGo(session.line.kept[0].token);
        return { posted: posted.map(({ label }) => label), afterwards,
            kept: session.line.kept.length };
        """,
    )
    assert found["posted"] == ["x", "x", "x", "y", "y"]
    assert (found["afterwards"], found["kept"]) == (0, 0)


def test_of_one_visit_only_the_last_waits(line):
    found = line(
        [state(2), state(3)],
        """
        const visit = "visit-1";
        const first = set("text", "a", { visit });
        const rest_ = [set("text", "ab", { visit }), set("text", "abc", { visit })];
        await Promise.all([first, ...rest_]);
        return posted.map(({ edits: [{ value }], visit: of }) => [value, of]);
        """,
    )
    assert found == [["a", "visit-1"], ["abc", "visit-1"]]


def test_what_is_not_stored_is_told_with_the_last_value_of_each_place(line):
    found = line(
        [],
        """
        set("x", 1); set("y", 2); set("x", 3);
        session.draft([{ op: "set", path: ["z"], value: 4 }]);
        return session.unsaved.map(({ path: [name], value }) => [name, value]);
        """,
    )
    assert found == [["y", 2], ["x", 3], ["z", 4]]


def test_a_value_set_back_while_its_change_is_on_its_way_is_sent_too(line):
    found = line(
        [state(2), state(3)],
        """
        const first = session.changeValues([{ op: "set", path: ["x"], value: 60 }], "up");
        const second = session.changeValues([{ op: "set", path: ["x"], value: 0 }], "back");
        await Promise.all([first, second]);
        return posted.map(({ edits: [{ value }] }) => value);
        """,
    )
    assert found == [60, 0]


def test_what_a_hand_has_begun_is_stored_before_anything_else(line):
    found = line(
        [state(2), state(3)],
        """
        session.later(() => set("nudged", 1), 10000);
        const resting = session.resting;
        await set("other", 2);
        return { order: posted.map(({ label }) => label), resting };
        """,
    )
    assert found == {"order": ["nudged", "other"], "resting": False}


def test_a_foreign_page_is_no_answer(line):
    found = line(
        [],
        """
        window.fetch = async () => new Response("<html>hotel</html>", { status: 200 });
        set("x", 1);
        await rest(30);
        const trouble = told.findLast(([name]) => name === "trouble-told");
        return { waits: session.waits, trouble };
        """,
    )
    assert found["waits"] == 1
    assert "does not answer" in found["trouble"][1]["message"]


def test_all_is_settled_or_waits(line):
    found = line(
        [state(2), None],
        """
        set("x", 1);
        const stored = await session.settled();
        set("y", 2);
        const waits = await session.settled();
        return [stored, waits];
        """,
    )
    assert found == [True, False]
