"""Making a picture smaller by area average: how exact pixels are shown below 100 %.

Every output pixel i covers [i / scale, (i + 1) / scale) of the source, weighted by the part covered.
"""

import numpy as np

from kilncore.kernels import kernel


def area_average(planes: np.ndarray, scale: float, left: int, top: int, width: int, height: int,
                 source_left: int, source_top: int) -> np.ndarray:
    """The output pixels [left, left + width) x [top, top + height) of the source made smaller by `scale`, 0..1.

    planes : (C, H, W) float32, premultiplied, whose first pixel is the source's (source_left, source_top).
    """
    across = _spans(left, width, scale, source_left, planes.shape[2])
    down = _spans(top, height, scale, source_top, planes.shape[1])
    return _average(planes, *across, *down)


def _spans(first, count, scale, source_first, size):
    """For each output pixel: its first source pixel, how many, and their weights (count, most).

    Worked out where the pixels lie on the whole grid and only then counted from `source_first`: an output pixel weighs
    its sources alike in every crop.
    """
    edges = np.arange(first, first + count + 1) / scale
    starts = np.floor(edges[:-1] + 1e-9).astype(np.int64)
    ends = np.minimum(np.ceil(edges[1:] - 1e-9).astype(np.int64), source_first + size)
    pixels = starts[:, None] + np.arange(int(np.ceil(1 / scale)) + 1)
    overlap = np.minimum(pixels + 1, edges[1:, None]) - np.maximum(pixels, edges[:-1, None])
    weights = np.where(pixels < ends[:, None], np.maximum(overlap, 0), 0)
    weights /= weights.sum(1, keepdims=True)
    return np.maximum(starts - source_first, 0), ends - starts, weights.astype(np.float32)


@kernel
def _average(planes, x0, nx, wx, y0, ny, wy):
    channels, rows, _ = planes.shape
    out = np.zeros((channels, y0.size, x0.size), np.float32)
    narrow = np.empty((rows, x0.size), np.float32)
    for c in range(channels):
        for y in range(rows):
            for x in range(x0.size):
                total = np.float32(0)
                for k in range(nx[x]):
                    total += wx[x, k] * planes[c, y, x0[x] + k]
                narrow[y, x] = total
        for y in range(y0.size):
            for k in range(ny[y]):
                for x in range(x0.size):
                    out[c, y, x] += wy[y, k] * narrow[y0[y] + k, x]
    return out


def resized(planes: np.ndarray, width: int, height: int) -> np.ndarray:
    """The whole picture, (C, H, W) of any number type, made smaller to width x height px by area average.

    Returns float32.
    """
    _, rows, columns = planes.shape
    return _average(planes, *_spans(0, width, width / columns, 0, columns), *_spans(0, height, height / rows, 0, rows))
