"""Noise drawn in the frequency domain, cells, and the makers that are built of them."""

import numpy as np
import pytest

from kilncore.textures.makers.parts.cells import cells
from kilncore.textures.makers.parts.fields import Fields


def filtered(longest, slope, seed):
    """White noise, filtered: what `Fields.cloud` must be like."""
    white = np.random.default_rng(seed).standard_normal((256, 256))
    f = np.hypot(np.fft.rfftfreq(256)[None], np.fft.fftfreq(256)[:, None])
    response = (f**2 + longest**-2.0) ** (-slope / 2)
    response[0, 0] = 0
    field = np.fft.irfft2(np.fft.rfft2(white) * response)
    return field / field.std()


@pytest.mark.parametrize("slope", [0.8, 1.7, 2.4])
def test_the_slope_that_is_read_back_is_the_one_asked_for(slope):
    """Within 5 %, over a decade and a half (checks.md; power falls with twice the slope)."""
    field = Fields(512, 512, 5).cloud(1e9, slope)
    power = np.abs(np.fft.fft2(field)) ** 2
    f = np.hypot(np.fft.fftfreq(512)[:, None], np.fft.fftfreq(512)[None])
    counted = (f > 0.012) & (f < 0.4)
    found = np.polyfit(np.log(f[counted]), np.log(power[counted]), 1)[0] / -2
    assert found == pytest.approx(slope, rel=0.05)


@pytest.mark.parametrize("size", [(64, 64), (65, 64), (64, 65), (101, 77), (300, 90)])
def test_every_field_is_real_even_and_of_one_spread(size):
    """Half a spectrum is a whole one by its symmetry: its inverse over all frequencies is real."""
    width, height = size
    fields = Fields(width, height, 3)
    for field in (fields.cloud(20), fields.band(9), fields.cloud(30, stretch=5)):
        assert field.shape == (height, width) and field.dtype == np.float32
        assert abs(field.mean()) < 1e-5 and field.std() == pytest.approx(1, abs=1e-4)
        half = np.fft.rfft2(field.astype(np.float64))
        again = np.fft.ifft2(np.fft.fft2(field.astype(np.float64)))
        assert np.abs(again.imag).max() < 1e-9 and abs(half[0, 0]) < 1e-2
    assert not np.array_equal(fields.cloud(20), fields.cloud(20))


def test_it_is_as_normal_and_as_wide_as_filtered_white_noise():
    """From memory: 68.3 % of a normal distribution lie within one deviation."""
    ours = Fields(256, 256, 9).cloud(12, 1.5)
    other = filtered(12, 1.5, 9)
    assert abs((np.abs(ours) < 1).mean() - 0.683) < 0.01
    near = [np.corrcoef(one[:, 4:].ravel(), one[:, :-4].ravel())[0, 1] for one in (ours, other)]
    assert near[0] == pytest.approx(near[1], abs=0.03)


def test_cells_are_those_of_the_nearest_point():
    still = np.zeros((60, 80), np.float32)
    found = cells(Fields(80, 60, 6), 14, still, still)
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
