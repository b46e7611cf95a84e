"""Labels: which connected part of a picture's coverage a pixel belongs to, 0 where there is none.

What covers more than 2 % of a pixel belongs together with its eight neighbours, soft fringe
included: cut at one half, ghost rims would stay. Numbers depend on the whole, and are worked out
once for it.
"""

from dataclasses import dataclass, field

import numpy as np

from kilncore.geometry.box import Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.plane import WholePlane
from kilncore.system.opencv import cv2

FAINT = 0.02


@dataclass(frozen=True)
class Labels(WholePlane):
    """reads : a picture. whole : the box in which its parts are told apart, 1 .. 65,535 of them,
    the rest are the last.
    """

    reads: Node
    whole: Box
    key: str = field(init=False)
    kind, unit = np.dtype(np.uint16), 1.0

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("labels", self.reads.key, self.whole))

    def solved(self, coverage: np.ndarray) -> np.ndarray:
        """(H, W) uint16 labels of (H, W) uint16 coverage."""
        there = (coverage > FAINT * 65535).view(np.uint8)
        _, labels = cv2.connectedComponents(there, connectivity=8, ltype=cv2.CV_32S)
        return np.minimum(labels, 65535).astype(np.uint16)
