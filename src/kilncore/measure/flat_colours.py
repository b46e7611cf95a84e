"""The flat colours of a picture, and how much of it each has.

Colours are counted where a pixel and its neighbours to the right and below are alike, so that the
mixtures along edges are none; the more frequent one takes in what looks nearly the same. Every
covered pixel then counts for the colour it is nearest to. A picture without flat areas is told by
its commonest colours.
"""

import numpy as np

from kilncore.pixels.oklab import CHROMA, oklab

ALIKE = 2  # of 255, each channel
SAME = 0.03  # in OKLab with a and b doubled: nearer colours are one
CLOSE = 8  # of 255 in each channel: so are these, in the blacks where OKLab is steep
APART = 0.15  # the same of a picture without flat areas
CELL_BITS = 3  # of 8, that are left out of its tones when they are counted
LEAST_FLAT = 0.02  # of the covered area: with less of it flat, all of it counts
MOSTLY = 0.6  # of the covered area has one of the flat colours, or there are none
LEAST_SHARE = 0.0005  # of the flat pixels
SAMPLED = 2_000_000  # px that are looked at, at most
CANDIDATES = 4096
COVERED = 0.5  # of alpha


def flat_colours(image: np.ndarray, most: int = 12) -> list[tuple[str, float]]:
    """The colours of a picture's covered area, the largest first.

    Parameters
    ----------
    image : (H, W, 4) float array
        Straight, 0..1.
    most : int
        How many colours at most, 1 or more.

    Returns
    -------
    list of (str, float)
        ('#rrggbb', share), shares adding up to 1; empty where nothing is covered.

    Raises
    ------
    ValueError
        For what is no image.
    """
    image = np.asarray(image)
    if image.ndim != 3 or image.shape[2] != 4 or most < 1:
        raise ValueError(f"an image must be (H, W, 4), not {image.shape}; {most} colours")
    bytes_ = np.rint(np.clip(np.nan_to_num(image), 0, 1) * 255).astype(np.uint8)
    return flat_colours_of(bytes_[..., :3], bytes_[..., 3], most)


def flat_colours_of(
    pixels: np.ndarray, alpha: np.ndarray, most: int = 12
) -> list[tuple[str, float]]:
    """The same of (H, W, 3) uint8 and its (H, W) alpha, straight."""
    step = max(1, int(np.ceil(np.sqrt(alpha.size / SAMPLED))))
    covered = alpha[::step, ::step] > COVERED * 255
    if not covered.any():
        return []
    packed = _packed(pixels[::step, ::step])
    colours, weights = _counted(packed[covered], alpha[::step, ::step][covered] / 255.0)
    flat = _flat(pixels, step) & covered
    if flat.sum() >= LEAST_FLAT * covered.sum():
        kept = _kept(*_counted(packed[flat]), most, SAME)
    else:
        kept = _kept(*_cells(colours, weights), most, APART)
    nearest, away = _nearest(_lab(colours), _lab(kept))
    if weights[away < 2 * SAME].sum() < MOSTLY * weights.sum():  # shades that run into each other
        kept = _kept(*_cells(colours, weights), most, APART)
        nearest, away = _nearest(_lab(colours), _lab(kept))
    shares = np.bincount(nearest, weights, len(kept)) / weights.sum()
    order = np.argsort(-shares, kind="stable")
    return [(f"#{kept[n]:06x}", float(shares[n])) for n in order if shares[n] > 0]


def _flat(pixels: np.ndarray, step: int) -> np.ndarray:
    """Of the sampled pixels, whether the neighbours to the right and below are alike."""
    here = pixels[::step, ::step].astype(np.int16)
    flat = np.ones(here.shape[:2], bool)
    for axis in (0, 1):
        index = np.minimum(np.arange(0, pixels.shape[axis], step) + 1, pixels.shape[axis] - 1)
        beside = pixels.take(index, axis)
        beside = beside[:, ::step] if axis == 0 else beside[::step]
        flat &= np.abs(beside - here).max(-1) <= ALIKE
    return flat


def _packed(pixels: np.ndarray) -> np.ndarray:
    wide = pixels.astype(np.uint32)
    return wide[..., 0] << 16 | wide[..., 1] << 8 | wide[..., 2]


def _counted(
    packed: np.ndarray, weights: np.ndarray | None = None
) -> tuple[np.ndarray, np.ndarray]:
    colours, index = np.unique(packed, return_inverse=True)
    return colours, np.bincount(index.ravel(), weights, len(colours)).astype(float)


def _cells(colours: np.ndarray, weights: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Colours that are nearly alike as one, their mean, with its weight."""
    rgb = np.stack([colours >> 16, colours >> 8 & 255, colours & 255])
    _, cell = np.unique(_packed((rgb >> CELL_BITS).T), return_inverse=True)
    total = np.bincount(cell.ravel(), weights)
    means = [np.rint(np.bincount(cell.ravel(), weights * plane) / total) for plane in rgb]
    return _packed(np.stack(means, -1).astype(np.uint8)), total


def _lab(packed: np.ndarray) -> np.ndarray:
    return (oklab(_rgb(packed) / 255) * (1, CHROMA, CHROMA)).astype(np.float32)


def _rgb(packed: np.ndarray) -> np.ndarray:
    return np.stack([packed >> 16, packed >> 8 & 255, packed & 255], -1).astype(np.int64)


def _kept(colours: np.ndarray, counts: np.ndarray, most: int, same: float) -> np.ndarray:
    """The commonest colours, none of them nearly the same as a commoner one."""
    order = np.argsort(-counts, kind="stable")[:CANDIDATES]
    lab, least = _lab(colours[order]), LEAST_SHARE * counts.sum()
    rgb = _rgb(colours[order])
    chosen: list[int] = []
    for n in range(len(order)):
        if chosen and (len(chosen) == most or counts[order[n]] < least and len(order) < CANDIDATES):
            break
        apart = np.sqrt(((lab[chosen] - lab[n]) ** 2).sum(1)) >= same
        if (apart & (np.abs(rgb[chosen] - rgb[n]).max(1) > CLOSE)).all():
            chosen.append(n)
    return colours[order[chosen]]


def _nearest(lab: np.ndarray, kept: np.ndarray) -> tuple[np.ndarray, np.ndarray]:
    """Of each colour the number of the kept one that it is nearest to, and how far it is."""
    best, number = np.full(len(lab), np.inf, np.float32), np.zeros(len(lab), np.int64)
    for n, one in enumerate(kept):
        away = ((lab - one) ** 2).sum(1)
        nearer = away < best
        best[nearer], number[nearer] = away[nearer], n
    return number, np.sqrt(best)
