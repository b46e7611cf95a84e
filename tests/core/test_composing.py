"""Landing: paint, cover, remake, and what must never change anything."""

import numpy as np
import pytest

from kilncore.blend import BLEND_MODES, composite
from kilncore.blending import compositing
from kilncore.errors import KilnError
from kilncore.pixels import picture as pictures
from kilncore.pixels.mask import Mask
from kilncore.pixels.planes import from_planes, to_planes


def picture(rng, height=20, width=30):
    return rng.random((height, width, 4), dtype=np.float32)


def paint(below, source, *how, **more):
    return pictures.drawn(lambda *both: compositing.paint(*both, *how, **more), below, source)


def remake(below, made, *how):
    return pictures.drawn(lambda *both: compositing.remake(*both, *how), below, made)


def cover(art, shown, weight=1.0):
    grey = np.stack([*[shown] * 3, np.ones_like(shown)])
    return pictures.drawn(
        lambda art, mask: compositing.cover(art, Mask(mask.colour[0]), weight), art, grey
    )


@pytest.mark.parametrize("mode", BLEND_MODES)
def test_zero_opacity_is_identity(rng, mode):
    backdrop = picture(rng)
    backdrop[..., :3][backdrop[..., 3] == 0] = 0
    np.testing.assert_allclose(composite(backdrop, picture(rng), mode, 0), backdrop, atol=2e-6)


def test_overlay_with_middle_grey_changes_nothing(rng):
    """Common practice: a 50 % grey coat under overlay changes nothing."""
    backdrop, grey = picture(rng), np.full((20, 30, 4), 0.5, np.float32)
    backdrop[..., 3] = grey[..., 3] = 1
    # overlay(cb, 0.5): 2 cb * 0.5 below one half, and above it (2 cb - 1) + 0.5 - (2 cb - 1) / 2 =
    # cb
    np.testing.assert_allclose(composite(backdrop, grey, "overlay"), backdrop, atol=1e-6)


@pytest.mark.parametrize("tone", [0.0, 1.0])
def test_overlay_changes_neither_black_nor_white(rng, tone):
    """Common practice."""
    backdrop = np.full((20, 30, 4), tone, np.float32)
    backdrop[..., 3] = 1
    coat = picture(rng)
    np.testing.assert_allclose(composite(backdrop, coat, "overlay"), backdrop, atol=1e-6)


def test_screen_never_darkens_and_multiply_never_lightens(rng):
    """Common practice."""
    backdrop, coat = picture(rng), picture(rng)
    backdrop[..., 3] = 1
    assert (composite(backdrop, coat, "screen")[..., :3] >= backdrop[..., :3] - 1e-6).all()
    assert (composite(backdrop, coat, "multiply")[..., :3] <= backdrop[..., :3] + 1e-6).all()


def test_laying_the_same_coat_twice_shows_more_of_it(rng):
    """Common practice: doubling the layer intensifies it; a strength of 2 is the same as two
    coats.
    """
    art, coat = to_planes(picture(rng)), to_planes(picture(rng))
    once = paint(art, coat, "multiply", 0.6, kept_to_art=True)
    twice = paint(once, coat, "multiply", 0.6, kept_to_art=True)
    assert np.abs(twice - art).mean() > np.abs(once - art).mean() > 0


def test_a_coat_kept_to_the_art_leaves_its_alpha(rng):
    art, coat = to_planes(picture(rng)), to_planes(picture(rng))
    np.testing.assert_array_equal(paint(art, coat, "normal", 1, kept_to_art=True)[3], art[3])


def test_a_cover_of_one_keeps_and_of_nought_takes(rng):
    """CSS Masking: white reveals, black conceals."""
    art = to_planes(picture(rng))
    np.testing.assert_array_equal(cover(art, np.ones((20, 30), np.float32)), art)
    assert not cover(art, np.zeros((20, 30), np.float32)).any()


def test_sixty_per_cent_wear_is_subtler_than_a_hundred(rng):
    """Common practice."""
    art, shown = to_planes(picture(rng)), rng.random((20, 30), dtype=np.float32)
    taken = [(art - cover(art, shown, strength))[3].sum() for strength in (0.6, 1.0)]
    assert taken[0] == pytest.approx(0.6 * taken[1], rel=1e-4)


def test_remaking_fully_gives_what_was_made(rng):
    art, made = to_planes(picture(rng)), to_planes(picture(rng))
    np.testing.assert_allclose(remake(art, made), made, atol=1e-6)
    np.testing.assert_allclose(remake(art, made, "multiply", 0.0), art, atol=1e-6)


@pytest.mark.parametrize("mode", BLEND_MODES)
def test_results_hold_alpha_and_colour_in_bounds(rng, mode):
    result = paint(to_planes(picture(rng)), to_planes(picture(rng)), mode, 0.8)
    assert (result >= 0).all() and (result[3] <= 1).all() and (result[:3] <= result[3]).all()


def test_not_a_number_becomes_nought(rng):
    broken = picture(rng)
    broken[3, 4] = np.nan
    assert np.isfinite(composite(broken, broken, "soft-light")).all()


def test_refusals_name_the_rule(rng):
    with pytest.raises(KilnError, match="blend mode must be one of"):
        composite(picture(rng), picture(rng), "sparkle")
    with pytest.raises(KilnError, match="one size"):
        composite(picture(rng), picture(rng, 5, 5))
    with pytest.raises(KilnError, match="4 channels"):
        composite(np.zeros((4, 4, 3)), np.zeros((4, 4, 3)))


def test_planes_there_and_back(rng):
    image = picture(rng)
    image[..., 3] = np.maximum(image[..., 3], 0.01)
    np.testing.assert_allclose(from_planes(to_planes(image)), image, atol=1e-5)
