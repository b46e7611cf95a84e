"""What a change leaves alone is not drawn again: beside pictures that are drawn whole."""

import sys

import numpy as np
import pytest

from kilncore import engine
from kilncore.edits import apply
from kilncore.engine import tiling
from kilncore.engine.cache_policy import DEEP_PX, analysed, deep
from kilncore.engine.changes import changed_box
from kilncore.engine.plan import Plan
from kilncore.engine.plans import plan_of
from kilncore.engine.recall import Recall
from kilncore.geometry.box import Box
from kilncore.pixels.pixel_format import PixelFormats
from kilncore.steps import STEPS
from kilncore.system.cache import ByteCache
from tests.documents import every_step, group, lettering, mark, one_step, piece, px, step

SIZE = (520, 400)


def _piece(texture, treatment=(), whole=()):
    """A mark at the left, a group at the right, whose upper member reads what lies beneath."""
    beneath = {"of": "beneath", "hidden_below": 0.2, "shown_from": 0.4}
    coat = step("coat", texture=texture)
    coat["landing"] |= {"mode": "multiply", "ranges": [beneath]}
    members = [
        mark(lettering("SHED", 50), -8, -6, [step("grain", size=px(2))]) | {"id": "under"},
        mark(lettering("TEA", 40), 6, 8, [coat]) | {"id": "over"},
    ]
    return piece(
        mark(lettering("OX", 60), 100, 110, treatment) | {"id": "held"},
        group(*members, x=370, y=230) | {"id": "both"},
        mark(lettering("PIER", 40), 130, 330, [step("follow", across=px(5))]) | {"id": "low"},
        size=SIZE,
        treatment=whole,
        ground={"kind": "texture", "texture": texture},
    )


def _edits(before):
    moved = {"op": "transform_marks", "about": [0, 0], "by": [9.4, -6.3]}
    at = ["stack", "both", "members", "under"]
    return {
        "moved": [moved | {"marks": ["held"]}],
        "a member moved": [moved | {"marks": ["under"]}],
        "a group moved": [moved | {"marks": ["both"]}],
        "words": [{"op": "set", "path": [*at, "art", "text"], "value": "SHIP"}],
        "left out": [{"op": "set", "path": ["stack", "low", "left_out"], "value": True}],
        "landing": [{"op": "set", "path": [*at, "landing", "strength"], "value": 0.4}],
        "removed": [{"op": "remove_marks", "marks": ["held"]}],
        "the ground": [
            {
                "op": "set",
                "path": ["ground", "fill"],
                "value": {"kind": "colour", "colour": "#333333"},
            }
        ],
    }


def _exact(document, store, scale, **how):
    return engine.pixels(document, None, scale, store, truly=True, **how)


@pytest.mark.parametrize("scale", [0.37, 1.0, 1.7])
@pytest.mark.parametrize("name", list(_edits(None)))
def test_exact_pictures_are_the_same_as_drawn_whole(texture, store, name, scale):
    before = _piece(texture, every_step(texture)[:6])
    recall = Recall(ByteCache())
    _exact(before, store, scale, recall=recall)
    after = apply(before, _edits(before)[name], store)
    np.testing.assert_array_equal(
        _exact(after, store, scale, recall=recall),
        _exact(after, store, scale, cache=ByteCache(), seen=None),
    )


@pytest.mark.parametrize("kind", list(STEPS))
def test_whatever_step_lies_over_it(texture, store, kind):
    """On the mark, and on the whole piece: a change beneath reaches as far as the step looks."""
    steps = [one_step(kind, texture)]
    whole = [one_step(kind, texture)] if "piece" in STEPS[kind].offered_for else []
    before, recall = _piece(texture, steps, whole), Recall(ByteCache())
    _exact(before, store, 0.6, recall=recall)
    after = apply(before, _edits(before)["moved"], store)
    np.testing.assert_array_equal(
        _exact(after, store, 0.6, recall=recall),
        _exact(after, store, 0.6, cache=ByteCache(), seen=None),
    )


def _changed(before, after, store):
    nodes = [plan_of(one).finished().node for one in (before, after)]
    return changed_box(*nodes, PixelFormats(store))


def test_only_what_differs_is_drawn(texture, store, monkeypatch):
    before = _piece(texture)
    after = apply(before, _edits(before)["moved"], store)
    box = _changed(before, after, store)
    assert box.width < 160 and box.height < 120 and box.left > 20
    assert _changed(before, before, store).empty
    rendering = sys.modules["kilncore.engine.render"]
    drawn, real = [], rendering._draw
    monkeypatch.setattr(
        rendering, "_draw", lambda *told: drawn.append(told[-1].get("only")) or real(*told)
    )
    recall = Recall(ByteCache())
    for document in (before, after, after):
        _exact(document, store, 1.0, recall=recall)
    assert drawn[0] is None and drawn[1] == box.expanded(1) and len(drawn) == 2


def test_what_a_draft_does_not_draw_is_the_exact_picture(texture, store):
    before, recall = _piece(texture), Recall(ByteCache())
    shown = _exact(before, store, 0.5, recall=recall)
    after = apply(before, _edits(before)["moved"], store)
    draft = engine.pixels(after, None, 0.5, store, recall=recall)
    away = np.s_[:, 140:]
    assert not np.array_equal(draft, shown)
    np.testing.assert_array_equal(draft[away], shown[away])
    whole = engine.pixels(after, None, 0.5, store, cache=ByteCache(), seen=None)
    assert np.abs(draft.astype(int) - whole).mean() < 2.0


@pytest.mark.parametrize(
    "name, kept",
    [("moved", {"both", "low"}), ("a member moved", {"held", "low"}), ("words", {"held", "low"})],
)
def test_items_left_alone_keep_their_graphs(texture, store, name, kept):
    """Those that look at what changed do not: their keys are those of a plan built anew."""
    before = _piece(texture, every_step(texture)[:4])
    rest, after = plan_of(before, 0.5), apply(before, _edits(before)[name], store)
    plan, anew = Plan(after, 0.5, before=rest), Plan(after, 0.5)
    for one in (plan, anew):
        one.finished()
    for item in ("held", "both", "low"):
        (_, built), (_, other) = (one.still.items[item] for one in (plan, anew))
        assert (built is rest.still.items[item][1]) == (item in kept)
        assert built.node.key == other.node.key or item not in kept
    if "both" not in kept:  # what is over it reads what changed beneath
        over = [one.still.items["over"][1].node.key for one in (plan, rest)]
        assert over[0] != over[1]


def test_a_stack_in_another_order_keeps_none(texture, store):
    before = _piece(texture)
    rest = plan_of(before, 0.5)
    after = apply(before, [{"op": "move_mark", "mark": "held", "to": 2}], store)
    plan = Plan(after, 0.5, before=rest)
    assert plan.finished().node.key == Plan(after, 0.5).finished().node.key
    assert plan.still.items["low"][1] is not rest.still.items["low"][1]


@pytest.mark.parametrize("quality", ["exact", "draft"])
@pytest.mark.parametrize("scale", [0.6, 1.0])
def test_of_many_marks_those_elsewhere_are_not_looked_at(
    texture, store, monkeypatch, scale, quality
):
    """Each reads the ground and its neighbours; drawn beside a picture that was drawn whole."""
    follow = [step("wear", texture=texture), step("follow", across=px(4), down=px(2))]
    marks = [
        mark(lettering("OX", 20), 30 + 46 * (n % 10), 40 + 60 * (n // 10), follow) | {"id": f"m{n}"}
        for n in range(40)
    ]
    ground = {"kind": "texture", "texture": texture}
    before, recall, walked = piece(*marks, size=SIZE, ground=ground), Recall(ByteCache()), []
    _exact(before, store, scale, recall=recall)
    moved = {"op": "transform_marks", "about": [0, 0], "by": [3, -2], "marks": ["m23"]}
    after = apply(before, [moved], store)
    analysed = tiling.analysed
    monkeypatch.setattr(
        tiling, "analysed", lambda node: walked.append(made := analysed(node)) or made
    )
    drawn = engine.pixels(after, None, scale, store, truly=quality == "exact", recall=recall)
    count = len(walked[0].nodes)
    assert 0 < count < 120 or (quality == "draft" and scale < 1)  # small marks reach farther there
    if quality == "exact":
        whole = _exact(after, store, scale, cache=ByteCache(), seen=None)
        np.testing.assert_array_equal(drawn, whole)
    else:
        whole = engine.pixels(after, None, scale, store, cache=ByteCache(), seen=None)
        assert np.abs(drawn.astype(int) - whole).mean() < 2


def test_a_row_of_small_marks_that_read_one_another_is_not_held_whole(texture, store):
    """Together they look far around; a thousand steps of theirs took minutes, level by level."""
    treatment = [step("follow", across=px(6), down=px(6))] * 3
    marks = [mark(lettering("OX", 40), 30 + 12 * n, 60, treatment) for n in range(40)]
    row = Plan(piece(*marks, size=SIZE, ground={"kind": "texture", "texture": texture})).finished()
    analysis = analysed(row.node)
    assert (
        max(analysis.margins.values()) > DEEP_PX
        and len(deep(analysis, Box(0, 0, *SIZE), 2**28)) == 0
    )
    # where there is no room for them, they would be drawn again and again
    assert len(deep(analysis, Box(0, 0, *SIZE), 2**10)) > 0
    softened = [step("soften", radius=px(60))] * 20
    wide = Plan(
        piece(mark(lettering("PIER", 300), 260, 200, softened), size=(1200, 900))
    ).finished()
    assert len(deep(analysed(wide.node), Box(0, 0, 1200, 900), 2**40)) > 0


def test_a_node_is_told_by_its_key(texture):
    """All that it is made of would be told once for every way that leads there: for ever."""
    treatment = [step("follow", across=px(6))] * 30
    node = Plan(piece(mark(lettering("OX", 40), 60, 60, treatment), size=SIZE)).finished().node
    assert repr(node) == f"Landed {node.key}"
