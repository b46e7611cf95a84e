"""What has run down from where it came out: rust, damp, paint. It wraps."""

import numpy as np

from kilncore.compiled.kernels import kernel
from kilncore.textures.makers.parts.fields import Fields


def run_down(fields: Fields, source: np.ndarray, least: float, most: float) -> np.ndarray:
    """(H, W) float32: a source 0..1, and below it what is left of it. least, most : px over which a
    third is left; each column has its own.
    """
    long = least + (most - least) * fields.rng.random(4096)
    columns = np.arange(fields.width) / fields.scale
    mine = np.interp(columns, np.arange(4096), long)  # of a column's place, at any resolution
    kept = np.exp(-1 / (mine * fields.scale)).astype(np.float32)
    return _run(np.ascontiguousarray(source, np.float32), kept)


@kernel
def _run(source: np.ndarray, kept: np.ndarray):
    height, width = source.shape
    out = np.empty_like(source)
    now = np.zeros(width, np.float32)
    for turn in range(2):  # once around, so that it wraps
        for y in range(height):
            for x in range(width):
                now[x] = max(now[x] * kept[x], source[y, x])
                if turn:
                    out[y, x] = now[x]
    return out
