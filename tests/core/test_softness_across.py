"""Softness that varies over a mark with what lies beneath: a photo with little depth of focus."""

import cv2
import numpy as np
import pytest

from kilncore import engine
from kilncore.engine.matched import slope_of
from kilncore.measure.edge_softness import softness
from kilncore.planes.softness_across import Slope
from kilncore.system.cache import ByteCache
from tests.documents import lettering, mark, piece, px, step
from tests.pictures import png

SIZE = (1600, 480)


@pytest.fixture(scope="module")
def shallow():
    """(H, W, 3) uint8: hard blocks, blurred by 1 px at the left and by 5 px at the right."""
    rng = np.random.default_rng(8)
    cells = rng.integers(60, 200, (12, 40)).astype(np.float32)
    sharp = cells.repeat(40, 0).repeat(40, 1)
    sigmas = np.linspace(1, 5, 17)
    stack = [cv2.GaussianBlur(sharp, (0, 0), one) for one in sigmas]
    place = np.linspace(0, 16, SIZE[0])
    out = np.zeros_like(sharp)
    for n, one in enumerate(stack):
        out += one * np.clip(1 - np.abs(place - n), 0, 1)
    return np.rint(out)[..., None].repeat(3, 2).astype(np.uint8)


@pytest.fixture
def words(store, shallow):
    ground = {"kind": "texture", "texture": {"hash": store.keep(png(shallow))}}
    ground["placement"] = {"x": px(0), "y": px(0)}

    def of(**settings):
        one = {**step("soften", match=True, **settings), "id": "s"}
        art = lettering("IIIIIIIIIIII", 300, "#000000", font="anton", tracking=60)
        return piece(mark(art, 800, 240, [one]), ground=ground, size=SIZE)

    return of


def test_it_is_as_soft_as_the_surface_at_either_end(store, words, shallow):
    document = words(varies=True)
    least, most = slope_of(document, "s", store)
    assert least == pytest.approx(1.4, abs=0.5) and most == pytest.approx(4.4, abs=0.9)
    found = engine.render(document, assets=store)[..., 0] * 255
    art = found < 50  # the strokes are black, the surface is not
    assert art.any()
    ends = [softness(_strokes(found, shallow, left)) for left in (300, 1080)]
    assert ends[1] > ends[0] + 1


def _strokes(found, shallow, left):
    """How much of the surface is covered, in a part, 0..1."""
    under = shallow[..., 0].astype(np.float32)
    return (1 - found / under)[100:380, left : left + 260].clip(0, 1).astype(np.float32)


def test_every_crop_is_the_same_and_evenly_soft_surfaces_are_softened_evenly(store, words):
    document = words(varies=True)
    whole = engine.render(document, assets=store)
    crop = engine.render(document, (500, 90, 400, 300), assets=store)
    assert np.abs(whole[90:390, 500:900] - crop).max() == 0
    assert slope_of(words(), "s", store) is None


def test_a_step_of_the_ground_is_not_measured_on_what_it_makes(store, shallow):
    """It lies on nothing: asked for the ground alone, it finds no surface, and no end of itself."""
    one = step("soften", match=True, ground=True, varies=True)
    ground = {"kind": "texture", "texture": {"hash": store.keep(png(shallow[:200, :200]))}}
    document = piece(mark(treatment=[one]), ground=ground, size=(200, 200))
    treated = document.ground.model_copy(update={"treatment": document.stack[0].treatment})
    found = engine.render(document.model_copy(update={"ground": treated}), assets=store)
    assert np.isfinite(found).all()


@pytest.mark.parametrize("scale", [0.2149, 0.33, 0.6, 1])
def test_on_the_softest_surface_it_reads_no_farther_than_it_says(store, words, monkeypatch, scale):
    """Between two blurs, the wider one reaches farther than the surface is soft."""
    monkeypatch.setattr(Slope, "at", lambda self, x, y: np.full((y + x).shape, 40.0))
    found = engine.render(words(varies=True), assets=store, scale=scale, cache=ByteCache())
    assert np.isfinite(found).all()
