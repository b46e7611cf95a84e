"""Freehand outlines, against Pillow's own polygons and exact distances."""

import math

import numpy as np
import pytest
from PIL import Image, ImageDraw

from kilncore.document import load
from kilncore.engine.held_back import held_back
from kilncore.errors import KilnError
from kilncore.geometry.box import Box
from kilncore.planes.outline import OutlinePlane
from tests.documents import piece, px, step
from tests.pictures import png

BOX = Box(0, 0, 90, 70)
STAR = tuple(
    (45 + r * math.cos(n * math.pi / 5), 35 + r * math.sin(n * math.pi / 5))
    for n, r in enumerate([32, 13] * 5)
)
HOLE = ((38.0, 30.0), (52.0, 30.0), (52.0, 41.0), (38.0, 41.0))


def test_it_is_filled_as_a_polygon_is(rng):
    """Even-odd, against Pillow's polygons at sixteen times the size."""
    found = OutlinePlane((STAR, HOLE), 1).compute(None, BOX)
    large = Image.new("L", (90 * 16, 70 * 16))
    drawn = ImageDraw.Draw(large)
    drawn.polygon([(16 * x, 16 * y) for x, y in STAR], fill=255)
    drawn.polygon([(16 * x, 16 * y) for x, y in HOLE], fill=0)
    wanted = np.asarray(large.resize((90, 70), Image.BOX), float) / 255
    assert abs(found.mean() - wanted.mean()) < 0.003
    assert np.abs(found - wanted).max() < 0.35  # at the very tips
    assert np.quantile(np.abs(found - wanted), 0.99) < 0.12


@pytest.mark.parametrize("feather", [1, 6, 15])
def test_its_soft_edge_is_as_wide_all_round(feather):
    square = ((20.0, 20.0), (70.0, 20.0), (70.0, 50.0), (20.0, 50.0))
    found = OutlinePlane((square,), feather).compute(None, BOX)
    x, y = np.arange(90) + 0.5, np.arange(70)[:, None] + 0.5
    dx, dy = np.maximum(20 - x, x - 70), np.maximum(20 - y, y - 50)
    outside = np.hypot(np.maximum(dx, 0), np.maximum(dy, 0)) + np.minimum(np.maximum(dx, dy), 0)
    assert np.abs(found - np.clip(0.5 - outside / feather, 0, 1)).max() < 1e-6


def test_a_part_of_it_is_the_same_to_the_bit(rng):
    plane = OutlinePlane((STAR, HOLE), 7)
    whole = plane.compute(None, BOX)
    part = plane.compute(None, Box(23, 11, 61, 52))
    assert (part == whole[11:52, 23:61]).all()


def kept_in(store, **region):
    white = {"hash": store.keep(png(np.full((16, 16), 255, np.uint8)))}
    coat = step("coat", texture=white, keep_to_art=False) | {"id": "coat"}
    box = {"x": px(45), "y": px(35), "width": px(40), "height": px(20)}
    coat["landing"]["limits"] = [{"kind": "region", "shape": "outline", **box, **region}]
    tree = piece(size=(90, 70)).model_dump(mode="json")
    return load({**tree, "treatment": [coat]})


def test_a_region_of_an_outline_turns_with_its_box(store):
    half = [[[0, 0], [0.5, 0], [0.5, 1], [0, 1]]]  # the left half of the box
    for turn, wanted in ((0, (25, 45, 25, 45)), (180, (45, 65, 25, 45)), (90, (35, 55, 15, 35))):
        document = kept_in(store, outline=half, rotation_deg=turn)
        weight, _ = held_back(document, "piece", "coat", (0, 0, 90, 70), 1.0, store)
        left, right, top, bottom = wanted
        inside = np.zeros((70, 90), bool)
        inside[top:bottom, left:right] = True
        assert np.abs(weight - inside).mean() < 0.001, turn


@pytest.mark.parametrize(
    "region",
    [
        {"outline": []},
        {"outline": [[[0, 0], [1, 1]]]},
        {"outline": [[[0, 0], [1, 1], [0, 9]]]},
        {"outline": [[[0, 0], [1, 1], [0, 1]]] * 90},
        {"outline": [[[0.1, 0.1]] * 700] * 2},
    ],
)
def test_outlines_that_make_no_sense_are_refused(store, region):
    with pytest.raises(KilnError):
        kept_in(store, **region)
