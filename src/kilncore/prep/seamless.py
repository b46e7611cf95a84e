"""Make seamless: what overlaps at an edge is joined so that the texture repeats.

In two bands (Burt and Adelson, A multiresolution spline with application to image mosaics, 1983):
the low one is cross-faded over the whole overlap, the high one cut along the least visible path
(`cuts`). Or, for speckle, cross-faded so that contrast stays: tones are made normally distributed,
mixed, brought back to their spread and to their own distribution (Heitz and Neyret,
High-performance by-example noise using a histogram-preserving blending operator, 2018).
"""

from typing import Literal

import numpy as np

from kilncore.blur import blur_within, reach
from kilncore.model.setting import setting
from kilncore.pixels.stored import deep, deepened, full_of, held_to_alpha, put
from kilncore.prep.base import Copy, Operation, operation
from kilncore.prep.cuts import closed_cut, open_cut
from kilncore.prep.normal_scores import NormalScores

FEATHER_PX = 3.0
LEAST_OVERLAP = 8  # px
WAYS = (("bands", "Surfaces, with shapes"), ("speckle", "Fine speckle"))


@operation(
    "seamless",
    title="Make seamless",
    sentence="Opposite edges are joined, so that it repeats.",
    group="Repair",
)
class Seamless(Operation):
    """overlap : the share of each side that is used up to join it."""

    kind: Literal["seamless"] = "seamless"
    way: Literal["bands", "speckle"] = setting("bands", "Joined as", "", "choice", choices=WAYS)
    overlap: float = setting(
        0.15,
        "Overlap",
        "",
        "slider",
        unit="%",
        factor=100,
        soft=(4, 45),
        ge=0.02,
        le=0.45,
        step=1,
    )

    def size(self, width: int, height: int) -> tuple[int, int]:
        """Smaller by the overlap."""
        return width - _overlap(width, self.overlap), height - _overlap(height, self.overlap)

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """Joined across, then down."""
        join = joined if self.way == "bands" else mixed
        across = join(planes, _overlap(planes.shape[2], self.overlap), copy, False)
        turned = np.swapaxes(across, 1, 2)
        done = join(turned, _overlap(planes.shape[1], self.overlap), copy, True)
        whole = np.ascontiguousarray(np.swapaxes(done, 1, 2))
        return held_to_alpha(whole)

    def wraps_after(self, wraps: bool) -> bool:
        """It repeats."""
        return True

    def told(self) -> str:
        """How."""
        return f"{dict(WAYS)[self.way].lower()}, {100 * self.overlap:.3g} % overlap"


def _overlap(side: int, share: float) -> int:
    return min(max(round(side * share), min(LEAST_OVERLAP, side // 3)), side // 2)


def joined(planes: np.ndarray, overlap: int, copy: Copy, closed: bool) -> np.ndarray:
    """(C, H, W - overlap): the left and the right edge joined in two bands. closed : the rows
    repeat already, and go on doing so.
    """
    if not overlap:  # a picture of one or two px
        return planes
    left, right = _strip(planes, overlap, False), _strip(planes, overlap, True)
    sigma = overlap / 8
    low_left = np.stack([_low(plane, overlap, sigma, False, closed) for plane in planes])
    low_right = np.stack([_low(plane, overlap, sigma, True, closed) for plane in planes])
    high_left, high_right = left - low_left, right - low_right
    cost = np.square(high_left - high_right).sum(0)
    path = (closed_cut if closed else open_cut)(cost)
    feather = max(FEATHER_PX * copy.unit, 1.0)
    at = np.arange(overlap, dtype=np.float32) + np.float32(0.5)
    # across the cut from what lay at the right edge to what lay at the left one
    sharp = np.clip((at - path[:, None] - 0.5) / feather + 0.5, 0, 1)
    edge = np.minimum(at, overlap - at) / feather  # at its ends it is wholly one or the other
    sharp = np.where(at < overlap / 2, np.minimum(sharp, edge), np.maximum(sharp, 1 - edge))
    wide = at / overlap
    wide = wide * wide * (3 - 2 * wide)
    low = low_right + wide * (low_left - low_right)
    high = high_right + sharp * (high_left - high_right)
    return _with_strip(planes, low + high, overlap)


def mixed(planes: np.ndarray, overlap: int, copy: Copy, closed: bool) -> np.ndarray:
    """(C, H, W - overlap): the left and the right edge mixed with their contrast kept."""
    if not overlap:
        return planes
    left, right = _strip(planes, overlap, False), _strip(planes, overlap, True)
    share = (np.arange(overlap, dtype=np.float32) + np.float32(0.5)) / overlap
    share = share * share * (3 - 2 * share)
    narrow = np.sqrt(share**2 + (1 - share) ** 2)
    strips = []
    for plane, one, other in zip(planes, left, right, strict=True):
        scores = NormalScores(plane)
        blended = (share * scores.of(one) + (1 - share) * scores.of(other)) / narrow
        strips.append(scores.back(blended))
    return _with_strip(planes, np.stack(strips), overlap)


def _strip(planes: np.ndarray, overlap: int, right: bool) -> np.ndarray:
    """(C, H, overlap) float32, 0..1, of one edge."""
    width = planes.shape[2]
    part = planes[:, :, width - overlap :] if right else planes[:, :, :overlap]
    return part * np.float32(1 / full_of(planes))


def _low(plane: np.ndarray, overlap: int, sigma: float, right: bool, closed: bool) -> np.ndarray:
    """The strip of one edge, blurred; beyond the edge the picture is mirrored, rows that repeat go
    on.
    """
    height, width = plane.shape
    far = reach(sigma)
    first = width - overlap if right else 0
    columns = np.arange(first - far, first + overlap + far)
    columns = columns % (2 * width)
    columns = np.where(columns < width, columns, 2 * width - 1 - columns)
    strip = plane[:, columns] * np.float32(1 / full_of(plane))
    strip = np.pad(strip, ((far, far), (0, 0)), mode="wrap" if closed else "symmetric")
    return blur_within(strip[None], sigma, sigma, -far, -far)[0][:height, :overlap]


def _with_strip(planes: np.ndarray, strip: np.ndarray, overlap: int) -> np.ndarray:
    _, height, width = planes.shape
    out = np.empty((len(planes), height, width - overlap), deep(planes.dtype))
    put(strip, out[:, :, :overlap])
    out[:, :, overlap:] = deepened(planes[:, :, overlap : width - overlap])
    return out
