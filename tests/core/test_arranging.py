"""Several marks: grouped, nested, dissolved, lined up; left out and locked; treatments copied; art
replaced. Nothing moves on the piece that is not meant to.
"""

import numpy as np
import pytest

from kilncore import engine
from kilncore.document import MAX_DEPTH, load
from kilncore.edits import apply
from kilncore.errors import KilnError
from kilncore.layout.layout import Layout, joint_box, upright
from kilncore.system.cache import ByteCache
from tests.documents import group, lettering, mark, piece, step

SIZE = (420, 320)


def pixels(document, store=None, **how):
    return engine.pixels(document, None, 1.0, store, cache=ByteCache(), **how)


def three(**more):
    marks = [
        mark(lettering(text, 60, colour), x, y, **place)
        for text, colour, x, y, place in (
            ("SEA", "#c03020", 110, 80, {}),
            ("BELL", "#2040a0", 230.4, 160.2, {"rotation_deg": 20, "scale": 1.2}),
            ("KEY", "#208040", 300, 250, {"rotation_deg": -35}),
        )
    ]
    return piece(*marks, size=SIZE, **more)


def ids(document):
    return [item.id for item in document.stack]


def boxes(document):
    return Layout(document).boxes()


def same_boxes(before, after, names=None, within=1e-6):
    for name in names or before:
        for value in ("x", "y", "width", "height"):
            assert getattr(after[name], value) == pytest.approx(
                getattr(before[name], value), abs=within
            )
        turn = after[name].rotation_deg - before[name].rotation_deg
        assert (turn + 180) % 360 - 180 == pytest.approx(0, abs=within)


def test_grouping_nesting_and_dissolving_moves_nothing(store):
    of = three()
    first, second, third = ids(of)
    bare, look = boxes(of), pixels(of, store)
    of = apply(of, [{"op": "group", "marks": [second, third]}])
    inner = of.stack[1].id
    of = apply(of, [{"op": "group", "marks": [first, inner]}])
    outer = of.stack[0].id
    of = apply(of, [{"op": "transform_marks", "marks": [outer], "about": [0, 0], "by": [3, -2]}])
    of = apply(of, [{"op": "transform_marks", "marks": [outer], "about": [0, 0], "by": [-3, 2]}])
    assert [len(g.members) for g in of.groups()] == [2, 2]
    same_boxes(bare, boxes(of), [first, second, third])
    assert np.abs(pixels(of, store).astype(int) - look).max() <= 1
    of = apply(of, [{"op": "ungroup", "group": inner}, {"op": "ungroup", "group": outer}])
    assert ids(of) == [first, second, third]
    same_boxes(bare, boxes(of), [first, second, third])


def test_a_group_in_a_group_in_a_group_is_drawn_and_too_deep_is_said(store):
    of = three()
    first, rest = ids(of)[0], ids(of)[1:]
    for _ in range(MAX_DEPTH):
        of = apply(of, [{"op": "group", "marks": [of.stack[0].id]}])
    look = pixels(three(), store)
    assert np.abs(pixels(of, store).astype(int) - look).max() <= 1
    with pytest.raises(KilnError, match="deep at most"):
        apply(of, [{"op": "group", "marks": [of.stack[0].id]}])
    way = of.way_to(first)
    assert len(way) == 2 * (MAX_DEPTH + 1) and way[0] == "stack"
    worn = apply(of, [{"op": "add_step", "part": first, "kind": "soften"}])
    assert len(worn.item(first).treatment) == 1 and rest


def test_put_into_a_group_and_taken_out_it_stays_where_it_lies(store, texture):
    worn = [step("wear", texture=texture, black=0.3, white=0.7)]
    of = three()
    first, second, third = ids(of)
    of = apply(of, [{"op": "group", "marks": [second, third]}])
    holder = of.stack[1].id
    turned = [{"op": "set", "path": ["stack", holder, "placement", "rotation_deg"], "value": 30}]
    of = apply(
        of,
        [*turned, {"op": "add_step", "part": holder, "kind": "wear", "params": worn[0]["params"]}],
    )
    before, frame = boxes(of), Layout(of).frame(of.item(holder))
    inside = apply(of, [{"op": "place_mark", "mark": first, "into": holder, "to": 0}])
    assert [m.id for m in inside.item(holder).members] == [first, second, third]
    same_boxes(before, boxes(inside), [first, second, third])
    now = Layout(inside).frame(inside.item(holder))  # what was worn is worn as it was
    assert (now.x, now.y, now.unit_px, now.rotation) == pytest.approx(
        (frame.x, frame.y, frame.unit_px, frame.rotation), abs=1e-5
    )
    out = apply(inside, [{"op": "place_mark", "mark": first, "to": 0}])
    assert ids(out) == [first, holder]
    same_boxes(before, boxes(out), [first, second, third])
    with pytest.raises(KilnError, match="into itself"):
        apply(out, [{"op": "place_mark", "mark": holder, "into": holder}])
    alone = apply(out, [{"op": "place_mark", "mark": one} for one in (second, third)])
    assert holder not in ids(alone)  # a group that is empty goes


def test_tabs_are_moved_with_places_counted_as_they_stand():
    of = three()
    first, second, third = ids(of)
    assert ids(apply(of, [{"op": "place_mark", "mark": first, "to": 2}])) == [second, first, third]
    assert ids(apply(of, [{"op": "place_mark", "mark": third, "to": 0}])) == [third, first, second]
    assert ids(apply(of, [{"op": "place_mark", "mark": second}])) == [first, third, second]


def test_overlapping_marks_in_a_group_wear_as_their_union(store, texture):
    """Common practice: worn as one, no seam shows where letters overlap. Against one mark whose
    outline is the union: letters of one lettering, which are united before they are drawn. Where
    edges of both lie in one pixel, what they cover together is not known: those are left out.
    """
    worn = [step("wear", texture=texture, black=0.3, white=0.7)]
    whole = lettering("HH", 120, tracking=-420)
    union = piece(mark(whole, 200, 160, worn), size=SIZE, ground={"kind": "none"})
    art = union.stack[0].art
    width = art.box_px(300, SIZE[1])[0]
    one = art.model_copy(update={"text": "H"}).box_px(300, SIZE[1])[0]
    offset = (width - one) / 2
    pair = [mark(lettering("H", 120), x, 0) for x in (-offset, offset)]
    tree = piece(group(*pair, x=200, y=160, treatment=worn), size=SIZE, ground={"kind": "none"})
    tree = tree.model_dump(mode="json")
    frame, item = Layout(union).frame(union.stack[0]), load(tree).stack[0]
    bare = Layout(load(tree)).frame(item)
    tree["stack"][0]["frame"] = {
        "x": (frame.x - bare.x) / bare.unit_px,
        "y": (frame.y - bare.y) / bare.unit_px,
        "unit": frame.unit_px / bare.unit_px,
    }
    tree["stack"][0]["seed"] = union.stack[0].seed
    a, b = (pixels(of, store)[..., 3].astype(int) for of in (union, load(tree)))
    parts = [
        pixels(piece(mark(lettering("H", 120), 200 + x, 160), size=SIZE, ground={"kind": "none"}))
        for x in (-offset, offset)
    ]
    edges = [(part[..., 3] > 0) & (part[..., 3] < 255) for part in parts]
    assert ((parts[0][..., 3] == 255) & (parts[1][..., 3] == 255)).sum() > 500
    assert (
        np.abs(a - b)[~(edges[0] & edges[1])].max() <= 2
        and (a > 100).sum() > 2000
        and len(np.unique(a)) > 50
    )


def test_what_is_left_out_is_not_fired_and_still_holds_others(store):
    of = three()
    first, second, third = ids(of)
    out = apply(
        of, [{"op": "flag_marks", "marks": [second, third], "flag": "left_out", "on": True}]
    )
    alone = apply(of, [{"op": "remove_marks", "marks": [second, third]}])
    np.testing.assert_array_equal(pixels(out, store), pixels(alone, store))
    held = [{"kind": "mark", "mark": second, "outside": True}]
    path = ["stack", first, "landing", "limits"]
    a = apply(of, [{"op": "set", "path": path, "value": held}])
    b = apply(a, [{"op": "flag_marks", "marks": [second], "flag": "left_out", "on": True}])
    shown = apply(a, [{"op": "set", "path": ["stack", second, "landing", "strength"], "value": 0}])
    np.testing.assert_array_equal(pixels(b, store), pixels(shown, store))
    nothing = apply(of, [{"op": "flag_marks", "marks": ids(of), "flag": "left_out", "on": True}])
    bare = apply(of, [{"op": "remove_marks", "marks": ids(of)}])
    np.testing.assert_array_equal(pixels(nothing, store), pixels(bare, store))


def test_a_group_of_what_is_left_out_is_nothing(store, texture):
    worn = [step("wear", texture=texture), step("soften")]
    of = piece(group(mark(lettering("O", 60), 0, 0), x=200, y=160, treatment=worn), size=SIZE)
    inner = of.stack[0].members[0].id
    out = apply(of, [{"op": "flag_marks", "marks": [inner], "flag": "left_out", "on": True}])
    bare = apply(of, [{"op": "remove_mark", "mark": of.stack[0].id}])
    np.testing.assert_array_equal(pixels(out, store), pixels(bare, store))


@pytest.mark.parametrize(
    "to, value",
    [
        ("left", lambda b: b.left),
        ("right", lambda b: b.right),
        ("middle", lambda b: (b.left + b.right) / 2),
        ("top", lambda b: b.top),
        ("bottom", lambda b: b.bottom),
        ("centre", lambda b: (b.top + b.bottom) / 2),
    ],
)
def test_aligned_by_what_is_seen_of_them(to, value):
    of = three()
    whole = joint_box(boxes(of).values())
    after = apply(of, [{"op": "align", "marks": ids(of), "to": to}])
    lines = [value(upright(box)) for box in boxes(after).values()]
    assert lines == pytest.approx([value(whole)] * 3)
    (alone,) = [apply(of, [{"op": "align", "marks": ids(of)[:1], "to": to}])]
    page = {
        "left": 0,
        "right": SIZE[0],
        "middle": SIZE[0] / 2,
        "top": 0,
        "bottom": SIZE[1],
        "centre": SIZE[1] / 2,
    }
    assert value(upright(boxes(alone)[ids(of)[0]])) == pytest.approx(page[to])


@pytest.mark.parametrize(
    "along, low, high", [("across", "left", "right"), ("down", "top", "bottom")]
)
def test_spread_at_equal_gaps(along, low, high):
    of = three()
    after = apply(of, [{"op": "spread", "marks": ids(of), "along": along}])
    row = sorted((upright(box) for box in boxes(after).values()), key=lambda b: getattr(b, low))
    gaps = [getattr(b, low) - getattr(a, high) for a, b in zip(row, row[1:], strict=False)]
    assert gaps[0] == pytest.approx(gaps[1])
    with pytest.raises(KilnError, match="three marks"):
        apply(of, [{"op": "spread", "marks": ids(of)[:2], "along": along}])


def test_members_are_lined_up_on_the_piece_whatever_group_they_are_in():
    of = three()
    first, second, third = ids(of)
    of = apply(of, [{"op": "group", "marks": [second, third]}])
    holder = of.stack[1].id
    of = apply(
        of,
        [
            {"op": "set", "path": ["stack", holder, "placement", k], "value": v}
            for k, v in (("rotation_deg", 40), ("scale", 0.7))
        ],
    )
    after = apply(of, [{"op": "align", "marks": [first, third], "to": "left"}])
    lefts = [upright(boxes(after)[one]).left for one in (first, third)]
    assert lefts[0] == pytest.approx(lefts[1])


def test_several_are_turned_and_scaled_about_a_point_together():
    of = three()
    edit = {
        "op": "transform_marks",
        "marks": ids(of),
        "about": [200, 160],
        "by": [10, -5],
        "scale": 1.5,
        "turn": 90,
    }
    after = boxes(apply(of, [edit]))
    for name, box in boxes(of).items():
        x, y = box.x - 200, box.y - 160
        assert (after[name].x, after[name].y) == pytest.approx((210 - 1.5 * y, 155 + 1.5 * x))
        assert after[name].width == pytest.approx(1.5 * box.width)
    locked = apply(of, [{"op": "flag_marks", "marks": ids(of)[:1], "flag": "locked", "on": True}])
    still = boxes(apply(locked, [edit]))
    assert still[ids(of)[0]] == boxes(of)[ids(of)[0]]


def test_a_treatment_is_copied_to_another_part(texture):
    steps = [
        step("wear", texture=texture, black=0.2),
        step("soften"),
        step("coat", texture=texture),
    ]
    of = three()
    first, second, third = ids(of)
    of = apply(
        of,
        [
            {"op": "add_step", "part": first, "kind": s["kind"], "params": s["params"]}
            for s in steps
        ],
    )
    chosen = of.item(first).treatment[1].id
    one = apply(of, [{"op": "copy_steps", "part": first, "to": second, "steps": [chosen]}])
    assert [s.kind for s in one.item(second).treatment] == ["soften"]
    whole = apply(one, [{"op": "copy_steps", "part": first, "to": second}])
    assert [s.kind for s in whole.item(second).treatment] == ["soften", "wear", "soften", "coat"]
    copied, own = whole.item(second).treatment[1], whole.item(first).treatment[0]
    assert (copied.params, copied.seed, copied.landing) == (own.params, own.seed, own.landing)
    assert copied.id != own.id
    with pytest.raises(KilnError, match="no step to copy"):
        apply(of, [{"op": "copy_steps", "part": third, "to": first}])


@pytest.mark.parametrize("fit", ["box", "height", "width", "area"])
def test_replaced_art_lies_where_the_old_lay_as_large_as_wished(texture, fit):
    worn = step("wear", texture=texture, placement={"x": {"value": 20, "unit": "%"}, "scale": 0.5})
    of = piece(mark(lettering("GULL", 80), 200, 150, [worn], scale=1.3, rotation_deg=15), size=SIZE)
    name = of.stack[0].id
    layout = Layout(of)
    old, frame = layout.box(of.stack[0]), layout.frame(of.stack[0])
    art = {"kind": "vector", "hash": "a" * 64, "width": 300, "height": 90}
    after = apply(of, [{"op": "replace_art", "mark": name, "art": art, "fit": fit}])
    item = after.stack[0]
    new, now = Layout(after).box(item), Layout(after).frame(item)
    assert (new.x, new.y, new.rotation_deg) == pytest.approx((old.x, old.y, old.rotation_deg))
    ratio = 300 / 90
    wide = {
        "height": ratio * old.height,
        "width": old.width,
        "area": (ratio * old.width * old.height) ** 0.5,
        "box": min(old.width, ratio * old.height),
    }[fit]
    assert new.width == pytest.approx(wide) and new.height == pytest.approx(wide / ratio)
    assert (now.x, now.y, now.unit_px, now.rotation) == pytest.approx(
        (frame.x, frame.y, frame.unit_px, frame.rotation), abs=1e-6
    )
    assert item.treatment == of.stack[0].treatment and item.landing == of.stack[0].landing
    back = apply(
        after, [{"op": "replace_art", "mark": name, "art": lettering("GULL", 80), "fit": "height"}]
    )
    assert Layout(back).frame(back.stack[0]).unit_px == pytest.approx(frame.unit_px)


def test_the_art_of_a_group_is_not_replaced():
    of = piece(group(mark(lettering("O", 60), 0, 0), x=200, y=160), size=SIZE)
    with pytest.raises(KilnError, match="its members"):
        apply(of, [{"op": "replace_art", "mark": of.stack[0].id, "art": lettering("A")}])


def test_several_are_copied_and_removed_once_though_their_group_is_chosen_too():
    of = three()
    first, second, third = ids(of)
    of = apply(of, [{"op": "group", "marks": [second, third]}])
    holder = of.stack[1].id
    twins = apply(of, [{"op": "copy_marks", "marks": [holder, second, first]}])
    assert len(twins.stack) == 4 and len(list(twins.items())) == 8
    none = apply(of, [{"op": "remove_marks", "marks": [second, holder]}])
    assert ids(none) == [first]


def test_a_member_whose_group_is_chosen_too_is_lined_up_with_it():
    of = three()
    first, second, third = ids(of)
    of = apply(of, [{"op": "group", "marks": [second, third]}])
    holder = of.stack[1].id
    both, one = (
        boxes(apply(of, [{"op": "align", "marks": marks, "to": "left"}]))
        for marks in ([first, holder, third], [first, holder])
    )
    assert both == one
