"""Displacement, blur and turbulence against Chromium. Source: W3C Filter Effects Module Level 1.

Chromium's displacement samples the nearest pixel, so nearest is compared with nearest; the smooth
resampling is judged by SciPy in tests/core. Its blur is three boxes at every size. Its turbulence
is the standard's code at (x + 1, y + 1).
"""

import numpy as np
import pytest

from kilncore import blur, noise, sampling
from tests.checks.chromium import data_url, premultiplied

SIZE = 64


def filtered(body, pixels):
    return (
        f'<svg width="{SIZE}" height="{SIZE}"><filter id="f" x="0" y="0" width="{SIZE}" '
        f'height="{SIZE}" '
        f'filterUnits="userSpaceOnUse" color-interpolation-filters="sRGB">{body}</filter>'
        f'<image width="{SIZE}" height="{SIZE}" href="{data_url(pixels)}" filter="url(#f)"/></svg>'
    )


def smooth_map(rng):
    y, x = np.mgrid[:SIZE, :SIZE] / SIZE
    map_ = np.full((SIZE, SIZE, 4), 255, np.uint8)
    map_[..., 0], map_[..., 1], map_[..., 2] = 255 * x, 255 * y, rng.integers(0, 256, (SIZE, SIZE))
    return map_


@pytest.mark.parametrize("scale, channels", [(20, "RG"), (-13, "GR"), (31, "BG"), (8, "AR")])
def test_displacement_against_chromium(rng, drawn, scale, channels):
    """Where the shift falls halfway between two pixels, rounding may choose either: at most one
    pixel in fifty.
    """
    image = rng.integers(0, 256, (SIZE, SIZE, 4), dtype=np.uint8)
    image[..., 3] = np.maximum(image[..., 3], 128)
    map_ = smooth_map(rng)
    body = (
        f'<feImage href="{data_url(map_)}" x="0" y="0" width="{SIZE}" height="{SIZE}" result="m"/>'
        f'<feDisplacementMap in="SourceGraphic" in2="m" scale="{scale}" '
        f'xChannelSelector="{channels[0]}" '
        f'yChannelSelector="{channels[1]}"/>'
    )
    theirs = drawn(filtered(body, image), SIZE, SIZE)
    ours = premultiplied(
        sampling.displace(
            image / np.float32(255), map_ / np.float32(255), scale, scale, *channels, "nearest"
        )
    )
    apart = np.abs(theirs - ours).max(2) > 1.5 / 255
    assert apart.mean() < 0.02
    assert np.abs(ours - premultiplied(image / np.float32(255))).mean() > 0.1  # and it did move


def test_displacement_by_hand():
    """The formula itself, P'(x, y) = P(x + s (X - 0.5), y + s (Y - 0.5)), at one pixel worked out
    on paper.
    """
    image, map_ = np.zeros((9, 9, 4), np.float32), np.full((9, 9, 4), 0.5, np.float32)
    image[6, 7] = 1
    map_[4, 4, :2] = (0.8, 0.7)  # 10 * 0.3 = 3 px right, 10 * 0.2 = 2 px down
    moved = sampling.displace(image, map_, 10, 10)
    assert moved[4, 4, 3] == pytest.approx(1, abs=1e-5) and moved[..., 3].sum() == pytest.approx(
        2, abs=1e-4
    )


def sigma_of_three_boxes(sigma):
    """The standard's shortcut: boxes of d = floor(sigma * 3 sqrt(2 pi) / 4 + 0.5), the third of d +
    1 when d is even.

    A box of width d has variance (d * d - 1) / 12, and variances add: at sigma 6 the three are a
    Gaussian of 5.48.
    """
    d = int(sigma * 3 * np.sqrt(2 * np.pi) / 4 + 0.5)
    widths = [d, d, d] if d % 2 else [d, d, d + 1]
    return np.sqrt(sum((w * w - 1) / 12 for w in widths))


@pytest.mark.parametrize("sigma", [3, 6])
def test_blur_against_chromium(rng, drawn, sigma):
    """Ours is the Gaussian itself; three boxes come within 2 % of the Gaussian of their own
    variance.
    """
    image = np.zeros((SIZE, SIZE, 4), np.uint8)
    image[20:44, 24:40] = (200, 90, 30, 255)
    theirs = drawn(filtered(f'<feGaussianBlur stdDeviation="{sigma}"/>', image), SIZE, SIZE)
    ours = premultiplied(blur.gaussian(image / np.float32(255), sigma_of_three_boxes(sigma)))
    assert np.abs(theirs - ours).max() <= 0.02


@pytest.mark.parametrize(
    "kind, theirs_kind", [("fractal", "fractalNoise"), ("turbulence", "turbulence")]
)
@pytest.mark.parametrize("seed, octaves", [(0, 1), (5, 3), (77, 4)])
def test_turbulence_against_chromium(drawn, kind, theirs_kind, seed, octaves):
    body = (
        f'<feTurbulence type="{theirs_kind}" baseFrequency="0.06 0.11" '
        f'numOctaves="{octaves}" seed="{seed}"/>'
    )
    theirs = drawn(filtered(body, np.zeros((SIZE, SIZE, 4), np.uint8)), SIZE, SIZE)
    ours = premultiplied(noise.turbulence(SIZE + 1, SIZE + 1, (0.06, 0.11), octaves, seed, kind))[
        1:, 1:
    ]
    assert np.abs(theirs - ours).max() <= 2.5 / 255


def test_stitched_turbulence_has_no_seam():
    """Filter Effects, stitchTiles: the frequencies are adjusted so that the tile's edges meet."""
    columns = np.abs(np.diff(noise.turbulence(60, 60, 0.053, 2, 3, stitch=True), axis=1)).mean(
        (0, 2)
    )
    tile, plain = (noise.turbulence(60, 60, 0.053, 2, 3, stitch=stitch) for stitch in (True, False))
    assert np.abs(tile[:, 0] - tile[:, -1]).mean() < 1.1 * columns.max()
    assert np.abs(plain[:, 0] - plain[:, -1]).mean() > 2 * columns.max()
