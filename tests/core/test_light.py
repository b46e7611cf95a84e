"""Pools of light beside SciPy: the noncentral chi-squared distribution, and a Gaussian filter."""

import numpy as np
import pytest
from scipy.ndimage import gaussian_filter
from scipy.stats import ncx2

from kilncore import engine
from kilncore.artwork.light import Pool, shining
from kilncore.edits import apply
from kilncore.errors import KilnError
from kilncore.geometry.affine import Affine
from kilncore.geometry.box import Box
from kilncore.shapes.pools import profile
from kilncore.system.cache import ByteCache
from tests.documents import mark, piece, px

SIZE = (420, 300)


def light(*pools):
    return {"kind": "light", "width": px(300), "height": px(200), "pools": list(pools)}


def pool(n=0, **more):
    return {"id": f"pool{n}", "points": [(0, 0), (0.2, 0), (0, 0.2)], "colour": "#ffcc88"} | more


def drawn(document, store, scale=1.0, box=None):
    return engine.pixels(document, box, scale, store, truly=True, cache=ByteCache(), seen=None)


@pytest.mark.parametrize("blur", [0.02, 0.1, 0.5, 1.0, 3.0])
def test_a_blurred_disc_is_what_the_distribution_says(blur):
    """The chance that a place strayed by a normal distribution lies in the disc (Marcum 1960)."""
    table, far = profile(blur)
    r = np.linspace(0, far, len(table))
    wanted = ncx2.cdf(1 / blur**2, 2, (r / blur) ** 2)
    np.testing.assert_allclose(table, wanted, atol=4e-4)


@pytest.mark.parametrize(("form", "blur"), [("ellipse", 0.3), ("ellipse", 1.2), ("stroke", 0.8)])
def test_pools_against_a_gaussian_filter(form, blur):
    """Of a raster four times as fine."""
    fine, side = 4, 200
    box, placed = Box(0, 0, side, side), Affine(100, 0, 0, 100, 100, 100)
    y, x = (np.mgrid[: side * fine, : side * fine] + 0.5) / fine
    if form == "ellipse":
        one = Pool(points=((0.1, 0), (0.4, 0), (0.1, 0.3)), blur=blur)
        hard, sigma = np.hypot(x - 110, y - 100) < 30, blur * 30
    else:
        one = Pool(form="stroke", points=((-0.9, 0.0), (0.9, 0.0)), width=0.2, blur=blur)
        hard, sigma = np.abs(y - 100) < 10, blur * 20
    wanted = gaussian_filter(hard.astype(float), sigma * fine, truncate=6)
    wanted = wanted.reshape(side, fine, side, fine).mean((1, 3))
    found = shining(one, placed, box)
    away = np.abs(found - wanted)
    away = away[:, 60:140] if form == "stroke" else away  # its ends are round
    assert away.max() < 0.025 and away.mean() < 0.003


def test_an_ellipse_is_a_circle_that_is_drawn_out(store):
    wide = pool(points=[(0, 0), (0.4, 0), (0, 0.2)])
    found = drawn(piece(mark(light(wide), 210, 150), size=SIZE), store)[..., 2].astype(int)
    assert found[150, 210 + 60] == pytest.approx(found[150 + 30, 210], abs=2)
    turned = pool(points=[(0, 0), (0, 0.4), (-0.2, 0)])
    other = drawn(piece(mark(light(turned), 210, 150), size=SIZE), store)[..., 2].astype(int)
    np.testing.assert_allclose(
        other[150 - 80 : 231, 210 - 80 : 291].T, found[70:231, 130:291], atol=2
    )


def test_doubled_it_shines_more_and_a_dark_one_deepens(store):
    def at(*pools):
        return drawn(piece(mark(light(*pools), 210, 150), size=SIZE), store)[150, 210].astype(int)

    bare, once, twice = at(), at(pool(strength=0.5)), at(pool(strength=0.5), pool(1, strength=0.5))
    share = (once - bare)[2] / (0x88 - bare[2])
    assert (twice - bare)[2] / (0x88 - bare[2]) == pytest.approx(1 - (1 - share) ** 2, abs=0.02)
    assert (at(pool(colour="#000000")) < bare - 60)[:3].all()


def test_crops_drafts_and_dither(store):
    stroke = pool(1, form="stroke", points=[(-0.6, 0.2), (0, -0.3), (0.6, 0.2)], blur=1)
    document = piece(mark(light(pool(strength=0.1, blur=1), stroke), 210, 150), size=SIZE)
    whole = drawn(document, store)
    np.testing.assert_array_equal(
        drawn(document, store, box=(90, 70, 200, 150)), whole[70:220, 90:290]
    )
    mean = whole.reshape(150, 2, 210, 2, -1).mean((1, 3))
    assert np.abs(engine.pixels(document, None, 0.5, store) - mean).max() < 3
    flat = drawn(piece(mark(light(pool(strength=0.03, blur=2)), 210, 150), size=SIZE), store)
    assert len(np.unique(flat[148:152, 200:220, 2])) > 1


def test_in_a_group_and_in_perspective_it_goes_along(store):
    document = piece(mark(light(pool()), 210, 150) | {"id": "glow"}, size=SIZE)
    corners = [[60, 50], [360, 50], [360, 250], [60, 250]]  # where it lies anyway
    laid = apply(document, [{"op": "lay_corners", "mark": "glow", "corners": corners}], store)
    away = np.abs(drawn(laid, store).astype(int) - drawn(document, store))
    assert away.max() <= 3


@pytest.mark.parametrize(
    "bad",
    [
        [pool(points=[(0, 0)])],
        [pool(points=[(0, 0), (1e9, 0)])],
        [pool(strength=2)],
        [pool(n) for n in range(41)],
        [pool(form="square")],
    ],
)
def test_what_is_no_light_is_refused(bad):
    document = piece(mark(light(pool())) | {"id": "a"}, size=SIZE)
    with pytest.raises(KilnError):
        apply(document, [{"op": "set", "path": ["stack", "a", "art", "pools"], "value": bad}])


@pytest.mark.parametrize(
    "points",
    [
        [(0, 0), (0, 0), (0, 0)],
        [(0, 0), (0.2, 0), (0.4, 0)],
        [(0, 0), (0.2, 0)],
        [(40, 40), (-40, 40)],
    ],
)
@pytest.mark.parametrize("form", ["ellipse", "stroke"])
def test_odd_pools_are_drawn(store, points, form):
    odd = pool(form=form, points=points, blur=0)
    assert drawn(piece(mark(light(odd), 210, 150), size=SIZE), store).shape[:2] == (300, 420)
