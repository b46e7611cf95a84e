"""Making a picture smaller by area average: how exact pixels are shown below 100 %.

Every output pixel i covers [i / scale, (i + 1) / scale) of the source, weighted by the part
covered.
"""

import numpy as np

from kilncore.compiled.kernels import kernel


def area_average(
    planes: np.ndarray,
    scale: float,
    left: int,
    top: int,
    width: int,
    height: int,
    source_left: int,
    source_top: int,
) -> np.ndarray:
    """The output pixels [left, left + width) x [top, top + height) of the source made smaller by
    `scale`, 0..1.

    planes : (C, H, W) float32, premultiplied, whose first pixel is the source's (source_left,
    source_top).
    """
    across = _spans(left, width, scale, source_left, planes.shape[2])
    down = _spans(top, height, scale, source_top, planes.shape[1])
    return added_up(planes, *across, *down, np.float32(1), np.float32(np.inf))


def _spans(first: int, count: int, scale: float, source_first: int, size: int):
    """For each output pixel the source pixels that it covers, and their weights: both (most,
    count).

    Worked out where the pixels lie on the whole grid and only then counted from `source_first`: an
    output pixel weighs its sources alike in every crop.
    """
    edges = np.arange(first, first + count + 1) / scale
    starts = np.floor(edges[:-1] + 1e-9).astype(np.int64)
    ends = np.minimum(np.ceil(edges[1:] - 1e-9).astype(np.int64), source_first + size)
    pixels = starts + np.arange(int(np.ceil(1 / scale)) + 1)[:, None]
    overlap = np.minimum(pixels + 1, edges[1:]) - np.maximum(pixels, edges[:-1])
    weights = np.where(pixels < ends, np.maximum(overlap, 0), 0)
    weights /= weights.sum(0)
    return np.clip(pixels - source_first, 0, size - 1).astype(np.int32), weights.astype(np.float32)


@kernel
def added_up(
    planes: np.ndarray,
    columns: np.ndarray,
    across: np.ndarray,
    rows: np.ndarray,
    down: np.ndarray,
    unit: float,
    most: float,
):
    """(C, H, W) float32: weighted sums of a picture's pixels, cut to 0..most; down first, in whole
    stretches of rows.

    columns, rows : (K, W) and (K, H) int32, which pixels; across, down : of the same shapes, how
    much of them. unit : what each value is multiplied by.
    """
    channels, (tall, height), (wide, width) = planes.shape[0], rows.shape, columns.shape
    first, last = columns.min(), columns.max() + 1
    column, line = np.empty(last - first, np.float32), np.empty(width, np.float32)
    places = columns - np.int32(first)
    out = np.empty((channels, height, width), np.float32)
    for c in range(channels):
        for y in range(height):
            for x in range(column.size):
                column[x] = np.float32(0)
            for k in range(tall):
                weight, row = down[k, y] * unit, planes[c, rows[k, y], first:last]
                if weight != np.float32(0):
                    for x in range(column.size):
                        column[x] += weight * np.float32(row[x])
            for x in range(width):
                line[x] = across[0, x] * column[places[0, x]]
            for k in range(1, wide):
                for x in range(width):
                    line[x] += across[k, x] * column[places[k, x]]
            for x in range(width):
                out[c, y, x] = min(max(np.float32(0), line[x]), most)
    return out


def resized(planes: np.ndarray, width: int, height: int) -> np.ndarray:
    """The whole picture, (C, H, W) of any number type, made smaller to width x height px by area
    average.

    Returns float32.
    """
    _, rows, columns = planes.shape
    across, down = (
        _spans(0, width, width / columns, 0, columns),
        _spans(0, height, height / rows, 0, rows),
    )
    return added_up(planes, *across, *down, np.float32(1), np.float32(np.inf))


def block_mean(plane: np.ndarray, factor: int) -> np.ndarray:
    """(H / factor, W / factor) float32: the means of blocks of an (H, W) plane whose sides are
    multiples of `factor`.
    """
    if factor == 1:
        return plane
    height, width = plane.shape
    return plane.reshape(height // factor, factor, width // factor, factor).mean(
        (1, 3), dtype=np.float32
    )
