"""Groups: isolated, treated as one, landed once; and what whole items are measured for."""

import numpy as np
import pytest

from kilncore import document, edits, engine
from kilncore.engine.plan import Point
from kilncore.errors import KilnError
from kilncore.layout.layout import Layout
from kilncore.planes.mean import MeanTone
from kilncore.system.cache import ByteCache
from tests.documents import group, lettering, mark, one_step, piece, px, step

SIZE = (420, 300)


def drawn(of, store=None, **how):
    return engine.render(of, assets=store, cache=ByteCache(), seen=None, **how)


def pair(**more):
    return [
        mark(lettering("Gull", 90), -40, -30, **more),
        mark(lettering("Rock", 80, "#2050c0"), 30, 25, **more),
    ]


def test_a_group_that_does_nothing_is_its_members():
    """In place and untreated, marks that land as normal look the same inside a group and out of
    it.
    """
    loose = [
        mark(lettering("Gull", 90), 160, 120),
        mark(lettering("Rock", 80, "#2050c0"), 230, 175),
    ]
    np.testing.assert_allclose(
        drawn(piece(group(*pair(), x=200, y=150), size=SIZE)),
        drawn(piece(*loose, size=SIZE)),
        atol=2e-6,
    )


def test_a_group_lands_once():
    """Two marks that overlap, together at half strength: no overlap shows (common practice: one
    layer, one opacity).
    """
    both = group(
        mark(lettering("O", 120), -10, 0),
        mark(lettering("O", 120), 10, 0),
        x=200,
        y=150,
        strength=0.5,
    )
    alpha = drawn(piece(both, ground={"kind": "none"}, size=SIZE))[..., 3]
    assert alpha.max() == pytest.approx(0.5, abs=1e-5)


def test_members_blend_on_nothing_but_each_other():
    """W3C compositing: an isolated group. Multiply has no backdrop there and shows the member's own
    colour.
    """
    one = group(mark(lettering("O", 120), 0, 0, mode="multiply"), x=200, y=150)
    plain = group(mark(lettering("O", 120), 0, 0), x=200, y=150)
    np.testing.assert_allclose(
        drawn(piece(one, size=SIZE)), drawn(piece(plain, size=SIZE)), atol=2e-6
    )


def test_a_group_moves_turns_and_scales_its_members(texture, store):
    """A quarter turn of the group is a quarter turn of its picture, its texture with it."""
    worn = [step("wear", texture=texture, black=0.3, white=0.7)]

    def at(**place):
        return drawn(
            piece(
                group(*pair(), x=150, y=150, treatment=worn, **place),
                ground={"kind": "none"},
                size=(300, 300),
            ),
            store,
        )

    np.testing.assert_allclose(at(rotation_deg=90), np.rot90(at(), -1), atol=2e-3)
    boxes = Layout(piece(group(*pair(), x=150, y=150, scale=0.5))).boxes()
    assert sorted(round(b.x) for b in boxes.values()) == [130, 150, 165]


def test_what_is_beneath_a_member_holds_the_lower_members(texture, store):
    """A member that follows bends with the member below it, before anything is done to
    the group.
    """
    follow = [step("follow", across=px(30), down=px(0))]
    ground = {"kind": "colour", "colour": "#808080"}
    alone = piece(
        group(mark(lettering("I", 150, "#ffffff"), 20, 0, follow), x=200, y=150),
        ground=ground,
        size=SIZE,
    )
    over = piece(
        group(
            mark(lettering("O", 150, "#000000"), 0, 0),
            mark(lettering("I", 150, "#ffffff"), 20, 0, follow),
            x=200,
            y=150,
        ),
        ground=ground,
        size=SIZE,
    )
    straight = drawn(alone)[..., 0] > 0.9
    assert (straight != (drawn(over)[..., 0] > 0.9)).sum() > 100


def test_a_crop_of_a_treated_group_equals_that_of_the_whole(texture, store):
    steps = [one_step(kind, texture) for kind in ("wear", "follow", "soften", "grain")]
    of = piece(
        group(
            *pair(treatment=steps), x=200, y=150, treatment=steps, mode="multiply", rotation_deg=12
        ),
        ground={"kind": "texture", "texture": texture},
        size=SIZE,
    )
    np.testing.assert_array_equal(
        drawn(of, store, region=(130, 90, 120, 77), tile=(64, 64), threads=1),
        drawn(of, store)[90:167, 130:250],
    )


def test_grouping_and_ungrouping_move_nothing():
    loose = piece(
        mark(lettering("Gull", 90), 160, 120, rotation_deg=20),
        mark(lettering("Key", 80), 230, 175),
        size=SIZE,
    )
    ids = [m.id for m in loose.stack]
    grouped = edits.apply(loose, [{"op": "group", "marks": ids}])
    assert len(grouped.stack) == 1 and [m.id for m in grouped.stack[0].members] == ids
    np.testing.assert_allclose(drawn(grouped), drawn(loose), atol=1e-4)
    turned = edits.apply(
        grouped,
        [
            {
                "op": "set",
                "path": ["stack", grouped.stack[0].id, "placement", "rotation_deg"],
                "value": 30,
            }
        ],
    )
    apart = edits.apply(turned, [{"op": "ungroup", "group": grouped.stack[0].id}])
    assert [m.id for m in apart.stack] == ids
    np.testing.assert_allclose(drawn(apart), drawn(turned), atol=1e-3)


def test_members_are_edited_copied_and_removed():
    of = piece(group(*pair(), x=200, y=150), size=SIZE)
    holder, (first, second) = of.stack[0], of.stack[0].members
    of = edits.apply(
        of,
        [
            {"op": "add_step", "part": first.id, "kind": "soften"},
            {"op": "add_step", "part": holder.id, "kind": "soften"},
            {"op": "copy_mark", "mark": holder.id},
            {"op": "move_mark", "mark": second.id, "to": 0},
        ],
    )
    assert [m.id for m in of.stack[0].members] == [second.id, first.id] and len(of.stack) == 2
    assert of.stack[1].seed != of.stack[0].seed and of.stack[1].members[0].seed != first.seed
    of = edits.apply(
        of, [{"op": "remove_mark", "mark": first.id}, {"op": "remove_mark", "mark": second.id}]
    )
    assert len(of.stack) == 1  # the group that was left empty went with them
    with pytest.raises(KilnError, match="in one group, or in none"):
        edits.apply(of, [{"op": "group", "marks": [of.stack[0].id, of.stack[0].members[0].id]}])


def test_points_along_a_member():
    of = piece(group(*pair(treatment=[step("soften", radius=px(4))]), x=200, y=150), size=SIZE)
    member = of.stack[0].members[1]
    pictures = [drawn(of, point=Point(member.id, n)) for n in (0, 1, 2)] + [
        drawn(of, point=Point(of.stack[0].id, 1))
    ]
    assert (
        np.abs(pictures[0] - pictures[1]).max() > 0.01
        and np.abs(pictures[3] - drawn(of)).max() < 1e-6
    )


def test_a_duplicate_has_grain_of_its_own():
    """Seeds: no two marks are grained alike."""
    grained = [step("grain", amount=30, mode="normal")]
    of = piece(mark(lettering("M", 120), 120, 150, grained), size=SIZE)
    twin = edits.apply(of, [{"op": "copy_mark", "mark": of.stack[0].id}]).stack[1]
    alone = [
        drawn(
            of.model_copy(
                update={"stack": (m.model_copy(update={"placement": of.stack[0].placement}),)}
            )
        )
        for m in (of.stack[0], twin)
    ]
    assert np.abs(alone[0] - alone[1]).max() > 0.1


def test_older_documents_are_brought_up():
    tree = piece(mark(treatment=[step("soften")])).model_dump(mode="json")
    old = {
        **tree,
        "format": 1,
        "stack": [{k: v for k, v in tree["stack"][0].items() if k != "kind"}],
        "ground": {"fill": {"kind": "texture", "texture": {"hash": "a" * 64, "tiles": False}}},
    }
    old.pop("light")
    old["stack"][0]["landing"] = {"mode": "multiply", "strength": 0.5}
    found = document.load(old)
    assert (
        found.format == document.FORMAT
        and found.ground.fill.texture.edges == "mirror"
        and found.stack[0].landing.strength == 0.5
    )


def test_the_mean_of_what_is_beneath_is_solved_once_and_the_same_for_every_view(
    texture, store, monkeypatch
):
    """Whole-item values come from scale 1, whatever part is looked at; one pass over the item for
    each content key.
    """
    asked, part = [], MeanTone.part
    monkeypatch.setattr(
        MeanTone, "part", lambda self, reader, tile: asked.append(tile) or part(self, reader, tile)
    )
    of = piece(
        mark(lettering("OX", 150), 200, 150, [step("follow", across=px(20))]),
        ground={"kind": "texture", "texture": texture},
        size=SIZE,
    )
    cache = ByteCache()
    for region in (None, (100, 100, 50, 50), (200, 120, 80, 40)):
        engine.render(of, region, assets=store, cache=cache)
    once = len(asked)
    engine.exact(of, None, 0.5, store, cache=cache)
    assert once == len(asked) == len(set(asked)) > 0
