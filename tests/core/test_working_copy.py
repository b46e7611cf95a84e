"""Edits as path copies: what they give is what the whole tree, changed and read anew, would be;
what they leave alone stays the same object.
"""

import itertools

import pytest

from kilncore import edits
from kilncore.document import dump, load
from kilncore.edits.working_copy import WorkingCopy, plain
from kilncore.errors import KilnError
from tests.documents import lettering, mark, piece, px, step

SHADE = {"kind": "texture", "texture": {"hash": "a" * 64, "edges": "repeat"}}


def crowd():
    texture = {"hash": "b" * 64, "edges": "mirror", "chain": [{"kind": "invert", "id": "one"}]}
    stack = [
        {
            **mark(
                lettering(f"GULL {n}", 40 + n),
                100 + 20 * n,
                90,
                [{**step("wear", texture=texture), "id": f"wear-{n}"}, step("grain")],
            ),
            "id": f"gull-{n}",
        }
        for n in range(5)
    ]
    fade = {"shape": "straight", "x0": px(0), "y0": px(0), "x1": px(40), "y1": px(0)}
    stack[0]["landing"]["fade"] = fade
    stack[1]["landing"]["limits"] = [{"kind": "mark", "mark": "gull-0", "id": "in-gull"}]
    whole = piece(*stack, ground=SHADE, size=(600, 400), treatment=[step("tones")])
    return edits.apply(whole, [{"op": "group", "marks": ["gull-3", "gull-4"]}])


WAYS = [
    [{"op": "set", "path": ["stack", "gull-1", "treatment", "wear-1", "params", "black"],
      "value": 0.37}],
    [{"op": "set", "path": ["stack", "gull-0", "art", "text"], "value": "TERN"}],
    [{"op": "set", "path": ["stack", "gull-0", "landing", "fade", "x1", "value"], "value": 70.0}],
    [{"op": "set", "path": ["title"], "value": "Pier"}],
    [{"op": "transform_marks", "marks": ["gull-0", "gull-4"], "about": [0, 0], "by": [7, -3]}],
    [{"op": "transform_marks", "marks": ["gull-0"], "about": [9, 9], "scale": 1.5, "turn": 20.0}],
    [{"op": "align", "marks": ["gull-0", "gull-1", "gull-2"], "to": "left"}],
    [{"op": "copy_mark", "mark": "gull-1"}, {"op": "remove_mark", "mark": "gull-0"}],
    [{"op": "share_step", "step": "wear-0", "parts": ["gull-1", "gull-2"]}],
    [{"op": "copy_step", "step": "wear-2"}, {"op": "move_step", "step": "wear-2", "to": 2}],
    [{"op": "place_mark", "mark": "gull-3", "into": None, "to": 0}],
    [{"op": "set_operation", "operation": "one", "settings": {"on": False},
      "path": ["stack", "gull-1", "treatment", "wear-1", "params", "texture", "chain"]}],
    [{"op": "turn_piece", "quarters": 1}, {"op": "trim_piece", "left": 10}],
    [{"op": "hold_by_region", "mark": "gull-0",
      "region": {"kind": "region", "x": px(3), "y": px(3), "width": px(9), "height": px(9)}}],
]  # fmt: skip


@pytest.fixture
def numbered(monkeypatch):
    """Ids and seeds in order, begun anew by calling it."""
    counts = {}

    def begin(first=1000):
        counts["ids"], counts["seeds"] = itertools.count(first), itertools.count(first)

    begin(0)
    for module in edits.MODULES:
        for name, kind in (("new_id", "ids"), ("new_seed", "seeds")):
            if hasattr(module, name):
                make = lambda kind=kind: next(counts[kind])  # noqa: E731
                as_id = (lambda make=make: f"new-{make()}") if kind == "ids" else make
                monkeypatch.setattr(module, name, as_id)
    tree = edits.marks.renewed.__globals__
    monkeypatch.setitem(tree, "new_id", lambda: f"new-{next(counts['ids'])}")
    monkeypatch.setitem(tree, "new_seed", lambda: next(counts["seeds"]))
    return begin


@pytest.mark.parametrize("changes", WAYS, ids=lambda one: one[0]["op"])
def test_they_give_what_the_whole_tree_would(changes, numbered):
    before = crowd()
    numbered()
    tree = before.model_dump(mode="json")
    for edit in changes:
        told = {name: value for name, value in edit.items() if name != "op"}
        edits.OPERATIONS[edit["op"]](tree, **told)
    naive = load(tree)
    numbered()
    changed = edits.apply(before, changes)
    assert changed == naive != before
    numbered()
    assert edits.apply(before, changes, whole=False) == changed
    assert load(dump(changed)) == changed


def test_what_is_left_alone_is_the_same_object():
    before = crowd()
    path = ["stack", "gull-1", "treatment", "wear-1", "params", "black"]
    changed = edits.apply(before, [{"op": "set", "path": path, "value": 0.37}])
    assert [a is b for a, b in zip(before.stack, changed.stack, strict=True)].count(False) == 1
    one, other = before.item("gull-1"), changed.item("gull-1")
    assert one.art is other.art and one.landing is other.landing
    assert one.treatment[1] is other.treatment[1] and one.treatment[0] is not other.treatment[0]
    assert before.ground is changed.ground and before.treatment == changed.treatment
    assert edits.apply(before, [{"op": "set", "path": ["title"], "value": before.title}]) is before


def test_a_copy_of_a_model_is_as_it_is_written():
    before = crowd()
    assert plain(WorkingCopy(before)) == before.model_dump(mode="json")
    assert WorkingCopy(before).closed() is before
    tree = WorkingCopy(before)
    assert list(tree) == list(before.model_dump()) and len(tree) == len(before.model_dump())
    with pytest.raises(KeyError):
        tree["paint"]
    tree["paint"] = 1
    with pytest.raises(KilnError, match="not known here"):
        load(tree.closed())
    del tree["paint"]
    assert load(tree.closed()) == before


def test_values_that_do_not_fit_are_refused_however_they_come():
    before = crowd()
    for value in (7, None, "x", [], {}):
        for whole in (True, False):
            with pytest.raises(KilnError):
                edit = {"op": "set", "path": ["stack", "gull-0", "placement"], "value": value}
                edits.apply(before, [edit], whole=whole)
    gone = {"op": "set", "path": ["stack", "gull-1", "landing", "limits", "in-gull", "mark"]}
    with pytest.raises(KilnError, match="on this piece"):
        edits.apply(before, [{**gone, "value": "nobody"}])
