"""What a surface is like under a mark: how soft its edges are, its grain, its blacks and whites.

It is measured at full size, on the middle of what lies beneath the mark, or of a region drawn: what
a match is made by.
"""

import json
from collections.abc import Callable
from dataclasses import asdict, dataclass, field
from typing import Any

import numpy as np

from kilncore.compiled.program import Program
from kilncore.geometry.box import Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node, Nothing
from kilncore.graph.plane import WholeValue
from kilncore.graph.protocols import NodeReader
from kilncore.measure.edge_softness import SOFTEST, softness
from kilncore.measure.grain_size import Grain, grain_of
from kilncore.pixels.colour import BT709

SIDE, LEAST_SIDE = 768, 24  # px each way that are read
COARSE = 128  # px: of the grid to which what is read under a mark is widened
PARTS = 64
DARKEST, LIGHTEST = 0.005, 0.995  # of the tones: its black and its white


@dataclass(frozen=True)
class Surface:
    """softness : sigma px of its sharpest edges; None if there is no edge to measure. grain : as
    `measure.grain_size` tells it. black, white : the luma of its shadows and lights, 0..1. tones :
    the luma below which 0, 1/64, .. 64/64 of it lie."""

    softness: float | None
    grain: Grain
    black: float
    white: float
    tones: tuple[float, ...]

    def tone_of(self, share: float) -> float:
        """The luma below which that share of it lies, 0..1."""
        return float(np.interp(share, np.linspace(0, 1, len(self.tones)), self.tones))


@dataclass(frozen=True)
class MeasuredSurface(WholeValue):
    """What is measured of a surface in a few tiles: it depends on what reaches into those alone.

    reads : the surface, at scale 1. whole : the box in which the tiles lie. local : what of the
    surface reaches into a box, as a key.
    """

    reads: Node
    whole: Box
    local: Callable[[Node, Box], tuple]
    recalled = True
    key: str = field(init=False)

    def __post_init__(self):
        seen = [(box, self.local(self.reads, box)) for box in self.tiles]
        object.__setattr__(self, "key", key_of(type(self).__name__, *seen))


@dataclass(frozen=True)
class SurfaceFacts(MeasuredSurface):
    """Of the middle of the box. Its value is a Surface, or None of a box that is too small."""

    @property
    def tiles(self) -> list[Box]:
        """One, in the middle."""
        box = self.whole
        wide, tall = min(box.width, SIDE), min(box.height, SIDE)
        left, top = box.left + (box.width - wide) // 2, box.top + (box.height - tall) // 2
        return [Box(left, top, left + wide, top + tall)] if min(wide, tall) >= LEAST_SIDE else []

    def part(self, reader: NodeReader, tile: Box) -> Surface | None:
        """Of one tile."""
        colours = colours_in(reader, self.reads, tile)
        if colours is None:
            return None
        grey = colours @ BT709
        soft = softness(grey)
        ordered = np.sort(grey, axis=None)  # many quantiles are found sooner in it
        black, white = (float(np.float32(_quantile(ordered, one))) for one in (DARKEST, LIGHTEST))
        tones = tuple(_quantile(ordered, np.linspace(0, 1, PARTS + 1)).tolist())
        return Surface(None if soft >= SOFTEST else soft, grain_of(colours), black, white, tones)

    def joined(self, parts: list, reader: NodeReader) -> Surface | None:
        """Of the one."""
        return parts[0] if parts else None

    def packed(self, value: Surface | None) -> dict[str, np.ndarray] | None:
        """Its numbers, as text."""
        return {"told": np.array(json.dumps(asdict(value)))} if value else None

    def unpacked(self, arrays: dict[str, np.ndarray], reader: NodeReader) -> Surface:
        """Of those."""
        told = json.loads(str(arrays["told"]))
        grain = told.pop("grain")
        by_tone = tuple((float(tone), float(one)) for tone, one in grain.pop("by_tone"))
        tones = tuple(map(float, told.pop("tones")))
        return Surface(grain=Grain(by_tone=by_tone, **grain), tones=tones, **told)


def _quantile(ordered: np.ndarray, shares: np.ndarray | float) -> np.ndarray:
    """As np.quantile has it, of values that are sorted."""
    at = np.asarray(shares, np.float64) * (ordered.size - 1)
    low = np.floor(at).astype(np.intp)
    under, over = ordered[low], ordered[np.minimum(low + 1, ordered.size - 1)]
    between, share = over - under, at - low
    return np.where(share >= 0.5, over - between * (1 - share), under + between * share)


def colours_in(reader: NodeReader, surface: Node, tile: Box) -> np.ndarray | None:
    """(H, W, 3) straight colours of a surface in a tile; None where there is nothing of it."""
    program = Program(tile)
    picture = reader.picture(surface, program)
    if picture is None:
        return None
    planes = program.planes(tuple(picture.unpremultiply().colour))
    program.run()
    return np.ascontiguousarray(np.moveaxis(np.stack(list(planes)), 0, 2))


def surface_under(sources: Any, region: Any = None, ground: bool = False) -> SurfaceFacts:
    """Of what lies beneath a mark, or of the ground alone, under all of its art, or in a region of
    its frame.

    The box under the art is widened to a coarse grid: all steps of a mark read the same, and a mark
    that is dragged does not have its surface measured anew at every px.
    """
    full = sources.full_size()
    reads = surface_of(full, ground)
    if region is None:
        whole = _widened(full.bare.extent.intersection(full.whole))
        return SurfaceFacts(reads, whole, full.local)
    width, height = full.page_px
    page = Box(0, 0, width, height)
    return SurfaceFacts(reads, region.box(full.frame).intersection(page), full.local)


def surface_of(full: Any, ground: bool) -> Node:
    """What a match is measured on: what lies beneath, or the ground alone. The ground itself lies
    on nothing: a step of its own cannot be measured on what it makes.
    """
    return full.ground() if ground and not isinstance(full.beneath, Nothing) else full.beneath


def _widened(box: Box) -> Box:
    if box.empty:
        return box
    left, top = (n // COARSE * COARSE for n in (box.left, box.top))
    right, bottom = (-(-n // COARSE) * COARSE for n in (box.right, box.bottom))
    return Box(left, top, right, bottom)
