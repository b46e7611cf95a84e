"""Programs: registers worked out a stretch at a time, against NumPy working on whole arrays."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kilncore.compiled.program import STRETCH_PX, Program
from kilncore.geometry.box import Box
from kilncore.pixels.picture import Picture
from tests.rows import worked

TWO = {
    "add": np.add,
    "subtract": np.subtract,
    "multiply": np.multiply,
    "min": np.minimum,
    "max": np.maximum,
}


def planes(count, width, height=3, seed=1):
    return np.random.default_rng(seed).random((count, height, width), dtype=np.float32)


@settings(max_examples=40, deadline=None)
@given(
    st.lists(
        st.tuples(
            st.sampled_from([*TWO, "lerp"]),
            st.integers(0, 99),
            st.integers(0, 99),
            st.integers(0, 99),
        ),
        min_size=1,
        max_size=60,
    ),
    st.sampled_from([1, 7, 64, STRETCH_PX, STRETCH_PX + 1, 2 * STRETCH_PX + 5]),
)
def test_any_program_is_what_numpy_makes_of_it(lines, width):
    """Rows give up their places when nobody needs them any more, and never too early."""
    arrays = list(planes(3, width))
    program = Program(Box(10, 20, 10 + width, 23))
    rows = list(program.load(np.stack(arrays)))
    for op, a, b, c in lines:
        a, b, c = (n % len(rows) for n in (a, b, c))
        if op == "lerp":
            rows.append(program.op(op, rows[a], rows[b], rows[c]))
            arrays.append(np.clip(arrays[c] * arrays[b] + (1 - arrays[c]) * arrays[a], 0, 1))
        else:
            rows.append(program.op(op, rows[a], rows[b]))
            arrays.append(np.clip(TWO[op](arrays[a], arrays[b]), -1e6, 1e6))
    kept = sorted({len(rows) - 1, len(rows) // 2, 0})
    found = program.planes(tuple(rows[n] for n in kept))
    program.run()
    for n, plane in zip(kept, found, strict=True):
        if np.abs(arrays[n]).max() < 1e3:
            np.testing.assert_allclose(plane, arrays[n], rtol=1e-3, atol=1e-3)


def test_rows_are_added_up_as_numbers_are():
    a, b = planes(2, 50)
    np.testing.assert_allclose(
        worked(lambda x, y: 2 * (x - y) + 1 - 0.5 * x, a, b), 2 * (a - b) + 1 - 0.5 * a, atol=1e-6
    )
    np.testing.assert_allclose(
        worked(lambda x: (x * np.float32(3)).clamped(offset=-1), a),
        np.clip(3 * a - 1, 0, 1),
        atol=1e-6,
    )


def test_the_same_row_is_made_once():
    program = Program(Box(0, 0, 9, 3))
    a, b = program.load(planes(2, 9))
    assert (a * b) is program.op("multiply", a, b) and program.constant(0.5) is program.constant(
        0.5
    )
    assert program.mutable("fill", numbers=(0,)) is not program.mutable("fill", numbers=(0,))


@pytest.mark.parametrize("kind, unit", [(np.uint8, 1 / 255), (np.uint16, 1 / 65535)])
@pytest.mark.parametrize("column, row", [(0, 0), (13, 5), (-4, -9), (1000, 77)])
def test_a_texture_repeats_without_end(rng, kind, unit, column, row):
    texture = rng.integers(0, np.iinfo(kind).max, (3, 11, 17)).astype(kind)
    program = Program(Box(5, 6, 5 + 900, 6 + 40))
    found = program.planes(program.repeat(texture, column, row, unit))
    program.run()
    expected = (
        texture[:, (row + np.arange(40))[:, None] % 11, (column + np.arange(900))[None] % 17] * unit
    )
    np.testing.assert_allclose(found, expected, atol=1e-6)


def test_parts_lie_where_they_belong_and_nothing_lies_elsewhere():
    first, second = planes(2, 30, 20)[:, :20], planes(2, 40, 10, seed=2)
    program = Program(Box(0, 0, 100, 50))
    found = program.planes(
        program.load_tiles([(first, Box(5, 5, 35, 25)), (second, Box(90, 45, 130, 55))])
    )
    program.run()
    expected = np.zeros((2, 50, 100), np.float32)
    expected[:, 5:25, 5:35], expected[:, 45:, 90:] = first, second[:, :5, :10]
    np.testing.assert_array_equal(found, expected)


def test_what_is_empty_is_left_out_and_left_as_it_was():
    """A block is skipped for stretches of nothing alone; without skipping, the same comes of it."""
    art = planes(1, 2 * STRETCH_PX, 4)
    art[:, :2] = 0
    art[:, 2, :STRETCH_PX] = 0

    def drawn(skips):
        program = Program(Box(0, 0, art.shape[2], 4), skips)
        (alpha,) = program.load(art)
        out = Picture(program, tuple(program.constant(n) for n in (0.2, 0.4, 0.6))).copied()
        with program.block():
            program.skip_if_blank(alpha)
            lit = program.op("lerp", out.colour[0], program.constant(1), alpha)
            out.becomes(Picture(program, (lit, *out.colour[1:])))
        found = program.planes(out.colour)
        program.run()
        return found

    np.testing.assert_array_equal(drawn(True), drawn(False))
    assert (drawn(True)[0, :2] == np.float32(0.2)).all() and (drawn(True)[0, 3] > 0.2).mean() > 0.99


def test_arrays_that_do_not_fit_are_refused():
    program = Program(Box(0, 0, 40, 30))
    with pytest.raises(ValueError, match="does not cover"):
        program.load(planes(1, 39, 30))
    row = program.constant(1)
    with pytest.raises(ValueError, match="no place for"):
        program.to_bytes((row,) * 3, np.empty((30, 40, 4), np.uint8))
    with pytest.raises(ValueError, match="no place for"):
        program.store((row,), np.empty((1, 30, 41), np.float32))


def lines_that_are_refused():
    """(what is wrong, what writes it): each would read or write where nothing is, or give a wrong
    picture without a word.
    """
    other = Program(Box(0, 0, 9, 3))
    foreign = other.constant(2)
    array = np.zeros((2, 3, 9), np.float32)
    return {
        "a register of another program": lambda t: t.op("add", t.constant(5), foreign),
        "arithmetic with one": lambda t: t.constant(5) + foreign,
        "written into": lambda t: t.assign("copy", foreign, t.constant(1)),
        "too few rows": lambda t: t.op("lerp", t.constant(1), t.constant(2)),
        "too many numbers": lambda t: t.op("clamp", t.constant(1), numbers=(1, 2, 3)),
        "an operation that is none": lambda t: t.op("sparkle", t.constant(1)),
        "memory of one's own": lambda t: t.op("load"),
        "storing as a row": lambda t: t.op("store", t.constant(1)),
        "a mode that is none": lambda t: t.op("blend_none", t.constant(1), t.constant(1)),
        "an array of another size": lambda t: t.load(np.zeros((2, 3, 8), np.float32)),
        "an array without planes": lambda t: t.load(np.zeros((3, 9), np.float32)),
        "parts of unlike planes": lambda t: t.load_tiles(
            [(array, Box(0, 0, 9, 3)), (array[:1], Box(0, 0, 9, 3))]
        ),
        "no parts": lambda t: t.load_tiles([]),
        "a place of another type": lambda t: t.store(
            (t.constant(1),) * 2, array.astype(np.float64)
        ),
        "a place of another shape": lambda t: t.store((t.constant(1),), array),
        "a place that is not to be written": lambda t: t.store(
            (t.constant(1),) * 2, np.broadcast_to(np.float32(0), (2, 3, 9))
        ),
        "bytes of another type": lambda t: t.to_bytes(
            (t.constant(1),) * 3, np.zeros((3, 9, 3), np.int8)
        ),
        "bytes that lie apart": lambda t: t.to_bytes(
            (t.constant(1),) * 3, np.zeros((3, 18, 3), np.uint8)[:, ::2]
        ),
        "a texture of floats": lambda t: t.repeat(array, 0, 0, 1.0),
        "an empty texture": lambda t: t.repeat(np.zeros((1, 0, 4), np.uint8), 0, 0, 1.0),
        "a texture that lies apart": lambda t: t.repeat(
            np.zeros((1, 4, 8), np.uint8)[:, :, ::2], 0, 0, 1.0
        ),
        "a table of another type": lambda t: t.lut(t.constant(1), np.zeros(20)),
        "a table that lies apart": lambda t: t.lut(t.constant(1), np.zeros(20, np.float32)[::2]),
        "an empty box": lambda t: Program(Box(3, 3, 3, 9)),
        "a box without end": lambda t: Program(Box(-(2**60), 0, 2**60, 1)),
    }


@pytest.mark.parametrize("wrong", lines_that_are_refused())
def test_a_line_that_would_leave_its_memory_is_refused_when_it_is_written(wrong):
    with pytest.raises(ValueError):
        lines_that_are_refused()[wrong](Program(Box(0, 0, 9, 3)))


def test_arrays_and_tables_stay_alive_until_the_program_has_run():
    import gc

    program = Program(Box(0, 0, 4000, 40))
    row = program.lut(
        program.load(np.full((1, 40, 4000), 0.5, np.float32))[0],
        np.linspace(0, 1, 4098).astype(np.float32) ** 2,
    )
    out = program.planes((row,))
    gc.collect()
    noise = [np.random.default_rng(1).random((40, 4000)) for _ in range(4)]
    program.run()
    np.testing.assert_allclose(out[0], 0.25, atol=1e-3)
    assert len(noise) == 4


def test_a_code_that_points_outside_its_tables_does_not_run():
    for place, value in ((0, 999), (1, 50), (2, -7), (7, 12)):
        program = Program(Box(0, 0, 9, 3))
        program.planes((program.constant(1) + program.constant(2),))
        program._code[8 + place] = value
        with pytest.raises(ValueError):
            program.run()
    for jump in (0, 99):
        program = Program(Box(0, 0, 9, 3))
        program.skip_if_blank(program.constant(0))
        program.planes((program.constant(1),))
        program._code[8 + 6] = jump
        with pytest.raises(ValueError):
            program.run()
