"""White noise against the normal distribution that it stands for, and against itself."""

import numpy as np
import pytest
from scipy import stats

from kilncore.noise.white import white_noise

PIXELS = (1.0, 0.0, 0.0, 1.0, 0.5, 0.5)


def noise(seed=7, width=1200, height=900, matrix=PIXELS, **how):
    return white_noise(
        matrix, 0, 0, width, height, seed, how.get("smooth", False), how.get("places", 1)
    )


def test_it_is_normal():
    """SciPy's normal distribution; the moments of it are 0, 1, 0 and 3."""
    found = noise().ravel().astype(float)
    assert found.mean() == pytest.approx(0, abs=0.005) and found.std() == pytest.approx(
        1, abs=0.003
    )
    assert stats.skew(found) == pytest.approx(0, abs=0.01) and stats.kurtosis(
        found
    ) == pytest.approx(0, abs=0.03)
    for share in (0.001, 0.01, 0.1, 0.25, 0.5, 0.9, 0.99, 0.999):
        assert np.quantile(found, share) == pytest.approx(stats.norm.ppf(share), abs=0.06)


def test_neighbours_and_seeds_have_nothing_to_do_with_each_other():
    first, second = noise(), noise(seed=8)
    for a, b in (
        (first[:, 1:], first[:, :-1]),
        (first[1:], first[:-1]),
        (first, second),
        (first[2:, 3:], first[:-2, :-3]),
    ):
        assert abs(np.corrcoef(a.ravel(), b.ravel())[0, 1]) < 0.004


def test_larger_grains_stray_as_much():
    """Read between four cells, the spread would be less where a place lies in the middle of them:
    it is brought back.
    """
    found = noise(matrix=(0.23, 0.07, -0.07, 0.23, 0.1, 0.3), smooth=True)
    assert found.std() == pytest.approx(1, abs=0.02)
    assert np.corrcoef(found[:, 1:].ravel(), found[:, :-1].ravel())[0, 1] > 0.8


def test_the_mean_of_many_places_strays_less():
    """Statistics: the mean of n values has a spread of 1 / sqrt(n)."""
    assert noise(matrix=(3.0, 0, 0, 3.0, 1.5, 1.5), places=3).std() == pytest.approx(
        1 / 3, rel=0.02
    )
