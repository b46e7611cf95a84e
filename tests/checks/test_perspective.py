"""Perspective against OpenCV, and minification against supersampling."""

import cv2
import numpy as np
import pytest

from kilncore import engine
from kilncore.layout.layout import Layout
from kilncore.perspective.homography import between
from kilncore.perspective.projection import Projection
from kilncore.textures.texture import Texture
from tests.documents import mark, piece
from tests.pictures import png

SIDE = 256
CORNERS = ((-120, -96), (104, -130), (128, 90), (-140, 118))


def smooth(rng, waves=6):
    """A colour picture without edges."""
    y, x = np.mgrid[0:SIDE, 0:SIDE] / SIDE
    found = np.zeros((SIDE, SIDE, 3))
    for _ in range(waves):
        u, v, phase = rng.uniform(-5, 5), rng.uniform(-5, 5), rng.uniform(0, 6, 3)
        found += np.cos(2 * np.pi * (u * x + v * y)[..., None] + phase)
    return np.rint(127.5 + 110 * found / waves).astype(np.uint8)


def test_the_matrix_is_opencvs():
    """Source: OpenCV, getPerspectiveTransform (Heckbert 1989)."""
    flat = ((-100, -50), (100, -50), (100, 50), (-100, 50))
    theirs = cv2.getPerspectiveTransform(np.float32(flat), np.float32(CORNERS))
    ours = between(flat, CORNERS).array
    np.testing.assert_allclose(ours / ours[2, 2], theirs, rtol=1e-6, atol=1e-9)


def test_a_picture_laid_by_four_corners_is_opencvs(store, rng):
    """Source: OpenCV, warpPerspective, cubic. It counts the middle of a pixel as a whole number."""
    pixels = smooth(rng)
    art = {"kind": "picture", "hash": store.keep(png(pixels)), "width": SIDE, "height": SIDE}
    box = {"kind": "corners", "width": SIDE, "height": SIDE, "corners": CORNERS}
    document = piece(mark(art, 200, 150, perspective=box))
    found = engine.render(document, assets=store)[..., :3]
    plane = Layout(document).projection(document.stack[0]).parts[0].array
    half = np.array([[1, 0, 0.5], [0, 1, 0.5], [0, 0, 1]])
    placed = np.array([[1, 0, 200 - SIDE / 2], [0, 1, 150 - SIDE / 2], [0, 0, 1]])
    whole = np.linalg.inv(half) @ plane @ placed @ half
    theirs = cv2.warpPerspective(
        pixels.astype(np.float32) / 255, whole, (400, 300), flags=cv2.INTER_CUBIC
    )
    inside = cv2.warpPerspective(np.ones((SIDE, SIDE), np.float32), whole, (400, 300))
    inside = cv2.erode((inside > 0.999).astype(np.uint8), np.ones((9, 9))) > 0
    assert inside.sum() > 30_000
    assert np.abs(found - theirs)[inside].max() < 1 / 255


@pytest.mark.parametrize("kind", ["noise", "checks", "fine lines"])
def test_what_lies_far_away_is_the_mean_of_what_it_covers(rng, kind):
    """A wall that runs away from the eye, against 12 x 12 samples of each pixel."""
    y, x = np.mgrid[0:512, 0:512]
    plane = {
        "noise": rng.integers(0, 256, (512, 512)),
        "checks": 255 * ((x // 16 + y // 16) % 2),
        "fine lines": 255 * (x % 8 < 3),
    }[kind].astype(np.uint8)
    texture = Texture(plane[None])
    flat = ((-256, -256), (256, -256), (256, 256), (-256, 256))
    laid = Projection.chain(between(flat, ((10, 4), (190, 60), (190, 95), (10, 196))))
    found, _ = texture.sample((1, 0, 0, 1, 0, 0), 0, 0, 200, 200, "repeat", laid)
    n = 12
    at = (np.arange(200 * n) + 0.5) / n
    places = np.stack(np.meshgrid(at, at), 2).reshape(-1, 2)
    u, v = laid.flat_of(places).T
    column, row = np.floor(u + 256).astype(int) % 512, np.floor(v + 256).astype(int) % 512
    truth = plane[row, column].reshape(200, n, 200, n).mean((1, 3)) / 255
    here = laid.flat_of(
        np.stack(np.meshgrid(np.arange(200) + 0.5, np.arange(200) + 0.5), 2).reshape(-1, 2)
    ).reshape(200, 200, 2)
    shrunk = (np.abs(here) < 250).all(2)
    shrunk[:, :60] = False  # from there on a pixel covers three px of the texture and more
    x, y = (here[..., n].astype(np.float32) + 255.5 for n in (0, 1))
    alone = cv2.remap(plane.astype(np.float32) / 255, x, y, cv2.INTER_LINEAR)
    error, plain = (found[0] - truth)[shrunk], (alone - truth)[shrunk]
    assert abs(error.mean()) < 0.5 / 255
    rms = np.sqrt((error**2).mean())
    assert rms < 14 / 255 and rms < 0.3 * np.sqrt((plain**2).mean())


def test_a_texture_twice_as_far_away_is_as_its_half(rng):
    """Laid by a plain scale it is the mean of whole blocks."""
    plane = rng.integers(0, 256, (256, 256)).astype(np.uint8)
    flat = ((-128, -128), (128, -128), (128, 128), (-128, 128))
    small = Projection.chain(between(flat, ((0, 0), (32, 0), (32, 32), (0, 32))))
    found, _ = Texture(plane[None]).sample((1, 0, 0, 1, 0, 0), 0, 0, 32, 32, "repeat", small)
    means = plane.reshape(32, 8, 32, 8).mean((1, 3)) / 255
    assert np.sqrt(((found[0] - means) ** 2).mean()) < 6 / 255
    assert np.corrcoef(found[0].ravel(), means.ravel())[0, 1] > 0.97
