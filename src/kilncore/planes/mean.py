"""Statistics over a whole item: the mean luma of a picture."""

import math
from dataclasses import dataclass, field

import numpy as np

from kilncore.compiled.program import Program
from kilncore.geometry.box import Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.plane import Plane, WholeValue
from kilncore.graph.protocols import NodeReader

EMPTY = 0.5  # of a whole without pixels


def luma_of(reader: NodeReader, node: Node, box: Box) -> np.ndarray:
    """(H, W) float32 luma times alpha of a picture."""
    program = Program(box)
    picture = reader.picture(node, program)
    if picture is None:
        return np.zeros((box.height, box.width), np.float32)
    planes = program.planes((picture.luma(),))
    program.run()
    return planes[0]


@dataclass(frozen=True)
class MeanTone(WholeValue):
    """The mean of a plane over the box `whole`, 0..1."""

    reads: Plane
    whole: Box
    recalled = True
    key: str = field(init=False)

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("mean tone", self.reads.key, self.whole))

    def part(self, reader: NodeReader, tile: Box) -> tuple[float, int]:
        """(sum, count) of one tile."""
        program = Program(tile)
        (tones,) = program.planes((reader.plane(self.reads, program),))
        program.run()
        return float(tones.sum(dtype=np.float64)), tones.size

    def joined(self, parts: list, reader: NodeReader) -> float:
        """The mean of all tiles."""
        count = sum(size for _, size in parts)
        return math.fsum(total for total, _ in parts) / count if count else EMPTY

    def packed(self, value: float) -> dict[str, np.ndarray]:
        """One number."""
        return {"mean": np.array(value, np.float64)}

    def unpacked(self, arrays: dict[str, np.ndarray], reader: NodeReader) -> float:
        """Of that."""
        mean = float(arrays["mean"])
        if not math.isfinite(mean):
            raise ValueError("no mean")
        return mean
