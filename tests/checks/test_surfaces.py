"""Displacement by slope, folding, and grain, against SciPy and against what is known.

Sources: SciPy's `ndimage.gaussian_filter` and `map_coordinates`, NumPy's `gradient`; the calculus
of a sine. That single-pixel noise made n times larger has grain n px wide is common practice.
"""

import numpy as np
import pytest
from scipy import ndimage

from kilncore.errors import KilnError
from kilncore.measure import folding, grain
from kilncore.measure.folds import first_folds
from kilncore.measure.grain_size import grain_of
from kilncore.sampling import displace_by_slope


@pytest.fixture
def relief(rng):
    soft = ndimage.gaussian_filter(rng.random((90, 120)), 5)
    return ((soft - soft.min()) / np.ptp(soft)).astype(np.float32)


@pytest.fixture
def image(rng):
    soft = ndimage.gaussian_filter(rng.random((90, 120, 3)), (2, 2, 0))
    soft = (soft - soft.min()) / np.ptp(soft)
    return np.dstack([soft, np.ones((90, 120))]).astype(np.float32)


@pytest.mark.parametrize("smooth", [0.0, 1.5, 4.0])
def test_pixels_slide_along_the_slope(image, relief, smooth):
    found = displace_by_slope(image, relief, 60, -40, smooth)
    height = ndimage.gaussian_filter(relief.astype(float), smooth) if smooth else relief
    dy, dx = np.gradient(height)
    rows, columns = np.mgrid[:90, :120].astype(float)
    at = rows - 40 * dy, columns + 60 * dx
    wanted = np.dstack([ndimage.map_coordinates(image[..., c], at, order=1) for c in range(3)])
    inside = (slice(12, -12), slice(12, -12))
    assert np.abs(found[..., :3] - wanted)[inside].max() < 2e-3
    assert np.abs(60 * dx).max() > 2


def test_a_flat_surface_moves_nothing_and_what_cannot_be_is_refused(image):
    flat = np.full((90, 120), 0.4, np.float32)
    assert np.abs(displace_by_slope(image, flat, 500, 500, 3) - image).max() < 1e-5
    for wrong in ({"height_map": flat[:, :5]}, {"smooth": -1}, {"amount_x": np.nan}):
        told = {"height_map": flat, "amount_x": 1, "amount_y": 1, **wrong}
        if "amount_x" in wrong:
            told["height_map"] = np.tile(np.arange(120, dtype=np.float32) / 120, (90, 1))
        with pytest.raises(KilnError):
            displace_by_slope(image, **told)


@pytest.mark.parametrize("amount", [3.0, 9.0, 30.0])
def test_a_sine_folds_exactly_where_its_slope_passes_one(amount):
    wave = 2 * np.pi / 80
    x = np.arange(400)
    dx = np.tile(amount * np.sin(wave * x), (5, 1))
    slope = -amount * wave * np.cos(wave * x)
    found = folding(dx, np.zeros_like(dx))
    clear = np.abs(slope - 1) > 0.02  # central differences are off by a share of (wave)^2 / 6
    assert (found[2] == (slope >= 1))[clear][1:-1].all()
    assert found.any() == (amount * wave > 1)


def test_across_and_down_fold_together():
    """A shear never folds; turning a picture over does."""
    y, x = np.mgrid[:40, :60].astype(float)
    assert not folding(3 * y, 0 * x).any()
    assert folding(-2 * x, 0 * y).all() and folding(0 * x, -2 * y).all()
    assert not folding(-2 * x, -2 * y).any()  # turned by half
    with pytest.raises(KilnError):
        folding(x, y[:3])


def test_how_strong_it_may_be_before_it_folds(rng):
    """The first root of det(I + t G), against trying strengths."""
    G = rng.normal(0, 0.3, (4, 200))
    found = first_folds(tuple(G))
    times = np.linspace(0.002, 6, 3000)[:, None]
    folds = (1 + times * G[0]) * (1 + times * G[3]) - times**2 * G[1] * G[2] <= 0
    tried = np.where(folds.any(0), times[folds.argmax(0), 0], np.inf)
    both = np.isfinite(tried) & (found < 6)
    assert (np.isfinite(tried) == (found < 6)).mean() > 0.98
    assert np.abs(found - tried)[both].max() < 0.05


@pytest.mark.parametrize("cell", [1, 2, 3, 4])
@pytest.mark.parametrize("strength", [0.02, 0.08])
def test_grain_of_known_noise(rng, cell, strength):
    noise = rng.normal(0, strength, (512 // cell + 1, 640 // cell + 1))
    grey = 0.5 + np.kron(noise, np.ones((cell, cell)))[:512, :640]
    found = grain(grey.astype(np.float32))
    assert found[0] == pytest.approx(strength, rel=0.05)
    assert found[1] == pytest.approx(cell, rel=0.05)


def test_grain_is_read_in_flat_areas_and_over_slow_light(rng):
    """Letters, edges and a vignette are no grain."""
    y, x = np.mgrid[:600, :800] / 800
    light = 0.3 + 0.4 * x - 0.2 * y**2
    light[(y * 800 % 160 < 60) & (x * 800 % 200 < 90)] += 0.25
    grey = light + rng.normal(0, 0.03, light.shape)
    strength, size = grain(grey)
    assert strength == pytest.approx(0.03, rel=0.05) and size == pytest.approx(1, rel=0.05)


def test_grain_of_colour_and_by_tone(rng):
    """Colour is what the channels have beside their luma; film has more in its mids."""
    grey = np.repeat(np.linspace(0.05, 0.95, 640)[None], 512, 0)
    spread = 0.02 + 0.06 * (1 - np.abs(grey - 0.5) * 2)
    mono = grey + rng.normal(0, 1, grey.shape) * spread
    found = grain_of(np.dstack([mono] * 3))
    assert found.colour < 1e-4
    tones = dict(found.by_tone)
    coloured = grain_of(0.5 + rng.normal(0, 0.05, (256, 256, 3)))
    assert coloured.colour == pytest.approx(0.05, rel=0.25)
    assert not tones or max(tones, key=tones.get) == pytest.approx(0.5, abs=0.25) or len(tones) < 3


def test_a_picture_without_grain_has_none():
    assert grain(np.full((64, 64), 0.4)) == (0.0, 1.0)
    with pytest.raises(KilnError):
        grain(np.zeros((4, 4)))
