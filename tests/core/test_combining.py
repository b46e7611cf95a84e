"""Members of a group united, cut and met: beside formulas, pixel truth, and Skia's own areas."""

import math

import numpy as np
import pathops
import pytest

from kilncore import engine
from kilncore.artwork.coverage import coverage
from kilncore.edits import apply
from kilncore.engine.recall import Recall
from kilncore.shapes.combined import combined
from kilncore.shapes.forms import Measures
from kilncore.shapes.outlined import rimmed
from kilncore.system.cache import ByteCache
from tests.documents import group, lettering, mark, piece, px, step

SIZE = (420, 300)
PAPER = (216, 208, 192)
HOWS = ("united", "cut", "met")


def circle(radius, x=0.0, y=0.0):
    return rimmed("ellipse", Measures(2 * radius, 2 * radius)).whole + [x, y] * 2


def area(edges):
    return abs((edges[:, 0] * edges[:, 3] - edges[:, 2] * edges[:, 1]).sum() / 2)


def disc(size=160, **more):
    return {"kind": "shape", "form": "ellipse", "width": px(size), "height": px(size)} | more


def card(width, height, **more):
    return {"kind": "shape", "width": px(width), "height": px(height), "colour": "#204060"} | more


def drawn(document, store, scale=1.0, box=None):
    return engine.pixels(document, box, scale, store, truly=True, cache=ByteCache(), seen=None)


def both(how, *members, treatment=()):
    return group(*members, x=210, y=150, treatment=treatment) | {"combine": how, "id": "both"}


@pytest.mark.parametrize("how", HOWS)
def test_two_circles_by_the_formula_of_the_lens(how):
    """Of radius r and distance d: 2 r^2 acos(d / 2 r) - d / 2 sqrt(4 r^2 - d^2)."""
    r, d = 80.0, 70.0
    lens = 2 * r * r * math.acos(d / 2 / r) - d / 2 * math.sqrt(4 * r * r - d * d)
    whole = math.pi * r * r
    wanted = {"met": lens, "cut": whole - lens, "united": 2 * whole - lens}[how]
    found = combined([circle(r), circle(r, d)], how)
    assert area(found) == pytest.approx(wanted, rel=1e-4)


@pytest.mark.parametrize("how", HOWS)
def test_against_pixels_that_are_told_apart_one_by_one(how):
    """On a raster eight times as fine: each place is in one outline, or not."""
    outlines = [circle(50, -12, 3), rimmed("badge", Measures(90, 70, points=9, depth=0.4)).whole]
    outlines.append(circle(18, 20, -6))
    fine, side = 8, 140
    inside = [
        coverage(one * fine + side * fine / 2, side * fine, side * fine) > 0.5 for one in outlines
    ]
    wanted = {
        "united": inside[0] | inside[1] | inside[2],
        "cut": inside[0] & ~inside[1] & ~inside[2],
        "met": inside[0] & inside[1] & inside[2],
    }[how]
    wanted = wanted.reshape(side, fine, side, fine).mean((1, 3))
    found = coverage(combined(outlines, how) + side / 2, side, side)
    assert np.abs(found - wanted).max() < 0.12 and np.abs(found - wanted).mean() < 1e-3


def test_unions_of_letters_have_the_area_that_skia_tells():
    """Of the same outlines given to it contour by contour, as one path."""
    outlines = [circle(50), circle(50, 45), circle(50, 90)]
    whole = pathops.Path()
    for edges in outlines:
        pen = whole.getPen()
        pen.moveTo(tuple(edges[0, :2]))
        for point in edges[1:, :2]:
            pen.lineTo(tuple(point))
        pen.closePath()
    whole.simplify(fix_winding=True)
    assert area(combined(outlines, "united")) == pytest.approx(abs(whole.area), rel=1e-3)


def test_edges_that_lie_on_one_another_leave_no_seam(store):
    """A card cut in halves along an edge between two pixels' borders: nothing is left beside it."""
    lower, upper = mark(card(101, 60), 0.25, 0), mark(card(101, 60), 0.25, 0)
    found = drawn(piece(both("cut", lower, upper), size=SIZE), store)
    assert (found[..., :3] == PAPER).all()
    joined = both("united", mark(card(51, 60), -25.3, 0), mark(card(51, 60), 25.7, 0))
    row = drawn(piece(joined, size=SIZE), store)[150, 190:230, :3]
    assert (row == [32, 64, 96]).all()


def test_the_colour_and_the_fill_are_those_of_the_lowest(store):
    words = mark(lettering("NIGHT", 60) | {"colour": "#ff0000"}, 0, 0)
    stops = [{"at": 0, "colour": "#00ff00"}, {"at": 1, "colour": "#0000ff"}]
    badge = mark(disc(200, fill={"kind": "gradient", "stops": stops}), 0, 0)
    found = drawn(piece(both("cut", badge, words), size=SIZE), store).astype(int)
    bare = drawn(piece(group(badge, x=210, y=150), size=SIZE), store).astype(int)
    same = (found == bare).all(2)
    assert (found[..., 0] < 220).all() and 0.7 < same.mean() < 0.98
    assert (found[~same][:, :3] == PAPER).all(1).mean() > 0.7


def test_worn_members_are_combined_by_coverage(store, texture):
    """What a wear took from the upper is not cut out: the same numbers, pixel by pixel."""
    worn = step("wear", texture=texture, share=0.4)
    upper = mark(lettering("NIGHT", 60) | {"colour": "#000000"}, 0, 0, [worn]) | {"id": "words"}
    found = drawn(piece(both("cut", mark(card(300, 120), 0, 0), upper), size=SIZE), store)
    alone = piece(
        group(upper, x=210, y=150), size=SIZE, ground={"kind": "colour", "colour": "#ffffff"}
    )
    covered = 1 - drawn(alone, store)[..., :1] / 255
    wanted = np.array(PAPER) * covered + np.array([32, 64, 96]) * (1 - covered)
    inner = np.s_[110:190, 80:340]
    assert 0.02 < covered[inner].mean() < 0.6
    np.testing.assert_allclose(found[inner][..., :3], wanted[inner], atol=1.01)


@pytest.mark.parametrize("how", HOWS)
@pytest.mark.parametrize("softened", [False, True])
def test_parts_are_moved_and_the_rest_follows(store, how, softened):
    steps = [step("soften", radius=px(2))] if softened else []
    upper = mark(disc(90), 30, 0, steps) | {"id": "upper"}
    after_all = [step("tones", contrast=0.4)]
    before = piece(both(how, mark(disc(140), -20, 0), upper, treatment=after_all), size=SIZE)
    recall = Recall(ByteCache())
    engine.pixels(before, None, 1.0, store, truly=True, recall=recall)
    moved = {"op": "transform_marks", "about": [0, 0], "by": [-17, 9], "marks": ["upper"]}
    after = apply(before, [moved], store)
    engine.pixels(after, None, 1.0, store, recall=recall)
    found = engine.pixels(after, None, 1.0, store, truly=True, recall=recall)
    np.testing.assert_array_equal(found, drawn(after, store))
    assert (found != drawn(before, store)).any()
    part = drawn(after, store, box=(120, 90, 150, 111))
    np.testing.assert_array_equal(part, found[90:201, 120:270])


@pytest.mark.parametrize("how", HOWS)
def test_odd_groups_are_drawn(store, how):
    """One member; one that is left out; words of nothing; all of it cut away."""
    for members in (
        [mark(disc(), 0, 0)],
        [mark(disc(), 0, 0), mark(disc(), 5, 5) | {"left_out": True}],
        [mark(lettering(" ", 50), 0, 0), mark(disc(), 5, 5)],
        [mark(disc(60), 0, 0), mark(disc(200), 0, 0)],
        [mark(disc(60), -200, 0), mark(disc(60), 200, 0)],
        [group(mark(disc(60), 0, 0), mark(disc(50), 9, 0)), mark(disc(60), 20, 0)],
    ):
        assert drawn(piece(both(how, *members), size=SIZE), store).shape[:2] == (300, 420)


def test_what_is_combined_holds_others_in(store):
    """A limit to the group is to what is left of it."""
    moon = both("cut", mark(disc(200), 0, 0), mark(disc(200), 60, 0))
    fill = mark(card(420, 300, colour="#ff0000"), 210, 150) | {"id": "fill"}
    fill["landing"] = {"mode": "normal", "limits": [{"kind": "mark", "mark": "both"}]}
    found = drawn(piece(moon | {"left_out": True}, fill, size=SIZE), store)
    red = (found[..., :3] == [255, 0, 0]).all(2)
    assert red[150, 125] and not red[150, 240] and not red[20, 20]
