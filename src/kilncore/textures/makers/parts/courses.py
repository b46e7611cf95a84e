"""Courses: bricks, blocks and tiles laid in rows, each as long as it is; they wrap."""

from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from kilncore.compiled.kernels import kernel
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.halves import by_rows


@dataclass(frozen=True)
class Courses:
    """number : (H, W) int32, of the block that a px lies in. count : of blocks. inside : (H, W)
    float32, px at 300 ppi from its joint's middle, round at the corners. across, down : (H, W)
    float32, px from its own middle.
    """

    number: np.ndarray
    count: int
    inside: np.ndarray
    across: np.ndarray
    down: np.ndarray


def courses(
    fields: Fields,
    wide: float,
    tall: float,
    *,
    uneven: float = 0.0,
    shift: float = 0.5,
    round_px: float = 3.0,
    wander: Sequence[np.ndarray] = (),
    even: bool = True,
) -> Courses:
    """Blocks of about that size, px. uneven : how far they differ in length, 0..1. shift : of every
    second row, of a block. wander : px by which each px is shifted, so that edges are not straight.
    even : two rows at least, and an even number of them, as courses that are shifted need.
    """
    scale, width, height = fields.scale, fields.width, fields.height
    rows, columns = _many(height, tall * scale, even), _many(width, wide * scale, False)
    columns = max(columns, 2 if even else 1)
    sides = np.arange(columns) + uneven * fields.rng.uniform(-0.42, 0.42, (rows, columns))
    sides = sides + shift * (np.arange(rows)[:, None] % 2)
    sides = sides + uneven * fields.rng.uniform(0, 1, (rows, 1))
    joints = (sides * (width / columns)).astype(np.float32)
    shape = (height, width)
    number = np.empty(shape, np.int32)
    inside, across, down = (np.empty(shape, np.float32) for _ in range(3))
    still = np.zeros(shape, np.float32)
    moved = [
        np.ascontiguousarray(one, np.float32) * np.float32(scale)
        for one in wander or (still, still)
    ]
    given = joints, *moved, round_px * scale, number, inside, across, down
    by_rows(height, lambda top, end: _laid(*given, top, end))
    for one in (inside, across, down):
        one /= np.float32(scale)
    Fields.told()
    return Courses(number, rows * columns, inside, across, down)


def _many(room: int, each: float, even: bool) -> int:
    return max(2, 2 * round(room / (2 * each))) if even else max(1, round(room / each))


@kernel
def _laid(
    joints: np.ndarray,
    across: np.ndarray,
    down: np.ndarray,
    corner: float,
    number: np.ndarray,
    inside: np.ndarray,
    out_x: np.ndarray,
    out_y: np.ndarray,
    top: int,
    end: int,
):
    rows, columns = joints.shape
    height, width = number.shape
    tall = np.float32(height / rows)
    for y in range(top, end):
        for x in range(width):
            px, py = x + np.float32(0.5) + across[y, x], y + np.float32(0.5) + down[y, x]
            row = int(np.floor(py / tall))
            own_y = py - (row + np.float32(0.5)) * tall
            row = row % rows
            px -= np.float32(np.floor((px - joints[row, 0]) / width) * width)
            column = columns - 1
            while column > 0 and joints[row, column] > px:
                column -= 1
            left = joints[row, column]
            right = joints[row, column + 1] if column + 1 < columns else joints[row, 0] + width
            own_x, half_x, half_y = px - (left + right) / 2, (right - left) / 2, tall / 2
            dx = abs(own_x) - half_x + corner
            dy = abs(own_y) - half_y + corner
            outer = np.sqrt(max(dx, np.float32(0)) ** 2 + max(dy, np.float32(0)) ** 2)
            number[y, x] = row * columns + column
            inside[y, x] = corner - outer - min(max(dx, dy), np.float32(0))
            out_x[y, x] = own_x
            out_y[y, x] = own_y
