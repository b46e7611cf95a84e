"""Marks that are drawn by hand: their strokes, their box, and what stays where it lies."""

import numpy as np
import pytest

from kilncore import edits, engine
from kilncore.artwork.drawn import DrawnArt, bounds_of
from kilncore.errors import KilnError
from kilncore.layout.layout import Layout
from kilncore.strokes import PACK, Stroke
from kilncore.system.cache import ByteCache
from tests.documents import mark, piece, px, step

ART = ["stack", "sign", "art"]
INK, PAPER = (32, 64, 96), (216, 208, 192)


@pytest.fixture
def document():
    art = {"kind": "drawn", "colour": "#204060", "size": px(200)}
    return piece({**mark(art, 300, 200), "id": "sign"}, size=(640, 400))


def line(y, tip="", **more):
    points = [(-0.8 + n / 10, y) for n in range(17)]
    return Stroke(points=points, radius=0.06, hardness=1, tip=tip, seed=3, **more)


def drawn(document, store, *strokes):
    told = [one.model_dump(mode="json", exclude_defaults=True) for one in strokes]
    edit = {"op": "add_strokes", "path": ART, "strokes": told}
    return edits.apply(document, [edit], store)


def rendered(document, store, **more):
    found = engine.render(document, assets=store, cache=ByteCache(), **more)
    return np.rint(found[..., :3] * 255).astype(int)


def test_a_stroke_is_drawn_where_it_was_told_in_the_mark_s_colour(store, document):
    picture = rendered(drawn(document, store, line(0.3)), store)
    assert tuple(picture[200 + 60, 300]) == INK and tuple(picture[200 + 60, 200]) == INK
    assert tuple(picture[200 + 60 - 16, 300]) == PAPER and tuple(picture[200, 300]) == PAPER
    assert np.abs(rendered(document, store) - PAPER).max() == 0


def test_its_box_is_as_large_as_its_strokes_and_what_is_there_stays(store, document):
    """One more on the far side makes the box larger, and moves nothing, to the bit."""
    first = drawn(document, store, line(0.3))
    both = drawn(first, store, line(-0.6, "cork"))
    small, large = (Layout(one).boxes()["sign"] for one in (first, both))
    assert small.height == pytest.approx(200 * (0.12 + 0.04), abs=1)
    assert large.height > 5 * small.height and large.y < small.y - 50
    before, after = rendered(first, store), rendered(both, store)
    np.testing.assert_array_equal(before[230:], after[230:])
    assert np.abs(before[:150] - after[:150]).max() > 50
    assert Layout(first).frames()["sign"].x == pytest.approx(Layout(both).frames()["sign"].x)


@pytest.mark.parametrize("place", [{"scale": 0.6, "rotation_deg": 30}, {"scale": 1.4}])
def test_turned_and_scaled_it_stays_as_well(store, document, place):
    tree = document.model_dump(mode="json")
    tree["stack"][0]["placement"].update(place)
    document = type(document).model_validate(tree)
    first = drawn(document, store, line(0.2))
    both = drawn(first, store, line(-0.5))
    again = edits.apply(both, [{"op": "take_back_stroke", "path": ART, "number": -1}], store)
    assert np.abs(rendered(first, store) - rendered(again, store)).max() <= 1
    ink = (rendered(first, store) == INK).all(-1)
    assert ink.sum() > 300 and np.abs(rendered(both, store)[ink] - INK).max() <= 1


def test_crops_tiles_and_packs_are_the_same(store, document):
    strokes = [line(-0.8 + n / 25, ("", "chalk", "rag")[n % 3]) for n in range(PACK + 6)]
    document = drawn(document, store, *strokes)
    whole = rendered(document, store)
    part = rendered(document, store, region=(150, 90, 300, 200), tile=(128, 96), threads=1)
    np.testing.assert_array_equal(part, whole[90:290, 150:450])


def test_it_is_worn_and_set_in_perspective_like_every_mark(store, document, texture):
    document = drawn(document, store, line(0.1), line(-0.3, "felt-ball"))
    wear = step("wear", texture=texture, black=0.2, white=0.6)
    worn = edits.apply(
        document,
        [{"op": "add_step", "part": "sign", "kind": "soften"}],
        store,
    )
    tree = worn.model_dump(mode="json")
    tree["stack"][0]["treatment"] = [wear]
    worn = type(worn).model_validate(tree)
    assert np.abs(rendered(worn, store) - rendered(document, store)).max() > 20
    ring = [[150.0, 100.0], [450.0, 130.0], [470.0, 300.0], [140.0, 280.0]]
    laid = edits.apply(worn, [{"op": "lay_corners", "mark": "sign", "corners": ring}], store)
    assert np.abs(rendered(laid, store) - PAPER).max() > 50


def test_bounds_and_bad_boxes(store):
    assert bounds_of([], store) == {"left": -0.3, "top": -0.2, "right": 0.3, "bottom": 0.2}
    for bad in ({"left": 1.0, "right": 1.0}, {"top": 999.0}, {"strokes": ["x"]}):
        with pytest.raises(ValueError):
            DrawnArt.model_validate({"kind": "drawn", **bad})


def test_a_document_with_strokes_far_out_is_laid_out_or_refused(store, document):
    far = Stroke(points=[(-200, -200), (200, 200)], radius=10)
    with_far = drawn(document, store, far)
    assert Layout(with_far).boxes()["sign"].width > 1000
    assert rendered(with_far, store).shape == (400, 640, 3)
    with pytest.raises(KilnError):
        edits.apply(document, [{"op": "take_back_stroke", "path": ART, "number": 0}], store)
