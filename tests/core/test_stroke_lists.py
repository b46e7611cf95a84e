"""Lists of strokes under random hands, beside a plain Python list: whatever was added, changed,
moved, bent, taken back and inverted, the files are those of what is left, drawn in order.
"""

import numpy as np
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from kilncore import edits
from kilncore.artwork.drawn import bounds_of
from kilncore.strokes import PACK, Stroke, file_of, strokes_in, told_in
from kilncore.strokes.bending import bent, moved
from kilncore.strokes.listing import EVERYTHING
from tests.documents import lettering, mark, piece

LANDING = ["stack", "gull", "landing"]
ART = ["stack", "sign", "art"]
SLOW = settings(
    max_examples=25,
    deadline=None,
    suppress_health_check=list(HealthCheck),
)
number = st.integers(0, 2 * PACK + 20)
place = st.tuples(st.floats(-2, 2), st.floats(-2, 2))
stroke = st.builds(
    Stroke,
    points=st.lists(place, min_size=1, max_size=6),
    radius=st.floats(0.001, 0.4),
    hardness=st.floats(0, 1),
    strength=st.floats(0.1, 1),
    tip=st.sampled_from(["", "", "cork", "wire"]),
    back=st.booleans(),
    curved=st.booleans(),
    closed=st.booleans(),
    taper_in=st.sampled_from([0, 0.2]),
    taper_out=st.sampled_from([0, 0.7]),
    ends=st.sampled_from(["round", "flat"]),
    seed=st.integers(0, 2**31 - 1),
)
act = st.one_of(
    st.tuples(st.just("add"), st.lists(stroke, min_size=1, max_size=9)),
    st.tuples(st.just("take"), number),
    st.tuples(st.just("change"), number, st.floats(0.01, 0.5)),
    st.tuples(st.just("move"), number, place),
    st.tuples(st.just("bend"), number, st.floats(0, 1), st.floats(0.05, 1), place),
    st.tuples(st.just("invert")),
)


def kept(one):
    """As a file tells it again."""
    return told_in(file_of(one))[0]


def after(model, told):
    """(the list after an act, the edit that does it); nothing of what is not there."""
    name, *more = told
    if name == "add":
        edit = {"op": "add_strokes", "strokes": [one.model_dump(mode="json") for one in more[0]]}
        return [*model, *map(kept, more[0])], edit
    if name == "invert":
        rest = model[1:] if model[:1] == [kept(EVERYTHING)] else [turned(kept(EVERYTHING)), *model]
        return [turned(one) for one in rest], {"op": "invert_strokes"}
    if not model:
        return model, None
    at = more[0] % len(model)
    one, where = model[at], {"number": at}
    if name == "take":
        return model[:at] + model[at + 1 :], {"op": "take_back_stroke", **where}
    if name == "change":
        made = one.model_copy(update={"radius": more[1]})
        edit = {"op": "change_stroke", "changes": {"radius": more[1]}, **where}
    elif one.radius == EVERYTHING.radius:  # it would lie too far out
        return model, None
    elif name == "move":
        made, edit = moved(one, more[1]), {"op": "move_stroke", "by": list(more[1]), **where}
    else:
        made = bent(one, *more[1:])
        told = {"place": more[1], "spread": more[2], "by": list(more[3])}
        edit = {"op": "bend_stroke", **told, **where}
    return [*model[:at], kept(made), *model[at + 1 :]], edit


def turned(one):
    return one.model_copy(update={"back": not one.back})


def files_of(document, path):
    item = document.stack[0]
    return item.landing.touch if path[-1] == "landing" else item.art.strokes


def worked(store, document, path, acts):
    """(the document after them, the list after them)."""
    model = []
    for told in acts:
        model, edit = after(model, told)
        if edit:
            document = edits.apply(document, [{"path": path, **edit}], store)
    return document, model


@SLOW
@given(acts=st.lists(act, min_size=1, max_size=14), many=st.integers(0, PACK + 9))
def test_on_a_landing(store, acts, many):
    begun = [Stroke(points=[(n / 50, 0)], radius=0.1, id=n + 1) for n in range(many)]
    document = piece({**mark(lettering("Gull", 200), 300, 200), "id": "gull"}, size=(640, 400))
    document, model = worked(store, document, LANDING, [("add", begun)] * bool(begun) + acts)
    files = files_of(document, LANDING)
    told = [one for name in files for one in told_in(store.data(name))]
    assert told == model
    lengths = [len(store.strokes(name)) for name in files]
    whole = len(model) // PACK
    assert lengths == [PACK] * whole + [1] * (len(model) - whole * PACK)


@SLOW
@given(acts=st.lists(act.filter(lambda told: told[0] != "invert"), min_size=1, max_size=8))
def test_of_a_drawn_mark_whose_box_is_as_large_as_they_are(store, acts):
    art = {"kind": "drawn", "size": {"value": 200, "unit": "px"}}
    document = piece({**mark(art, 300, 200), "id": "sign"}, size=(640, 400))
    document, model = worked(store, document, ART, acts)
    told = [one for name in files_of(document, ART) for one in told_in(store.data(name))]
    assert told == model
    art = document.stack[0].art
    box = {side: getattr(art, side) for side in ("left", "top", "right", "bottom")}
    assert box == bounds_of(files_of(document, ART), store)
    for one in model:
        (drawn,) = strokes_in(file_of(one))
        low, high = drawn.points.min(0) - drawn.reach, drawn.points.max(0) + drawn.reach
        assert (low >= np.array([box["left"], box["top"]]) - 1e-3).all()
        assert (high <= np.array([box["right"], box["bottom"]]) + 1e-3).all()


@SLOW
@given(one=stroke, by=place)
def test_moved_there_and_back_it_is_where_it_was(one, by):
    """To within the grid that its radius asks for."""
    there = kept(moved(kept(one), by))
    back = kept(moved(there, (-by[0], -by[1])))
    if len(back.points) == len(kept(one).points):
        step = max(1, round(one.radius * 4096) // 64) / 4096
        np.testing.assert_allclose(back.points, kept(one).points, atol=2 * step)
