"""Marks and groups that hold something in or out, and what becomes of that when they go."""

import numpy as np
import pytest

from kilncore import edits
from kilncore.document import load
from kilncore.engine.art_colours import art_colour_at, art_colours
from kilncore.engine.held_back import held_back
from kilncore.engine.outlines import outlined
from kilncore.errors import KilnError
from tests.documents import lettering, mark, piece, px, step
from tests.pictures import png

SIZE = (240, 160)


def held(store, by="m", **limit):
    """A coat over the whole piece, kept in a mark, a group, or the group's member."""
    white = {"hash": store.keep(png(np.full((16, 16), 255, np.uint8)))}
    coat = step("coat", texture=white, keep_to_art=False) | {"id": "coat"}
    coat["landing"]["limits"] = [{"id": "held", "kind": "mark", "mark": by, **limit}]
    one = mark(lettering("B", size=90), x=70, y=80) | {"id": "m"}
    two = mark(lettering("o", size=60, colour="#204060"), x=170, y=80, rotation_deg=20)
    group = {
        "kind": "group",
        "id": "g",
        "seed": 3,
        "members": [one, two | {"id": "n"}],
        "placement": {"x": px(120), "y": px(80)},
        "treatment": [],
        "landing": {"mode": "normal", "strength": 1.0},
    }
    for member in group["members"]:
        member["placement"] |= {"x": px(member["placement"]["x"]["value"] - 120), "y": px(0)}
    tree = piece(size=SIZE).model_dump(mode="json")
    return load({**tree, "stack": [group], "treatment": [coat]})


def weights(document, store):
    return held_back(document, "piece", "coat", (0, 0, *SIZE), 1.0, store)[0]


def test_a_group_holds_where_any_of_its_marks_is(store):
    both = weights(held(store, "g"), store)
    one, two = (weights(held(store, by), store) for by in ("m", "n"))
    assert one.mean() > 0.05 and two.mean() > 0.02
    assert np.abs(both - (1 - (1 - one) * (1 - two))).max() < 1e-3


@pytest.mark.parametrize("by", ["m", "g"])
@pytest.mark.parametrize("outside", [False, True])
def test_as_a_region_it_holds_as_it_did(store, by, outside):
    document = held(store, by, outside=outside)
    region = outlined(document, by, store).model_dump(mode="json", exclude={"id"})
    going = [
        {"op": "hold_by_region", "mark": by, "region": region},
        {"op": "remove_mark", "mark": by},
    ]
    after = edits.apply(document, going)
    (limit,) = after.treatment[0].landing.limits
    assert (limit.kind, limit.id, limit.outside) == ("region", "held", outside)
    apart = np.abs(weights(after, store) - weights(document, store))
    assert apart.mean() < 0.004 and np.quantile(apart, 0.99) < 0.35  # within its antialiased edge


def test_dropped_it_holds_no_more_and_a_group_that_is_dissolved_neither(store):
    removed = edits.apply(held(store, "m"), [{"op": "remove_mark", "mark": "m"}])
    assert removed.treatment[0].landing.limits == ()
    dissolved = edits.apply(held(store, "g"), [{"op": "ungroup", "group": "g"}])
    assert dissolved.treatment[0].landing.limits == () and len(dissolved.stack) == 2
    emptied = edits.apply(held(store, "g"), [{"op": "remove_marks", "marks": ["m", "n"]}])
    assert emptied.stack == () and emptied.treatment[0].landing.limits == ()


def test_what_lies_off_the_piece_has_no_outline(store):
    document = held(store)
    away = edits.apply(
        document, [{"op": "set", "path": ["stack", "g", "placement", "x"], "value": px(9000)}]
    )
    with pytest.raises(KilnError, match="nothing of this mark"):
        outlined(away, "m", store)


def test_a_mark_that_is_not_there_cannot_hold(store):
    with pytest.raises(KilnError, match="must be a mark or group"):
        held(store, "nobody")


def test_the_colours_of_the_art_are_told_in_their_proportions(store):
    document = held(store)
    found = dict(art_colours(document, "g", store))
    assert set(found) == {"#c03020", "#204060"} and sum(found.values()) == pytest.approx(1)
    areas = [weights(held(store, by), store).sum() for by in ("m", "n")]
    assert found["#c03020"] == pytest.approx(areas[0] / sum(areas), abs=0.03)
    assert art_colours(document, "ground", store) == [("#d8d0c0", 1.0)]
    y, x = np.argwhere(weights(document, store) > 0.99)[40]
    assert art_colour_at(document, "m", (x + 0.5, y + 0.5), store) == "#c03020"
    assert art_colour_at(document, "m", (1, 1), store) is None
    assert art_colour_at(document, "m", (1e9, -1e9), store) is None
