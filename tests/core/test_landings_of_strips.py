"""Pictures of the strip are built of the same plan as the piece: they change nothing of what it
holds back.
"""

import numpy as np
import pytest

from kilncore import edits, engine
from kilncore.engine import plans
from kilncore.engine.held_back import held_back
from kilncore.engine.plan import Plan, Point
from kilncore.system.cache import ByteCache
from tests.documents import lettering, mark, piece, px, step


def faded():
    words = mark(lettering("GULLS", 120), 200, 100, [step("grain")])
    ends = {"x0": px(0), "y0": px(0), "x1": px(400), "y1": px(0)}
    words["landing"]["fade"] = {"shape": "straight", **ends}
    return piece(words, ground={"kind": "colour", "colour": "#808080"}, size=(400, 200))


def test_what_is_held_back_is_that_of_the_piece_after_pictures_of_the_strip(store):
    document = faded()
    part = document.stack[0].id
    region = (0, 0, 400, 200)
    before, area = held_back(document, part, None, region, 1.0, store)
    plan = plans.plan_of(document, 1.0)
    for steps in range(3):
        plan.up_to(Point(part, steps))
    after, _ = held_back(document, part, None, region, 1.0, store)
    inside = area > 0.99
    assert np.ptp(before[inside]) > 0.3
    assert np.array_equal(before, after)


def test_every_picture_of_a_piece_knows_the_full_size_of_all_that_it_is_built_of(store, texture):
    """Aims beneath the mark, in a group and on the ground, in drafts: each is solved at full size,
    whichever picture is built first.
    """
    worn = [step("wear", texture=texture, aim=True, share=0.3, least_part=0.2)]
    words = [
        {**mark(lettering(text, 80), 200, 100, worn), "id": text.lower()}
        for text in ("GULL", "TERN", "SKUA")
    ]
    words[2]["landing"]["limits"] = [{"kind": "colour", "colour": "#c03020"}]
    document = piece(*words, size=(400, 200), treatment=worn)
    document = edits.apply(document, [{"op": "group", "marks": ["gull", "tern"]}])
    group = document.stack[0].id
    points = [Point(part, n) for part in (group, "tern", "skua") for n in range(3)]
    points += [Point("piece", 0), Point("piece", 1)]
    pictures = [lambda plan, point=point: plan.up_to(point) for point in points]
    for way in (Plan.item, Plan.bare, Plan.alone, Plan.beneath, Plan.fired_alone):
        pictures += [lambda plan, way=way, part=part: way(plan, part) for part in (group, "skua")]
    pictures += [lambda plan: plan.finished(False), Plan.finished]
    for picture in pictures:
        built = picture(Plan(document, 0.4))
        for one in built.sources.values():
            assert one.full_size().frame.scale == 1 and one.measured().frame.scale <= 0.4
    strip = [(document, Point("skua", n)) for n in range(3)]
    first = engine.together(strip, None, 0.4, store, ByteCache())
    for (_, point), shown in zip(strip, first, strict=True):
        alone = engine.pixels(document, None, 0.4, store, point=point, cache=ByteCache())
        assert np.array_equal(alone, shown)


def test_a_mark_that_is_left_out_is_shown_in_the_strip_with_its_aim_solved(store, texture):
    worn = step("wear", texture=texture, aim=True, share=0.3)
    words = {**mark(lettering("GULLS", 120), 200, 100, [worn]), "id": "words"}
    shown = piece(words, ground={"kind": "none"}, size=(400, 200))
    left_out = piece({**words, "left_out": True}, ground={"kind": "none"}, size=(400, 200))
    point = Point(words["id"], 1)
    one, other = (
        engine.pixels(document, None, 0.5, store, point=point) for document in (shown, left_out)
    )
    assert np.array_equal(one, other)
    bare = engine.pixels(left_out, None, 0.5, store, point=Point(words["id"], 0, on_stock=False))
    assert other[..., 3].sum() == pytest.approx(0.7 * bare[..., 3].sum(), rel=0.03)
