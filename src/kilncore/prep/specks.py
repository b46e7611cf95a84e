"""Specks by their size: drop small ones, fill small holes, keep only those between two sizes.

A speck is dark and connected, its corners too; a hole is light and connected by its edges. Its size
is the diameter of a disc of its area, and its area the sum of how dark its pixels are. A speck that
goes takes its soft fringe along. Where the texture repeats, what crosses an edge is one speck.
"""

import math
from typing import Literal

import numpy as np
from pydantic import model_validator

from kilncore.compiled.kernels import kernel
from kilncore.model.setting import setting
from kilncore.pixels.stored import deep, deepened, full_of, put
from kilncore.prep.base import Copy, Operation, operation
from kilncore.prep.grey import one_tone
from kilncore.system.opencv import cv2

CORE = 0.1  # of full dark: what is darker belongs to a speck
BAND_ROWS = 512
FRINGE = 2  # px around a speck that is its own
WAYS = (
    ("drop", "Drop small specks"),
    ("fill", "Fill small holes"),
    ("keep", "Keep those between two sizes"),
)
MOST_PX = 5000


@operation("specks", title="Specks by size", sentence="Drop specks, fill holes, or keep a few.")
class Specks(Operation):
    """least_px, most_px : diameters. Specks, or holes, smaller than the least go; for 'keep' those
    larger than the most go too.
    """

    kind: Literal["specks"] = "specks"
    way: Literal["drop", "fill", "keep"] = setting(
        "drop", "What to do", "", "choice", choices=WAYS, reload=True
    )
    least_px: float = setting(
        4.0, "Smaller than", "", "size", unit="px", soft=(0, 60), ge=0, le=MOST_PX, step=0.5
    )
    most_px: float = setting(
        40.0,
        "Larger than",
        "",
        "size",
        unit="px",
        soft=(1, 400),
        ge=0,
        le=MOST_PX,
        step=1,
        if_="way=keep",
    )

    @model_validator(mode="after")
    def _in_order(self):
        if self.way == "keep" and self.least_px > self.most_px:
            raise ValueError("the least size must not be larger than the most")
        return self

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """(1, H, W)."""
        tones = one_tone(planes)[0]
        least = _area(self.least_px * copy.unit)
        most = _area(self.most_px * copy.unit) if self.way == "keep" else math.inf
        return sorted_out(tones, least, most, self.way == "fill", copy.wraps)[None]

    def told(self) -> str:
        """The sizes."""
        if self.way == "keep":
            return f"{self.least_px:.4g} to {self.most_px:.4g} px"
        return f"{'holes' if self.way == 'fill' else 'specks'} under {self.least_px:.4g} px"


def _area(diameter: float) -> float:
    return math.pi * diameter * diameter / 4


def sorted_out(
    tones: np.ndarray, least: float, most: float, holes: bool, wraps: bool
) -> np.ndarray:
    """(H, W) tones without the specks, or holes, of less than `least` or more than `most` px."""
    full = full_of(tones)
    core = np.float32((1 - CORE) * full)
    mask = (tones > full - core if holes else tones < core).view(np.uint8)
    kept = _kept(tones, mask, least, most, holes, wraps)
    if kept is None:
        return deepened(tones)
    out = np.empty(tones.shape, deep(tones.dtype))
    clean, unit = np.float32(0 if holes else 1), np.float32(1 / full)
    disc = np.ones((2 * FRINGE + 1,) * 2, np.uint8)
    for top in range(0, len(tones), BAND_ROWS):
        first, rows = max(top - FRINGE, 0), slice(top, top + BAND_ROWS)
        # what is kept, and what is faint around it: fringes of its own
        around = cv2.dilate(kept[first : top + BAND_ROWS + FRINGE], disc)[top - first :]
        faint = around[: len(kept[rows])].astype(np.uint8) & (1 - mask[rows])
        shown = kept[rows] | faint
        put(np.where(shown > 0, tones[rows] * unit, clean), out[rows])
    return out


def _kept(
    tones: np.ndarray, mask: np.ndarray, least: float, most: float, holes: bool, wraps: bool
) -> np.ndarray | None:
    """(H, W) uint8: 1 in the specks, or holes, that stay; None where all do."""
    count, labels = cv2.connectedComponents(mask, connectivity=4 if holes else 8)
    areas = np.zeros(count, np.float64)
    _areas(np.ascontiguousarray(tones), labels, float(full_of(tones)), holes, areas)
    if wraps:
        areas = _joined(labels, areas, not holes)
    keeps = (areas >= least) & (areas <= most)
    if keeps[1:].all():
        return None
    keeps[0] = False
    table, kept = keeps.astype(np.uint8), np.empty(mask.shape, np.uint8)
    for top in range(0, len(kept), BAND_ROWS):
        kept[top : top + BAND_ROWS] = table[labels[top : top + BAND_ROWS]]
    return kept


def _joined(labels: np.ndarray, areas: np.ndarray, corners: bool) -> np.ndarray:
    """The areas, each that of all that hangs together across the edges of a texture that
    repeats.
    """
    parents = np.arange(len(areas))

    def root(n: int) -> int:
        while parents[n] != n:
            parents[n] = parents[parents[n]]
            n = parents[n]
        return n

    for one, other in ((labels[:, -1], labels[:, 0]), (labels[-1], labels[0])):
        for shift in (-1, 0, 1) if corners else (0,):
            pairs = np.stack([one, np.roll(other, shift)])
            for a, b in np.unique(pairs[:, (pairs > 0).all(0)], axis=1).T:
                parents[root(a)] = root(b)
    roots = (
        np.array([root(n) for n in range(len(areas))])
        if (parents != np.arange(len(areas))).any()
        else parents
    )
    whole = np.zeros_like(areas)
    np.add.at(whole, roots, areas)
    return whole[roots]


@kernel
def _areas(tones: np.ndarray, labels: np.ndarray, full: float, holes: float, areas: np.ndarray):
    height, width = labels.shape
    for y in range(height):
        for x in range(width):
            label = labels[y, x]
            if label > 0:
                dark = 1.0 - tones[y, x] / full
                areas[label] += 1.0 - dark if holes else dark
