"""Readings of textures, on pictures of which the answer is known."""

import numpy as np
import pytest
from scipy import ndimage
from scipy.special import erf

from kilncore.errors import KilnError
from kilncore.measure import coarseness, direction, evenness, seam, softness
from kilncore.measure.lighting import lit_from
from kilncore.textures.facts import facts_of, good_for, sentences, warnings


def discs(rng, radius, side=700, share=0.1):
    """Dark antialiased discs on white."""
    found, y, x = np.ones((side, side), np.float32), *np.mgrid[0:side, 0:side]
    for _ in range(int(share * side * side / (np.pi * radius**2))):
        a, b = rng.uniform(radius + 2, side - radius - 2, 2)
        at = tuple(slice(int(n - radius - 2), int(n + radius + 3)) for n in (a, b))
        away = np.hypot(y[at] - a, x[at] - b)
        found[at] = np.minimum(found[at], np.clip(away - radius + 0.5, 0, 1))
    return found


@pytest.mark.parametrize("radius", [2, 3, 5, 8, 14, 22])
def test_specks_of_known_size_are_read_within_a_tenth(rng, radius):
    assert coarseness(discs(rng, radius)) == pytest.approx(2 * radius, rel=0.1)


@pytest.mark.parametrize("sigma", [2, 5, 9])
def test_soft_spots_too(rng, sigma):
    """Their autocorrelation falls to half at 1.665 sigma: exp(-d^2 / 4 sigma^2) = 1/2."""
    found = ndimage.gaussian_filter(rng.random((800, 800)), sigma)
    assert coarseness(found * 4) == pytest.approx(2.5 * 1.665 * sigma, rel=0.1)


def test_specks_larger_than_the_middle_are_read_on_all_of_it(rng):
    assert coarseness(discs(rng, 70, 2400)) == pytest.approx(140, rel=0.1)


def test_light_that_falls_off_makes_no_specks(rng):
    lit = discs(rng, 4) * np.linspace(0.4, 1, 700)
    assert coarseness(lit) == pytest.approx(8, rel=0.15)
    assert coarseness(np.full((50, 60), 0.3)) == 0


@pytest.mark.parametrize("degrees", [0, 12.5, 45, 60, 90, 133, 178])
def test_the_direction_of_a_grating_within_a_degree(degrees):
    y, x = np.mgrid[0:300, 0:400]
    turn = np.radians(degrees)
    lines = 0.5 + 0.5 * np.sin(0.45 * (y * np.cos(turn) - x * np.sin(turn)))
    found, strength = direction(lines)
    assert abs((found - degrees + 90) % 180 - 90) < 1 and strength > 0.98


def test_what_has_no_direction_says_so(rng):
    assert direction(rng.random((400, 400)))[1] < 0.05
    assert direction(np.full((20, 20), 0.4)) == (0, 0)


@pytest.mark.parametrize("sigma", [1, 1.5, 2.5, 5, 10])
@pytest.mark.parametrize("degrees", [5, 12, 40])
def test_the_blur_of_a_slanted_edge_within_a_twentieth(sigma, degrees):
    """ISO 12233: an edge a few degrees off the grid; each pixel is the mean of its area."""
    y, x = np.mgrid[0:300, 0:300].astype(float)
    turn, parts = np.radians(degrees), (-0.375, -0.125, 0.125, 0.375)
    edge = sum(
        0.5
        + 0.5 * erf((np.cos(turn) * (x + a - 150) + np.sin(turn) * (y + b - 150)) / sigma / 2**0.5)
        for a in parts
        for b in parts
    )
    assert softness(0.1 + 0.8 * edge / 16) == pytest.approx(sigma, rel=0.05)


@pytest.mark.parametrize("sigma", [2, 3, 5])
def test_the_blur_of_textures_within_a_tenth(rng, sigma):
    blobs = (ndimage.gaussian_filter(rng.random((800, 800)), 6) > 0.5).astype(float)
    assert softness(ndimage.gaussian_filter(blobs, sigma)) == pytest.approx(sigma, rel=0.1)
    large = discs(rng, 20)
    assert softness(ndimage.gaussian_filter(large, sigma)) == pytest.approx(sigma, rel=0.1)
    assert softness(blobs) < 0.8 < softness(ndimage.gaussian_filter(blobs, sigma))


def test_the_seam_of_known_tiles(rng):
    seamless = ndimage.gaussian_filter(rng.random((300, 360)), 2, mode="wrap")
    assert seam(seamless) == pytest.approx((1, 1), abs=0.25)
    broken = ndimage.gaussian_filter(rng.random((300, 360)), 2, mode="reflect")
    assert min(seam(broken)) > 3
    one_way = np.concatenate([seamless, seamless[:137]])
    across, down = seam(one_way)
    assert across < 1.3 and down > 3
    assert seam(np.full((20, 20), 0.4)) == (1, 1)
    assert seam(np.repeat(seamless[..., None], 3, 2)) == pytest.approx(seam(seamless))


def test_how_even_the_light_is_and_where_it_comes_from(rng):
    grain = 0.5 + 0.2 * (rng.random((300, 400)) - 0.5)
    across, down = np.linspace(1, 0.4, 400), np.linspace(0.4, 1, 300)[:, None]
    assert evenness(grain) > 0.95 and lit_from(grain) == ""
    assert 0.35 < evenness(grain * across) < 0.65 and lit_from(grain * across) == "the left"
    assert lit_from(grain * down) == "below"
    assert lit_from(grain * across * down) == "the lower left"
    middle = np.hypot(*np.meshgrid(np.linspace(-1, 1, 400), np.linspace(-1, 1, 300)))
    assert evenness(grain * (1 - 0.5 * middle)) < 0.8 and lit_from(grain * (1 - 0.5 * middle)) == ""


@pytest.mark.parametrize("reading", [coarseness, direction, evenness, softness])
@pytest.mark.parametrize("given", [np.zeros((3, 40)), np.zeros((9, 9, 3)), np.zeros(5)])
def test_what_cannot_be_read_is_refused(reading, given):
    with pytest.raises(KilnError):
        reading(given)


def test_a_small_texture_is_too_small_and_said_so(rng):
    """Common practice: 480 x 320 px is too small for most work; at 300 ppi it is 41 by 27 mm."""
    small = rng.integers(0, 255, (1, 320, 480), np.uint8)
    told = warnings(facts_of(small))
    assert any("480 × 320 px: enough for 27 mm at 300 ppi" in one for one in told)
    assert any("41 × 27 mm" in value for _, value in sentences(facts_of(small)))


def test_facts_lead_to_what_a_texture_is_good_for(rng):
    soft = ndimage.gaussian_filter(rng.random((900, 900)), 4)
    soft = (soft - soft.min()) / np.ptp(soft)
    bold = np.where(soft > 0.5, 250, 5).astype(np.uint8)[None]
    calm = (80 + 120 * soft).astype(np.uint8)[None]
    assert good_for(facts_of(bold))[0] == "mask"
    assert "coat" in good_for(facts_of(calm)) and "mask, when prepared" in good_for(facts_of(calm))
    lit = (calm * np.linspace(1, 0.4, 900)).astype(np.uint8)
    assert any("Lit from the left: flatten it" in one for one in warnings(facts_of(lit)))
    assert any("seam" in one for one in warnings(facts_of(lit), repeats=True))
    assert not any("seam" in one for one in warnings(facts_of(lit), repeats=False))
    flat = np.full((1, 900, 900), 90, np.uint8)
    assert any("contrast" in one for one in warnings(facts_of(flat)))


def test_colour_and_sixteen_bits_read_alike(rng):
    grey = rng.integers(0, 255, (1, 200, 300), np.uint8)
    deep = facts_of(grey.astype(np.uint16) * 257)
    same = facts_of(np.repeat(grey, 3, 0))
    for name in ("black", "white", "coarse_px", "even", "across", "contrast"):
        assert getattr(deep, name) == pytest.approx(getattr(facts_of(grey), name), abs=0.02)
        assert getattr(same, name) == pytest.approx(getattr(facts_of(grey), name), abs=0.02)
    assert same.chroma == 0 < facts_of(rng.integers(0, 255, (3, 90, 90), np.uint8)).chroma
