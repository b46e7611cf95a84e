"""In perspective: a texture laid over 1280 x 800, beside OpenCV's and the same texture turned flat;
and a composite of which a corner is dragged, beside the same moved.
"""

import tempfile
from pathlib import Path

import cv2
import numpy as np

from bench import work
from bench.measure import median, ms, say
from kilncore import engine
from kilncore.edits import apply
from kilncore.engine.recall import Recall
from kilncore.layout.layout import Layout
from kilncore.perspective.homography import between
from kilncore.perspective.projection import Projection
from kilncore.system.cache import ByteCache
from kilncore.textures.texture import Texture

WIDE, TALL = 1280, 800
LAID = ((0, 40), (1280, 0), (1200, 800), (60, 700))


def report() -> None:
    """All of it."""
    for times_smaller in (1, 3):
        _texture(times_smaller)
    with tempfile.TemporaryDirectory() as name:
        store, hashes = work.store_with_textures(Path(name) / "assets")
        _dragged(store, work.composite((WIDE, TALL), hashes))


def _texture(smaller: int) -> None:
    side = 2048
    pixels = np.random.default_rng(1).integers(0, 256, (side, side, 3), dtype=np.uint8)
    texture = Texture(np.ascontiguousarray(np.moveaxis(pixels, 2, 0)))
    x, y = smaller * WIDE / 2, smaller * TALL / 2
    plane = between(((-x, -y), (x, -y), (x, y), (-x, y)), LAID)
    laid, matrix = Projection.chain(plane), (1, 0, 0, 1, 0, 0)

    def ours():
        return texture.sample(matrix, 0, 0, WIDE, TALL, "repeat", laid)

    def turned():
        way = smaller * 0.99, smaller * 0.14, -smaller * 0.14, smaller * 0.99, 0.0, 0.0
        return texture.sample(way, 0, 0, WIDE, TALL, "repeat")

    whole = plane.array @ np.array([[1, 0, -side / 2], [0, 1, -side / 2], [0, 0, 1]])

    def theirs():
        return cv2.warpPerspective(pixels, whole, (WIDE, TALL), borderMode=cv2.BORDER_WRAP)

    took, flat, other = median(ours, 5), median(turned, 5), median(theirs, 5)
    say(
        f"a texture laid in perspective, {smaller} of its px in one",
        ms(took),
        f"{took / flat:.1f} x turned flat, {took / other:.0f} x OpenCV's one sample",
    )


def _dragged(store, document) -> None:
    mark = document.stack[0].id
    tree = apply(document, [{"op": "set_in_perspective", "mark": mark, "way": "corners"}])
    ring = np.array(Layout(tree).boxes()[mark].ring)
    cache, recall, n = ByteCache(400 * 2**20), Recall(), [0]

    def shown(piece):
        engine.pixels(piece, None, 0.7, store, cache=cache, recall=recall)

    def corner():
        n[0] += 1
        corners = (ring + [(0, 0), (-20 - n[0], 12 + n[0] / 2), (0, 0), (0, 0)]).tolist()
        shown(apply(tree, [{"op": "lay_corners", "mark": mark, "corners": corners}]))

    def moved():
        n[0] += 1
        px = {"value": WIDE / 2 + n[0], "unit": "px"}
        shown(
            apply(document, [{"op": "set", "path": ["stack", mark, "placement", "x"], "value": px}])
        )

    for act in (corner, moved):
        act()
    laid, flat = median(corner, 9), median(moved, 9)
    say(
        f"{WIDE} x {TALL}: a corner dragged, draft (70%)",
        ms(laid),
        f"{laid / flat:.1f} x the same mark moved flat",
    )
