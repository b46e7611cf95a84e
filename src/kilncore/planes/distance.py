"""Distance to the edge of a picture's coverage: signed, positive inside, in output px (see
`pixels.distance`).

Cut off at a few dozen px it is local: worked out by tiles, with as much around them as it looks.
Cut off farther it is worked out over the whole item; of an item larger than 64 megapixels at a
quarter of its size, and the band near the edge by tiles.
"""

from dataclasses import dataclass, field
from typing import Any

import numpy as np

from kilncore.compiled.program import Program, Register
from kilncore.geometry.box import Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.plane import Plane, TilePlane, WholePlane
from kilncore.graph.protocols import NodeReader
from kilncore.pixels.distance import signed_distance
from kilncore.planes.coverage import alpha_of

LOCAL_PX = 96
EDGE_PX = 3  # beyond the cut-off: the edge pixel itself, and its gradient
NEAR_PX, BLENDED_PX = 12.0, 4.0
UNIT, MOST_PX = 1 / 64, 500.0
SIGNED: Any = np.dtype(np.int16)


def distance_to_edge(of: Node, whole: Box, most: float) -> Plane:
    """The plane of distances. of : a picture. whole : its treated extent. most : px, where it is
    cut off, up to 500.
    """
    if not 0 < most <= MOST_PX:
        raise ValueError(f"a distance is cut off at up to {MOST_PX} px, not {most}")
    if most <= LOCAL_PX:
        return NearDistance(of, float(most))
    far = FarDistance(of, whole.expanded(int(np.ceil(most))), float(most))
    return far if far.factor == 1 else NearAndFar(NearDistance(of, NEAR_PX + BLENDED_PX), far)


@dataclass(frozen=True)
class NearDistance(TilePlane):
    """most : px, up to 96."""

    of: Node
    most: float
    key: str = field(init=False)
    extent: Box = field(init=False)
    kind, unit = SIGNED, UNIT

    @property
    def outside(self) -> float:
        """Far from every edge."""
        return -self.most

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("near distance", self.of.key, self.most))
        object.__setattr__(self, "extent", self.of.extent.expanded(self.reach))

    @property
    def reach(self) -> int:
        """Px beyond a pixel that its distance depends on."""
        return int(np.ceil(self.most)) + EDGE_PX

    @property
    def settings(self):
        """Where it is cut off."""
        return (self.most,)

    @property
    def sources(self):
        """The picture, as far around as distances are told."""
        return ((self.of, self.reach),)

    def compute(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(H, W) float32 px, cut to -most .. most."""
        around = box.expanded(self.reach)
        distances = signed_distance(alpha_of(reader, self.of, around), self.most)
        return distances[self.reach : self.reach + box.height, self.reach : self.reach + box.width]


@dataclass(frozen=True)
class FarDistance(WholePlane):
    """reads : a picture. whole : the box over which distances are told. most : px, up to 500."""

    reads: Node
    whole: Box
    most: float
    key: str = field(init=False)
    kind, unit = SIGNED, UNIT

    @property
    def outside(self) -> float:
        """Far from every edge."""
        return -self.most

    def __post_init__(self):
        object.__setattr__(
            self, "key", key_of("far distance", self.reads.key, self.whole, self.most)
        )

    def solved(self, coverage: np.ndarray) -> np.ndarray:
        """(H, W) int16, 1/64 px, of (H, W) uint16 coverage."""
        distances = signed_distance(coverage / np.float32(65535), self.most / self.factor)
        return np.rint(distances * np.float32(self.factor / UNIT)).astype(np.int16)


@dataclass(frozen=True)
class NearAndFar(Plane):
    """The exact distance near the edge, the reduced one beyond, blended over a few px."""

    near: NearDistance
    far: FarDistance
    key: str = field(init=False)

    def __post_init__(self):
        object.__setattr__(
            self, "key", key_of("near and far distance", self.near.key, self.far.key)
        )

    @property
    def extent(self) -> Box:
        """That of the far distance."""
        return self.far.extent

    @property
    def sources(self):
        """The near distance."""
        return ((self.near, 0),)

    @property
    def wholes(self):
        """The far distance."""
        return (self.far,)

    def write(self, reader: NodeReader, program: Program, box: Box) -> Register:
        """Px."""
        far = self.far.write(reader, program, box)
        near = reader.plane(self.near, program)
        share = program.op("abs", near).clamped(1 / BLENDED_PX, -NEAR_PX / BLENDED_PX)
        return near * (1 - share) + far * share
