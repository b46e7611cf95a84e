"""Noise drawn in the frequency domain, cells, and the makers that are built of them."""

import numpy as np
import pytest

from kilncore.textures import makers
from kilncore.textures.makers.cells import cells
from kilncore.textures.makers.spectra import Fields
from kilncore.textures.makers.spectral import SpectralFields

FRESH = ("flaking", "spatter", "weave", "crackle", "brushed")


@pytest.mark.parametrize("slope", [0.8, 1.7, 2.4])
def test_the_slope_that_is_read_back_is_the_one_asked_for(slope):
    """Within 5 %, over a decade and a half (checks.md; power falls with twice the slope)."""
    field = SpectralFields(512, 512, 5).cloud(1e9, slope)
    power = np.abs(np.fft.fft2(field)) ** 2
    f = np.hypot(np.fft.fftfreq(512)[:, None], np.fft.fftfreq(512)[None])
    counted = (f > 0.012) & (f < 0.4)
    found = np.polyfit(np.log(f[counted]), np.log(power[counted]), 1)[0] / -2
    assert found == pytest.approx(slope, rel=0.05)


@pytest.mark.parametrize("size", [(64, 64), (65, 64), (64, 65), (101, 77), (300, 90)])
def test_every_field_is_real_even_and_of_one_spread(size):
    """Half a spectrum is a whole one by its symmetry: its inverse over all frequencies is real."""
    width, height = size
    fields = SpectralFields(width, height, 3)
    for field in (fields.cloud(20), fields.band(9), fields.cloud(30, stretch=5)):
        assert field.shape == (height, width) and field.dtype == np.float32
        assert abs(field.mean()) < 1e-5 and field.std() == pytest.approx(1, abs=1e-4)
        half = np.fft.rfft2(field.astype(np.float64))
        again = np.fft.ifft2(np.fft.fft2(field.astype(np.float64)))
        assert np.abs(again.imag).max() < 1e-9 and abs(half[0, 0]) < 1e-2
    assert not np.array_equal(fields.cloud(20), fields.cloud(20))


def test_it_is_as_normal_and_as_wide_as_filtered_white_noise():
    """From memory: 68.3 % of a normal distribution lie within one deviation."""
    ours = SpectralFields(256, 256, 9).cloud(12, 1.5)
    other = Fields(256, 256, 9).cloud(12, 1.5)
    assert abs((np.abs(ours) < 1).mean() - 0.683) < 0.01
    near = [np.corrcoef(one[:, 4:].ravel(), one[:, :-4].ravel())[0, 1] for one in (ours, other)]
    assert near[0] == pytest.approx(near[1], abs=0.03)


def test_cells_are_those_of_the_nearest_point(rng):
    still = np.zeros((60, 80), np.float32)
    found = cells(rng, 80, 60, 14, still, still)
    y, x = np.mgrid[:60, :80] + 0.5
    gaps = [
        np.hypot(
            (x - px + 40) % 80 - 40,
            (y - py + 30) % 60 - 30,
        )
        for px, py in zip(found.xs, found.ys, strict=True)
    ]
    assert np.array_equal(found.number, np.argmin(gaps, 0))
    first, second = np.sort(gaps, 0)[:2]
    on_border = second - first < 0.2
    assert found.apart[on_border].max() < 0.5 and found.apart.min() >= 0


@pytest.mark.parametrize("name", FRESH)
def test_they_wrap_and_are_the_same_for_one_seed(name):
    made = [makers.make(name, 260, 200, seed) for seed in (4, 4, 5)]
    assert np.array_equal(made[0], made[1]) and not np.array_equal(made[0], made[2])
    values = np.moveaxis(made[0] / np.float32(255), 0, 2)
    for axis in (0, 1):  # where the edges meet no more changes than between rows anywhere
        changes = np.abs(values - np.roll(values, 1, axis)).mean((1 - axis, 2))
        assert changes[0] <= 1.02 * changes[1:].max()


@pytest.mark.parametrize("name", FRESH)
@pytest.mark.parametrize("end", [0, 1])
def test_all_settings_at_one_end_together(name, end):
    kind = makers.MAKERS[name].settings
    given = {}
    for field, told in kind.model_fields.items():
        bounds = {type(one).__name__: one for one in told.metadata}
        if "Ge" in bounds:
            given[field] = bounds["Ge"].ge if end == 0 else bounds["Le"].le
    made = makers.make(name, 128, 96, 1, kind(**given))
    assert made.shape[1:] == (96, 128) and made.dtype == np.uint8


def test_more_that_is_gone_leaves_less_paint():
    kind = makers.MAKERS["flaking"].settings
    shares = []
    for gone in (0.0, 0.3, 0.7):
        red, _, blue = makers.make("flaking", 300, 300, 2, kind(gone=gone, stain=0)).astype(int)
        shares.append((red > blue + 12).mean())
    assert shares[0] < 0.02 and shares[1] == pytest.approx(0.3, abs=0.1)
    assert shares[2] == pytest.approx(0.7, abs=0.12)


def test_a_cloth_goes_over_and_under_by_its_threads():
    """The strongest wavelengths of a plain weave are those of a thread, and of two."""
    kind = makers.MAKERS["weave"].settings
    made = makers.make("weave", 512, 512, 1, kind(thread_px=16, uneven=0)).mean(0)
    power = np.abs(np.fft.rfft2(made - made.mean())) ** 2
    along = power.sum(0)
    along[:12] = 0
    assert 512 / np.argmax(along) == pytest.approx(16, rel=0.05) or 512 / np.argmax(
        along
    ) == pytest.approx(32, rel=0.05)
