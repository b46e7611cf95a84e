"""Displacement, blur, reduction, levels: against SciPy and NumPy, which are other code."""

import numpy as np
import pytest
from scipy import ndimage

from kilncore import blur, masks, sampling
from kilncore.errors import KilnError
from kilncore.pixels import reduce
from kilncore.pixels.planes import from_planes, to_planes


def test_no_displacement_is_identity(rng):
    image = rng.random((24, 31, 4), dtype=np.float32)
    middle = np.full_like(image, 0.5)
    for how in sampling.INTERPOLATIONS:
        np.testing.assert_allclose(
            sampling.displace(image, middle, 30, 30, interpolation=how), image, atol=1e-5
        )


def test_bilinear_displacement_against_scipy(rng):
    """SciPy's map_coordinates of order 1, on premultiplied values, outside transparent."""
    image, map_ = (
        rng.random((40, 50, 4), dtype=np.float32),
        rng.random((40, 50, 4), dtype=np.float32),
    )
    y, x = np.mgrid[:40, :50]
    at = [y + 12 * (map_[..., 1] - 0.5), x + 17 * (map_[..., 0] - 0.5)]
    expected = np.stack(
        [
            ndimage.map_coordinates(np.pad(p, 20), [at[0] + 20, at[1] + 20], order=1)
            for p in to_planes(image)
        ]
    )
    found = to_planes(sampling.displace(image, map_, 17, 12))
    np.testing.assert_allclose(found, expected, atol=1e-5)


def test_bicubic_keeps_a_ramp(rng):
    """Cubic convolution reproduces straight lines exactly (Keys 1981)."""
    planes = np.ones((4, 20, 60), np.float32)
    planes[:3] = np.linspace(0, 1, 60)
    dx = np.full((16, 40), 0.37, np.float32)
    moved = sampling.shifted(planes, dx, np.zeros_like(dx), 10, 2)
    np.testing.assert_allclose(moved[0, 5], (np.arange(40) + 10.37) / 59, atol=1e-5)


def test_no_shift_reads_beyond_the_border():
    """What a step says about its shifts may be wrong; the memory around the picture is not read all
    the same.
    """
    planes = np.ones((1, 20, 60), np.float32)
    dx = np.full((10, 40), 1e9, np.float32)
    np.testing.assert_allclose(sampling.shifted(planes, dx, -dx, 10, 5), 1, atol=1e-6)
    np.testing.assert_allclose(
        sampling.shifted(planes, dx, dx, 10, 5, times=(-3.0, 0.5), still=7.0), 1, atol=1e-6
    )


def test_displacement_refuses_what_it_cannot_do(rng):
    image = rng.random((4, 4, 4))
    with pytest.raises(KilnError, match="one size"):
        sampling.displace(image, image[:2], 1, 1)
    with pytest.raises(KilnError, match="Interpolation"):
        sampling.displace(image, image, 1, 1, interpolation="best")


@pytest.mark.parametrize("sigma", [0.6, 1.0, 3.5, 9.0])
def test_blur_against_scipy(rng, sigma):
    """SciPy's gaussian_filter, cut off at four sigma as ours is."""
    image = rng.random((70, 80, 4), dtype=np.float32)
    expected = [
        ndimage.gaussian_filter(p, sigma, mode="constant", radius=blur.reach(sigma))
        for p in to_planes(image)
    ]
    np.testing.assert_allclose(
        to_planes(blur.gaussian(image, sigma)), np.stack(expected), atol=2e-5
    )


def test_blur_across_only(rng):
    image = rng.random((30, 30, 4), dtype=np.float32)
    expected = ndimage.gaussian_filter1d(to_planes(image)[3], 2, axis=1, mode="constant")
    np.testing.assert_allclose(to_planes(blur.gaussian(image, 2, 0))[3], expected, atol=2e-5)


def test_halving_is_the_mean_of_four():
    planes = np.arange(64, dtype=np.float32).reshape(1, 8, 8)
    half = reduce.area_average(planes, 0.5, 0, 0, 4, 4, 0, 0)
    np.testing.assert_allclose(half[0], planes[0].reshape(4, 2, 4, 2).mean((1, 3)), atol=1e-5)


@pytest.mark.parametrize("scale", [0.1, 0.37, 0.5, 0.9])
def test_reduction_keeps_the_mean_and_its_crops(rng, scale):
    planes = rng.random((2, 200, 200), dtype=np.float32)
    size = round(200 * scale)
    whole = reduce.area_average(planes, scale, 0, 0, size, size, 0, 0)
    assert whole.mean() == pytest.approx(planes.mean(), abs=0.02)
    part = reduce.area_average(planes, scale, 5, 7, size - 9, 4, 0, 0)
    np.testing.assert_array_equal(part, whole[:, 7:11, 5 : size - 4])


def test_levels_at_their_points():
    """Common practice: at the black point 0, at the white point 1, gamma 2 shows 0.25 as
    one half.
    """
    tones = np.array([[0.0, 0.2, 0.35, 0.8, 1.0]], np.float32)
    np.testing.assert_allclose(masks.levels(tones, 0.2, 1.0, 0.8), [[0, 0, 0.25, 1, 1]], atol=1e-6)
    assert masks.levels(tones, 0.2, 2.0, 0.8)[0, 2] == pytest.approx(0.5, abs=1e-6)


def test_points_together_make_a_threshold():
    """Common practice."""
    tones = np.linspace(0, 1, 101, dtype=np.float32)[None]
    assert set(np.unique(masks.levels(tones, 0.505, 1.0, 0.505))) == {0.0, 1.0}


def test_luminance_is_luma_times_alpha():
    """ITU-R BT.709: 0.2126, 0.7152, 0.0722."""
    image = np.zeros((1, 4, 4), np.float32)
    image[0, :3, :3], image[0, 3, :3], image[..., 3] = np.eye(3), 1, 0.5
    np.testing.assert_allclose(masks.luminance(image)[0], [0.1063, 0.3576, 0.0361, 0.5], atol=1e-6)


def test_from_planes_where_nothing_is():
    assert not from_planes(np.zeros((4, 3, 3), np.float32)).any()


def test_compiled_code_is_never_reached_with_what_would_lead_it_out_of_its_memory():
    from kilncore.artwork.coverage import coverage
    from kilncore.blur import blur_within
    from kilncore.sampling import shifted

    planes, nan = np.zeros((1, 20, 20), np.float32), float("nan")
    for wrong in (
        lambda: blur_within(planes, 5, 5),
        lambda: blur_within(planes[0], 1, 1),
        lambda: shifted(planes, np.zeros((18, 18)), np.zeros((18, 18)), 1, 1),
        lambda: shifted(planes, np.zeros((4, 4)), np.zeros((4, 5)), 8, 8),
        lambda: shifted(planes, np.zeros((4, 4)), np.zeros((4, 4)), -3, 8),
        lambda: shifted(planes, np.zeros((4, 4)), np.zeros((4, 4)), 8, 8, rim=3),
        lambda: shifted(planes, np.zeros((4, 4)), np.zeros((4, 4)), 8, 8, rim=-1),
        lambda: coverage(np.array([[0, 0, nan, 9]]), 9, 9),
        lambda: coverage(np.array([[0, 0, 1e300, 9]]), 9, 9),
        lambda: coverage(np.zeros((3, 3)), 9, 9),
    ):
        with pytest.raises(ValueError):
            wrong()
    bytes_of_ones = shifted(np.ones((1, 20, 20), np.uint8), *np.zeros((2, 4, 4)), 8, 8)
    np.testing.assert_allclose(bytes_of_ones, 1, atol=1e-6)  # never read as if they were floats
    for how in ("nearest", "bilinear", "bicubic"):
        found = shifted(
            np.ones((1, 20, 20), np.float32),
            np.full((4, 4), nan),
            np.full((4, 4), np.inf),
            8,
            8,
            how,
        )
        assert found.shape == (1, 4, 4)
