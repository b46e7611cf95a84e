"""Plain shapes against areas and distances of their own: textbook formulas, and SciPy."""

import math

import numpy as np
import pytest
from scipy.ndimage import distance_transform_edt

from kilncore import edits, engine
from kilncore.artwork.coverage import coverage
from kilncore.artwork.shape import NOTHING, Shape
from kilncore.errors import KilnError
from kilncore.shapes.forms import FORMS, Measures
from kilncore.shapes.outlined import rimmed
from kilncore.system.cache import ByteCache
from tests.documents import mark, piece, px

INK, RIM, PAPER = (32, 64, 96), (192, 48, 32), (216, 208, 192)
FINE = 4  # px of the raster that distances are measured on, to one
SIDE = 260


def filled(edges, scale=1):
    """(H, W) coverage of edges around the middle of a page."""
    placed = edges * scale + SIDE * scale / 2
    return coverage(placed, SIDE * scale, SIDE * scale)


def area(edges):
    """Shoelace formula."""
    return abs((edges[:, 0] * edges[:, 3] - edges[:, 2] * edges[:, 1]).sum() / 2)


def shape(**more):
    told = {"kind": "shape", "width": px(180), "height": px(140), "colour": "#204060"}
    return told | {"rim_colour": "#c03020"} | more


def drawn(art, store, **place):
    document = piece(mark(art, 320, 200) | place, size=(640, 400))
    found = engine.render(document, assets=store, cache=ByteCache())
    return np.rint(found[..., :3] * 255).astype(int)


@pytest.mark.parametrize(
    ("form", "more", "exact"),
    [
        ("rectangle", {}, 180 * 140),
        ("rectangle", {"corner": 30}, 180 * 140 - (4 - math.pi) * 900),
        ("rectangle", {"corner": 900}, 40 * 140 + math.pi * 4900),
        ("line", {"corner": 900}, 40 * 140 + math.pi * 4900),
        ("ellipse", {}, math.pi * 90 * 70),
        ("ring", {"hole": 0.6}, math.pi * 90 * 70 * (1 - 0.36)),
        ("polygon", {"points": 6}, 6 / 2 * math.sin(2 * math.pi / 6) * 90 * 70),
        ("badge", {"points": 20, "depth": 0.3}, 20 * 0.7 * math.sin(math.pi / 20) * 90 * 70),
        ("arch", {"rise": 0.5}, 180 * 70 + math.pi * 90 * 70 / 2),
    ],
)
def test_areas_are_those_of_the_textbook(form, more, exact):
    edges = rimmed(form, Measures(180, 140, **more)).whole
    assert area(edges) == pytest.approx(exact, rel=6e-5)  # its chords stray 2e-5 of the longer side
    assert filled(edges).sum() == pytest.approx(exact, rel=1e-4)
    assert np.ptp(edges[:, 0]) == pytest.approx(180 if form != "polygon" else 180 * 0.866, abs=0.1)


def test_a_banner_has_a_body_and_two_tails_that_do_not_touch_it():
    from scipy.ndimage import label

    parts, count = label(filled(rimmed("banner", Measures(240, 80)).whole, FINE) > 0.5)
    sizes = np.sort(np.bincount(parts.ravel())[1:])
    assert count == 3 and sizes[0] == pytest.approx(sizes[1], rel=0.02) and sizes[2] > 5 * sizes[1]


@pytest.mark.parametrize("form", FORMS)
@pytest.mark.parametrize("side", ["inside", "middle", "outside"])
def test_a_rim_is_as_wide_as_it_is_told_by_scipys_distance(form, side):
    """Round the corners a sharp rim reaches farther than a distance: there up to four times."""
    width, measures = 9.0, Measures(180, 120 if form != "banner" else 90, points=8, depth=0.2)
    made = rimmed(form, measures, side, width)
    bare = filled(rimmed(form, measures).whole, FINE) > 0.5
    within, without = (distance_transform_edt(one) / FINE for one in (bare, ~bare))
    inner, whole, rim = (filled(one, FINE) for one in (made.inner, made.whole, made.rim))
    into = {"inside": width, "middle": width / 2, "outside": 0}[side]
    out = width - into
    np.testing.assert_allclose(inner + rim, whole, atol=0.02)
    assert (inner[bare & (within > into + 0.4)] > 0.5).mean() > (0.97 if form == "badge" else 0.995)
    assert inner[within < into - 0.4].max(initial=0) < 0.5
    if out:
        assert (whole[~bare & (without < out - 0.4)] > 0.5).all()
        assert whole[without > 4 * out].max() < 0.01
    else:
        np.testing.assert_array_equal(
            whole[~bare], filled(rimmed(form, measures).whole, FINE)[~bare]
        )


def test_it_is_filled_outlined_or_both_each_in_its_colour(store):
    plain = drawn(shape(), store)
    assert tuple(plain[200, 320]) == INK and tuple(plain[200, 320 + 95]) == PAPER
    both = drawn(shape(outlined="inside", rim=px(20)), store)
    assert tuple(both[200, 320]) == INK and tuple(both[200, 320 + 80]) == RIM
    assert tuple(both[200, 320 + 95]) == PAPER
    bare = drawn(shape(outlined="outside", rim=px(20), filled=False), store)
    assert tuple(bare[200, 320]) == PAPER and tuple(bare[200, 320 + 100]) == RIM
    none = drawn(shape(filled=False), store)
    assert (none == PAPER).all()
    assert Shape.model_validate(shape(filled=False)).notes() == [NOTHING]


def test_between_a_fill_and_its_rim_nothing_of_the_ground_shows(store):
    """Turned, so that their edge runs through pixels; ink, rim and ground all differ in blue."""
    art = shape(
        form="ellipse", outlined="middle", rim=px(30), colour="#204000", rim_colour="#c03000"
    )
    picture = drawn(art, store, placement={"x": px(320), "y": px(200), "rotation_deg": 17})
    rows, columns = np.nonzero((picture[..., 2] > 3) & (picture != PAPER).any(-1))
    away = np.hypot((columns - 320) / 105, (rows - 200) / 85)
    assert len(away) and away.min() > 0.85  # at the outer edge alone


@pytest.mark.parametrize("form", FORMS)
def test_crops_and_scales_agree(store, form):
    art = shape(form=form, outlined="middle", rim=px(10))
    document = piece(mark(art, 320, 200), size=(640, 400))
    whole = engine.render(document, assets=store, cache=ByteCache())
    part = engine.render(document, assets=store, cache=ByteCache(), region=(211, 97, 130, 101))
    np.testing.assert_array_equal(part, whole[97:198, 211:341])
    half = engine.render(document, assets=store, cache=ByteCache(), scale=0.5)
    down = whole.reshape(200, 2, 320, 2, 4).mean((1, 3))
    assert np.abs(half - down).max() < 0.02


def test_in_perspective_its_edges_stay_straight_lines(store):
    art = shape(width=px(300), height=px(200))
    document = piece(mark(art, 320, 200) | {"id": "sign"}, size=(640, 400))
    corners = [[150, 100], [500, 60], [470, 330], [180, 300]]
    laid = edits.apply(document, [{"op": "lay_corners", "mark": "sign", "corners": corners}], store)
    picture = engine.render(laid, assets=store, cache=ByteCache())[..., 2]
    covered = (PAPER[2] / 255 - picture) / ((PAPER[2] - INK[2]) / 255)
    (a, b, c, d) = np.array(corners, float)
    exact = coverage(np.array([[*a, *b], [*b, *c], [*c, *d], [*d, *a]]), 640, 400)
    np.testing.assert_allclose(covered, np.abs(exact), atol=0.02)


@pytest.mark.parametrize(
    "more",
    [
        {"form": "blob"},
        {"points": 2},
        {"points": 10_000},
        {"depth": 1.5},
        {"hole": 0},
        {"outlined": "around"},
        {"rim": {"value": -5, "unit": "px"}, "width": {"value": float("nan"), "unit": "px"}},
    ],
)
def test_what_is_no_shape_is_refused(more):
    with pytest.raises((ValueError, KilnError)):
        Shape.model_validate(shape(**more))


@pytest.mark.parametrize("form", FORMS)
def test_measures_of_all_sizes_are_drawn(store, form):
    for wide, tall, rim in ((0.001, 4000, 3), (9000, 0.2, 900), (180, 140, 700), (3, 3, 0.01)):
        art = shape(form=form, width=px(wide), height=px(tall), rim=px(rim), outlined="inside")
        assert np.isfinite(drawn(art | {"points": 240}, store)).all()
