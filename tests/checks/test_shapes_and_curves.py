"""Morphology and component transfer against Chromium, and against SciPy. Source: W3C Filter Effects
Module Level 1.
"""

import numpy as np
import pytest
from scipy import ndimage

from kilncore.errors import KilnError
from kilncore.morphology import morphology
from kilncore.pixels.planes import to_planes
from kilncore.transfer import transferred
from tests.checks.chromium import premultiplied
from tests.checks.test_filters import SIZE, filtered


def blotches(rng):
    """Soft shapes with soft alpha."""
    image = ndimage.gaussian_filter(rng.random((SIZE, SIZE, 4)), (3, 3, 0))
    image = (image - image.min()) / (image.max() - image.min())
    image[..., 3] = np.clip(image[..., 3] * 3 - 1, 0.2, 1)
    return np.rint(image * 255).astype(np.uint8)


@pytest.mark.parametrize("operator", ["erode", "dilate"])
@pytest.mark.parametrize("radii", [(1, 1), (3, 2), (7, 9)])
def test_morphology_against_chromium(rng, drawn, operator, radii):
    """The least and the most of 8-bit values are themselves 8-bit values: only premultiplying
    rounds, by one step.
    """
    image = blotches(rng)
    theirs = drawn(
        filtered(f'<feMorphology operator="{operator}" radius="{radii[0]} {radii[1]}"/>', image),
        SIZE,
        SIZE,
    )
    ours = premultiplied(morphology(image / np.float32(255), *radii, operator))
    assert np.abs(theirs - ours).max() <= 2.5 / 255
    assert (
        np.abs(ours - premultiplied(image / np.float32(255))).mean() > 2 / 255
    )  # and it did something


@pytest.mark.parametrize(
    "operator, theirs", [("erode", ndimage.minimum_filter), ("dilate", ndimage.maximum_filter)]
)
@pytest.mark.parametrize("radii", [(0, 4), (5, 0), (40, 3)])
def test_morphology_against_scipy(rng, operator, theirs, radii):
    """One axis alone, where a browser may leave the effect out, and a radius wider than half the
    picture.
    """
    image = blotches(rng) / np.float32(255)
    size = (1, 2 * radii[1] + 1, 2 * radii[0] + 1)
    expected = theirs(to_planes(image), size=size, mode="constant")
    np.testing.assert_allclose(to_planes(morphology(image, *radii, operator)), expected, atol=1e-5)


CURVES = {
    "table": (("table", (0, 0.8, 0.3, 1)), 'type="table" tableValues="0 0.8 0.3 1"'),
    "discrete": (("discrete", (0.1, 0.9, 0.4)), 'type="discrete" tableValues="0.1 0.9 0.4"'),
    "linear": (("linear", 1.6, -0.2), 'type="linear" slope="1.6" intercept="-0.2"'),
    "gamma": (
        ("gamma", 0.9, 2.2, 0.05),
        'type="gamma" amplitude="0.9" exponent="2.2" offset="0.05"',
    ),
}


@pytest.mark.parametrize("name", CURVES)
def test_component_transfer_against_chromium(rng, drawn, name):
    """Opaque pictures, so that no premultiplying rounds: within a step and a half of 8 bits."""
    curve, attributes = CURVES[name]
    image = rng.integers(0, 256, (SIZE, SIZE, 4), dtype=np.uint8)
    image[..., 3] = 255
    body = (
        f"<feComponentTransfer><feFuncR {attributes}/><feFuncB {attributes}/></feComponentTransfer>"
    )
    theirs = drawn(filtered(body, image), SIZE, SIZE)
    ours = transferred(image / np.float32(255), red=curve, blue=curve)
    np.testing.assert_allclose(theirs[..., 1], image[..., 1] / 255, atol=1e-6)
    assert np.abs(theirs - ours).max() <= 1.5 / 255


def test_what_is_no_curve_or_radius_is_refused():
    image = np.zeros((4, 4, 4))
    with pytest.raises(KilnError, match="curve must be one of"):
        transferred(image, red=("sparkle",))
    with pytest.raises(KilnError, match="whole number"):
        morphology(image, -1)
    with pytest.raises(KilnError, match="erode"):
        morphology(image, 1, 1, "melt")
