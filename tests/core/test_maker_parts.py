"""What makers are built of, against what it must be by hand."""

import numpy as np
import pytest

from kilncore.textures.makers.parts.cells import of_each
from kilncore.textures.makers.parts.courses import courses
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.flow import flowed
from kilncore.textures.makers.parts.relief import as_heights, from_edge, lit
from kilncore.textures.makers.parts.runs import run_down
from kilncore.textures.makers.parts.strewn import (
    MOST_COVER,
    _bounded,
    pits,
    power_law,
    strewn_lines,
)
from kilncore.textures.makers.parts.tones import mix, ramp, soft_step, to_bytes


@pytest.fixture
def fields() -> Fields:
    return Fields(96, 72, 5)


class TestFields:
    @pytest.mark.parametrize("times", [2, 4])
    def test_a_slow_field_drawn_coarse_is_the_fine_one(self, monkeypatch, times):
        """The same frequencies: what is left out is nothing, and it lies where it lay."""
        coarse = Fields(256, 128, 3).cloud(10 * 5 * times, 1.6, shortest=5.0 * times)
        monkeypatch.setattr(Fields, "_coarser", lambda self, finest: 1)
        fine = Fields(256, 128, 3).cloud(10 * 5 * times, 1.6, shortest=5.0 * times)
        assert (
            np.abs(coarse - fine).max() < 0.12
            and np.corrcoef(coarse.ravel(), fine.ravel())[0, 1] > 0.9995
        )

    @pytest.mark.parametrize("sigma", [0.8, 5, 20])
    def test_a_blur_keeps_the_mean_and_wraps(self, fields, rng, sigma):
        values = rng.random((72, 96)).astype(np.float32)
        found = fields.blurred(values, sigma)
        assert found.mean() == pytest.approx(values.mean(), abs=2e-4)
        moved = fields.blurred(np.roll(values, (31, 40), (0, 1)), sigma)
        np.testing.assert_allclose(moved, np.roll(found, (31, 40), (0, 1)), atol=2e-5)

    def test_as_much_lies_on_an_area_at_any_resolution(self):
        assert Fields(600, 600, 1, 300).count(1000) == Fields(1200, 1200, 1, 600).count(1000) == 360


class TestCourses:
    def test_every_px_lies_in_its_block_and_its_joint_is_as_far_as_told(self, fields):
        laid = courses(fields, 24, 18, round_px=0.01)
        assert laid.count == 4 * 4 and set(np.unique(laid.number)) == set(range(16))
        far_x, far_y = 12 - np.abs(laid.across), 9 - np.abs(laid.down)
        np.testing.assert_allclose(laid.inside, np.minimum(far_x, far_y), atol=0.02)
        counts = np.bincount(laid.number.ravel())
        assert (counts == 24 * 18).all()

    def test_every_second_row_is_shifted(self, fields):
        laid = courses(fields, 24, 18, shift=0.5)
        first, second = laid.across[4], laid.across[22]
        assert np.abs(np.roll(first, 12) - second).max() < 1e-4 and np.abs(first - second).max() > 9

    def test_a_shift_that_is_far_or_no_number_stays_within(self, fields):
        """Compiled code finds its block by index: whatever is asked for, there is one."""
        for value in (1e6, -1e6, np.nan):
            odd = np.full((72, 96), value, np.float32)
            laid = courses(fields, 24, 18, wander=(odd, odd))
            assert 0 <= laid.number.min() <= laid.number.max() < laid.count


def test_each_px_has_the_value_of_its_number():
    number = np.array([[0, 2], [1, 1]], np.int32)
    found = of_each(number, np.array([[1.0, 2, 3], [4, 5, 6]]))
    assert found.tolist() == [[[1, 3], [2, 2]], [[4, 6], [5, 5]]]
    for wrong in (number - 1, number + 1):
        with pytest.raises(ValueError, match="no value"):
            of_each(wrong, np.zeros(3))


class TestRelief:
    def test_a_slope_to_the_upper_left_is_lit_by_its_steepness(self, fields):
        slope = np.add.outer(np.arange(72), np.arange(96)).astype(np.float32) * 0.25
        assert np.allclose(lit(fields, slope)[1:-1, 1:-1], -0.5)
        finer = Fields(192, 144, 5, 600)
        twice = np.add.outer(np.arange(144), np.arange(192)).astype(np.float32) * 0.125
        assert np.allclose(lit(finer, twice)[1:-1, 1:-1], -0.5)  # as steep, at twice the px

    def test_px_to_an_edge_wrap(self, fields):
        inside = np.zeros((72, 96), bool)
        inside[:, :10] = True
        found = from_edge(fields, inside, 20)
        assert found[30, 4] == pytest.approx(4.5, abs=0.6)
        assert found[30, -3] == pytest.approx(-2.5, abs=0.6) and found.min() == -20

    def test_heights_go_from_the_lowest_to_the_highest(self, rng):
        found = as_heights(rng.normal(7, 3, (300, 300)).astype(np.float32))
        assert np.quantile(found, 0.002) == pytest.approx(0, abs=0.02)
        assert np.quantile(found, 0.998) == pytest.approx(1, abs=0.02)


def test_what_runs_down_goes_on_below_the_edge(fields):
    source = np.zeros((72, 96), np.float32)
    source[60, 10] = 1
    found = run_down(fields, source, 20, 20)
    assert found[60, 10] == 1 and found[70, 10] == pytest.approx(np.exp(-10 / 20), rel=0.02)
    assert found[8, 10] == pytest.approx(np.exp(-20 / 20), rel=0.02)  # around, from above
    assert not found[:, 11:].any()


def test_what_flows_is_read_from_where_it_came(fields, rng):
    values = rng.random((72, 96)).astype(np.float32)
    np.testing.assert_allclose(flowed(fields, values, 3, -2), np.roll(values, (2, -3), (0, 1)))


def test_what_flows_from_nowhere_is_read_within(fields, rng):
    """Compiled code reads by index: however far, or no number, it reads the picture itself."""
    values = rng.random((72, 96)).astype(np.float32)
    odd = np.zeros((72, 96), np.float32)
    odd[:24], odd[24:48], odd[48:] = np.nan, 1e30, -1e30
    assert flowed(fields, values, odd, odd).shape == values.shape
    between = flowed(fields, values, 7.5, 96 * 40 + 0.25)  # around, any number of times
    assert values.min() <= between.min() <= between.max() <= values.max()
    with pytest.raises(ValueError, match="each px"):
        flowed(fields, values, odd[:5], 0)


class TestStrewn:
    def test_sizes_fall_by_their_power(self, rng):
        """The share above x, of sizes 1 to 100 whose number falls with the square: (1/x - 1/100) /
        (1 - 1/100).
        """
        found = power_law(rng, 200_000, 1, 100, 2)
        for x in (2, 5, 20):
            assert (found > x).mean() == pytest.approx((1 / x - 0.01) / 0.99, rel=0.05)

    def test_pits_wrap_and_are_no_discs(self, fields):
        """One pit drawn at a corner lies in all four; its outline is further here than there."""
        one = np.array([[0.3, 0.0, 0.0, 0.0, 0.0, 0.0]]), np.zeros((1, 6))
        drawn = pits(96, 72, np.array([0.0]), np.array([0.0]), np.array([10.0]), *one)
        across, down = (drawn[0] > 0).sum(), (drawn[:, 0] > 0).sum()
        assert across == pytest.approx(26, abs=2) and down == pytest.approx(14, abs=2)
        assert drawn[0, -3] > 0 and drawn[-3, 0] > 0 and not drawn[36, 48]

    def test_lines_are_no_more_than_are_seen(self, fields):
        """Whatever settings say, they cover the picture a few times at most, and are no longer or
        thicker than it bears: a trial is drawn while somebody waits.
        """
        length, half, count = _bounded(fields, 1e9, 1e9, 1e9)
        assert length <= 4 * 96 and half <= 72 / 3
        assert count == 1 or count * length * 2 * half <= MOST_COVER * 96 * 72
        length, half, count = _bounded(fields, 1e9, 20, 0.1)
        assert count * length <= MOST_COVER * 96 * 72

    def test_a_line_is_as_thick_as_asked_for(self):
        """A thick one drawn of few discs has the edge of one drawn of many."""
        wide = Fields(400, 400, 2)
        drawn = strewn_lines(wide, 1, 300, 9, angle=0.0, spread=0.0, bend=0.0)
        across = (drawn > 0.5 * drawn.max()).sum(0)
        assert 8 < across.max() < 40 and np.abs(np.diff(across[across > 8])).max() <= 2


class TestTones:
    def test_a_soft_step(self):
        found = soft_step(np.array([[-1, 0, 0.5, 1, 2]]), 0, 1)
        assert found.tolist() == [[0, 0, 0.5, 1, 1]]

    def test_a_ramp_goes_through_its_colours(self):
        amount = np.array([[-3, 0, 0.25, 0.5, 1, 9]], np.float32)
        red = ramp(amount, (0, 0, 0), (100, 0, 0), (200, 0, 0))[0, 0] * 255
        np.testing.assert_allclose(red, [0, 0, 50, 100, 200, 200], atol=1e-3)
        with pytest.raises(ValueError, match="two colours"):
            ramp(amount, (1, 2, 3))

    def test_bytes_are_rounded_and_held_to_their_range(self):
        given = np.array([[-1, 0, 0.5, 1, 7, np.nan]], np.float32)
        assert to_bytes(given).tolist() == [[[0, 0, 128, 255, 255, 0]]]

    def test_colours_are_mixed_by_a_share(self):
        below, above = np.zeros((3, 1, 2), np.float32), np.ones((3, 1, 2), np.float32)
        assert mix(below, above, np.array([[0.25, 1]], np.float32))[0].tolist() == [[0.25, 1]]
