"""Coverage: the alpha of a picture, softened if that is asked for. Of a mark's bare art it is the
mark's outline.
"""

from dataclasses import dataclass, field

import numpy as np

from kilncore.blur import blur_within, reach
from kilncore.geometry.box import Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.plane import ArrayPlane
from kilncore.graph.protocols import NodeReader


@dataclass(frozen=True)
class Coverage(ArrayPlane):
    """of : a picture. sigma : of the Gaussian that softens it, output px, 0 or more."""

    of: Node
    sigma: float = 0.0
    key: str = field(init=False)
    extent: Box = field(init=False)

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("coverage", self.of.key, self.sigma))
        object.__setattr__(self, "extent", self.of.extent.expanded(reach(self.sigma)))

    @property
    def sources(self):
        """The picture, as far around as softening looks."""
        return ((self.of, reach(self.sigma)),)

    def compute(self, reader: NodeReader, box: Box) -> np.ndarray:
        """(H, W) float32, 0..1."""
        margin = reach(self.sigma)
        alpha = alpha_of(reader, self.of, box.expanded(margin))
        return blur_within(
            alpha[None], self.sigma, self.sigma, box.left - margin, box.top - margin
        )[0]


def alpha_of(reader: NodeReader, node: Node, box: Box) -> np.ndarray:
    """(H, W) float32 alpha of a picture, 1 of an opaque one."""
    form = reader.pixel_formats.of(node)
    if not form.alpha:
        return np.ones((box.height, box.width), np.float32)
    return reader.read(node, box, alone=True)[-1]
