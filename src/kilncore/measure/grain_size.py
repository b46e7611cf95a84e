"""How strong the grain of a picture is, and how large, in its flat areas.

A block's grain is what is left of it when a plane through its tones is taken away. Structure is
what of that is left after a blur, which takes grain away: flat are the blocks with the least of it.
The strength is the standard deviation of what is left of them; the size follows from how alike
neighbours are: of cells n px wide, 1 - 1/n of all neighbours are the same, so that n = 1 / (1 - r)
with r the correlation of neighbours. Where even the flattest blocks stay alike over more than 1.65
px, there is no grain to be told apart: the surface is rough everywhere (measured on photographs of
decks, bricks, paper, gravel, rock and plaster: added noise is read back to a tenth, and no
half-width came out above 2.2 px).
"""

from dataclasses import dataclass

import numpy as np

from kilncore.errors import KilnError
from kilncore.pixels.luma import BT709
from kilncore.system.opencv import cv2

BLOCK = 37  # px; a prime, so that cells of any size lie across its borders alike
FLATTEST, LEAST_BLOCKS = 0.04, 12  # the share of blocks that are taken for flat, and no fewer
BLUR_PX, ALIKE = 3.0, 4.0  # of structure; flat are those with so much more of it than these too
ROUGH_PX = 1.65  # half width of the correlation
LAGS = 5
MOST_BLOCKS = 4096
LARGEST = 6.0  # px
LEAST_SIDE = 8
NOTHING = 1e-4


@dataclass(frozen=True)
class Grain:
    """strength : standard deviation of luma, 0..1. size_px : of a grain; 1 for single-pixel noise.
    colour : the standard deviation of what the channels have beside the luma, 0..1. rough :
    whether no flat area is left in which grain could be told from structure. by_tone :
    ((tone, strength), ...) from dark to light, where there are enough flat areas.
    """

    strength: float
    size_px: float
    colour: float
    by_tone: tuple[tuple[float, float], ...] = ()
    rough: bool = False


def grain(image: np.ndarray) -> tuple[float, float]:
    """How strong and how coarse the grain of a picture is, in its flat areas.

    Parameters
    ----------
    image : (H, W), (H, W, 3) or (H, W, 4) float array
        0..1; alpha is not looked at.

    Returns
    -------
    (strength, size_px)
        The standard deviation on 0..1, and the width of a grain, 1 px for single-pixel noise.

    Raises
    ------
    KilnError
        For smaller ones than 8 px each way.

    References
    ----------
    The module says the method.
    """
    measured = grain_of(image)
    return measured.strength, measured.size_px


def grain_of(image: np.ndarray) -> Grain:
    """All that is told of the grain of a picture. As `grain`."""
    image = np.asarray(image, np.float32)
    if image.ndim not in (2, 3) or min(image.shape[:2]) < LEAST_SIDE:
        raise KilnError("Grain is measured on a picture of 8 px or more.", str(image.shape))
    image = np.nan_to_num(image)
    colours = image[..., :3] if image.ndim == 3 and image.shape[2] >= 3 else None
    grey = image if image.ndim == 2 else image[..., 0] if colours is None else colours @ BT709
    left, means = _left_over(_blocks(grey))
    flat = _flat(left)
    left, means = left[flat], means[flat]
    strength = float(np.sqrt((left**2).mean()))
    strength = strength if strength > NOTHING else 0.0
    colour = 0.0 if colours is None else _of_colour(colours, grey, flat)
    rough = strength > 0 and _half_width(left) >= ROUGH_PX
    return Grain(strength, _size(left), colour, _by_tone(left, means), rough)


def _blocks(grey: np.ndarray) -> np.ndarray:
    """(N, B, B): blocks side by side; of large pictures every so many."""
    side = min(BLOCK, *grey.shape)
    down, across = (n // side for n in grey.shape)
    cut = grey[: down * side, : across * side]
    blocks = cut.reshape(down, side, across, side).swapaxes(1, 2).reshape(-1, side, side)
    return blocks[:: max(1, len(blocks) // MOST_BLOCKS)]


def _left_over(blocks: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """(what a plane through each leaves of it, their means); made larger by what the plane takes of
    the grain itself."""
    side = blocks.shape[1]
    ramp = np.linspace(-1, 1, side, dtype=np.float32)
    ramp = ramp / np.sqrt((ramp**2).sum() * side)
    means = blocks.mean((1, 2))
    left = blocks - means[:, None, None]
    across = np.einsum("nij,j->n", left, ramp)
    down = np.einsum("nij,i->n", left, ramp)
    left = left - across[:, None, None] * ramp - down[:, None, None] * ramp[:, None]
    return left * np.sqrt(side * side / (side * side - 3)), means


def _flat(left: np.ndarray) -> np.ndarray:
    """Those with the least structure, and all that have hardly more."""
    count = len(left)
    wanted = min(max(round(FLATTEST * count), LEAST_BLOCKS), count)
    structure = np.array([(cv2.GaussianBlur(one, (0, 0), BLUR_PX) ** 2).mean() for one in left])
    level = np.sort(structure)[wanted - 1]
    return structure <= max(ALIKE * level, NOTHING**2)


def _half_width(left: np.ndarray) -> float:
    """Px at which the correlation of what is left, across and down, has fallen to a half: 0.5 of
    single-pixel noise.
    """
    whole = float((left**2).mean())
    before = 1.0
    for lag in range(1, min(LAGS, left.shape[1] - 1) + 1):
        both = (
            (left[:, :, lag:] * left[:, :, :-lag]).mean(),
            (left[:, lag:] * left[:, :-lag]).mean(),
        )
        alike = float(sum(both)) / 2 / whole
        if alike <= 0.5:
            return lag - 1 + (before - 0.5) / max(before - alike, 1e-9)
        before = alike
    return float(LAGS)


def _size(left: np.ndarray) -> float:
    """From the correlation of neighbours, across and down."""
    whole = float((left**2).mean())
    if whole <= NOTHING**2:
        return 1.0
    side = (left[:, :, 1:] * left[:, :, :-1]).mean() + (left[:, 1:] * left[:, :-1]).mean()
    alike = float(side) / 2 / whole
    return float(np.clip(1 / max(1 - alike, 1 / LARGEST), 1.0, LARGEST))


def _of_colour(colours: np.ndarray, grey: np.ndarray, flat: np.ndarray) -> float:
    beside = [_left_over(_blocks(colours[..., c] - grey))[0][flat] for c in range(3)]
    return float(np.sqrt(np.mean([(one**2).mean() for one in beside])))


def _by_tone(left: np.ndarray, means: np.ndarray) -> tuple[tuple[float, float], ...]:
    """Of five equal parts of the range of tones, those in which there are three blocks."""
    parts = []
    for low in np.arange(5) / 5:
        here = left[(means >= low) & (means < low + 0.2)]
        if len(here) >= 3:
            parts.append((float(low + 0.1), float(np.sqrt((here**2).mean()))))
    return tuple(parts)
