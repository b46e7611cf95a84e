"""Pictures of the strip are built of the same plan as the piece: they change nothing of what it
holds back.
"""

import numpy as np
import pytest

from kilncore import engine
from kilncore.engine import plans
from kilncore.engine.held_back import held_back
from kilncore.engine.plan import Point
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
