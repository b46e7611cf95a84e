"""How much of a mark lies under each tone of a mask, at full size: what an aim is solved from.

Drafts read it on full-size windows from all over the item, since averaged pixels have other tones.
"""

import math
from dataclasses import dataclass, field

import numpy as np

from kilncore.compiled.program import Program
from kilncore.geometry.box import Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.plane import WholeValue
from kilncore.graph.protocols import NodeReader
from kilncore.model.frame import Frame
from kilncore.model.texture import TexturePlacement
from kilncore.prep.texture_ref import TextureRef
from kilncore.solve.points import black_point
from kilncore.textures.registers import texture_registers

BINS = 4096
WINDOW_PX, SAMPLED_PIXELS = 96, 400_000


class Tones:
    """counts : (BINS,) of what lies under each tone, evenly from 0 to 1. reached : the share of the
    mark that the mask reaches at all; beyond a texture's end nothing is taken.
    """

    nbytes = 8 * BINS

    def __init__(self, counts: np.ndarray, reached: float):
        self.counts, self.reached, self._known = counts, reached, {}

    def points(self, share: float, contrast: float) -> tuple[float, float]:
        """(black, white) at which `share` of the mark is taken away; all that can be, where that is
        less.
        """
        key = share, contrast
        if key not in self._known:
            wanted = min(share / max(self.reached, 1e-6), 1.0)
            black = black_point(self.counts, wanted, contrast)
            self._known[key] = black, black + contrast
        return self._known[key]

    def taken(self, black: float, white: float) -> float:
        """The share of the mark that is taken away between these points."""
        tones = np.linspace(0, 1, BINS)
        kept = np.clip((tones - black) / max(white - black, 1e-6), 0, 1)
        return float(((1 - kept) * self.counts).sum() / max(self.counts.sum(), 1e-9)) * self.reached


@dataclass(frozen=True)
class WearTones(WholeValue):
    """reads : what is worn, at scale 1. whole : its extent. invert : the mask's tones turned round.
    sampled : read on windows.
    """

    reads: Node
    whole: Box
    frame: Frame
    texture: TextureRef
    placement: TexturePlacement
    invert: bool
    sampled: bool
    key: str = field(init=False)

    def __post_init__(self):
        told = (self.texture, self.placement, self.frame, self.invert, self.sampled)
        key = key_of("wear tones", self.reads.key, self.whole, *told)
        object.__setattr__(self, "key", key)

    @property
    def tiles(self) -> list[Box]:
        """All of it, or windows spread evenly."""
        pixels = self.whole.width * self.whole.height
        if not self.sampled or pixels <= SAMPLED_PIXELS:
            return super().tiles
        apart = math.sqrt(pixels / SAMPLED_PIXELS) * WINDOW_PX
        across, down = (max(1, round(n / apart)) for n in (self.whole.width, self.whole.height))
        found = []
        for row in range(down):
            for column in range(across):
                left = self.whole.left + round((column + 0.5) * self.whole.width / across)
                top = self.whole.top + round((row + 0.5) * self.whole.height / down)
                half = WINDOW_PX // 2
                window = Box(left - half, top - half, left + half, top + half)
                found.append(window.intersection(self.whole))
        return [one for one in found if not one.empty]

    def part(self, reader: NodeReader, tile: Box) -> tuple[np.ndarray, float, float]:
        """(counts, covered and reached, covered) of one tile."""
        alpha = reader.read(self.reads, tile)[3]
        if not alpha.any():
            return np.zeros(BINS), 0.0, 0.0
        program = Program(tile)
        matrix = self.frame.texture_matrix(self.placement)
        (tones,), share = texture_registers(reader, program, tile, self.texture, matrix, True)
        found = program.planes((tones,) if share is None else (tones, share))
        program.run()
        weights = alpha if share is None else alpha * np.clip(found[1], 0, 1)
        tones = np.clip(1 - found[0] if self.invert else found[0], 0, 1)
        at = np.rint(tones * (BINS - 1)).astype(np.int64).ravel()
        counts = np.bincount(at, weights.ravel(), BINS)
        return counts, float(weights.sum(dtype=np.float64)), float(alpha.sum(dtype=np.float64))

    def joined(self, parts: list) -> Tones:
        """Of all tiles."""
        counts = np.sum([one for one, _, _ in parts], axis=0) if parts else np.zeros(BINS)
        reached, covered = (math.fsum(part[n] for part in parts) for n in (1, 2))
        return Tones(counts, reached / covered if covered else 0.0)
