"""A field read from where it has flowed to: what bends, drifts and swirls. It wraps."""

import numpy as np

from kilncore.compiled.kernels import kernel
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.halves import by_rows


def flowed(
    fields: Fields, values: np.ndarray, across: np.ndarray | float, down: np.ndarray | float
) -> np.ndarray:
    """(H, W) float32: each px read that far away, px at 300 ppi, between its neighbours. across,
    down : (H, W), or the same for all.
    """
    given = np.ascontiguousarray(values, np.float32)
    off = [np.atleast_2d(np.asarray(one, np.float32)) for one in (across, down)]
    if any(one.shape not in ((1, 1), given.shape) for one in off):
        raise ValueError("how far it flows is told for each px, or for all")
    off = [np.ascontiguousarray(one) for one in off]
    out = np.empty_like(given)
    told = given, *off, np.float32(fields.scale), out
    by_rows(len(given), lambda top, end: _read(*told, top, end))
    return out


@kernel
def _read(
    values: np.ndarray,
    across: np.ndarray,
    down: np.ndarray,
    scale: float,
    out: np.ndarray,
    top: int,
    end: int,
):
    height, width = values.shape
    each_x, each_y = across.size > 1, down.size > 1
    for y in range(top, end):
        for x in range(width):
            off_x = across[y, x] if each_x else across[0, 0]
            off_y = down[y, x] if each_y else down[0, 0]
            at_x, at_y = np.float32(x) + off_x * scale, np.float32(y) + off_y * scale
            left, above = np.floor(at_x), np.floor(at_y)
            part_x, part_y = at_x - left, at_y - above
            i, j = int(left) % width, int(above) % height
            after = i + 1 if i + 1 < width else 0
            below = j + 1 if j + 1 < height else 0
            upper = values[j, i] + (values[j, after] - values[j, i]) * part_x
            lower = values[below, i] + (values[below, after] - values[below, i]) * part_x
            out[y, x] = upper + (lower - upper) * part_y
