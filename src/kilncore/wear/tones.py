"""How much of each part of a mark lies under each tone of a mask, at full size: what an aim, and a
floor, are solved from.

Drafts read it on full-size windows from all over the item, since averaged pixels have other tones.
"""

from dataclasses import dataclass, field

import numpy as np

from kilncore.compiled.program import Program
from kilncore.geometry.box import Box
from kilncore.geometry.windows import windows
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.plane import Plane, WholeValue
from kilncore.graph.protocols import NodeReader
from kilncore.model.frame import Frame
from kilncore.model.texture import TexturePlacement
from kilncore.planes.mark_shape import MarkShape
from kilncore.prep.texture_ref import TextureRef
from kilncore.solve.tones import BINS, WIDEST, Tones
from kilncore.textures.registers import texture_registers
from kilncore.wear.sparing import Sparing

LARGE_PX = 288
SOON_READ = 1_000_000  # px that are read whole as soon as all windows, each with its own overhead
MOST_PIXELS, ENOUGH_PIXELS = 20_000_000, 6_000_000  # of what is read whole; of more, so many


@dataclass(frozen=True)
class Masked:
    """The mask that is read. hides : whether what lies beyond its end is taken. region : what is
    spared within it, `region_share` of it, 0..1.
    """

    texture: TextureRef
    placement: TexturePlacement
    frame: Frame
    invert: bool
    specks: tuple[float, float] | None
    hides: bool
    sparing: Sparing
    region: Plane | None = None
    region_share: float = 0.0

    @property
    def told(self) -> tuple:
        """All that counts, for a key."""
        own = (self.texture, self.placement, self.frame, self.invert, self.specks, self.hides)
        return (*own, self.sparing, self.region and self.region.key, self.region_share)


@dataclass(frozen=True)
class WearTones(WholeValue):
    """reads : what is worn, at scale 1. whole : its extent. shape : of the bare mark, or None where
    nothing depends on it. sampled : read on windows.
    """

    reads: Node
    whole: Box
    masked: Masked
    shape: MarkShape | None
    sampled: bool
    recalled = True
    key: str = field(init=False)

    def __post_init__(self):
        shape = self.shape and self.shape.key
        told = self.reads.key, shape, self.whole, *self.masked.told, self.sampled
        object.__setattr__(self, "key", key_of("wear tones", *told))

    @property
    def needs(self) -> tuple[WholeValue, ...]:
        """The shape, where anything depends on it."""
        return (self.shape,) if self.shape else ()

    @property
    def tiles(self) -> list[Box]:
        """All of it, or windows spread evenly: fewer for drafts, many of what is very large."""
        pixels = self.whole.width * self.whole.height
        if self.sampled and pixels > SOON_READ:
            return windows(self.whole)
        large = pixels > MOST_PIXELS
        return windows(self.whole, ENOUGH_PIXELS, LARGE_PX) if large else super().tiles

    @property
    def range(self) -> tuple[float, float]:
        """Of the tones, as they are shifted."""
        return (-WIDEST, 1 + WIDEST) if self.masked.sparing.bias else (0.0, 1.0)

    def part(self, reader: NodeReader, tile: Box) -> dict[int, tuple]:
        """{label: (counts, covered, taken whatever the points are)} of one tile."""
        alpha = reader.read(self.reads, tile)[3]
        if not alpha.any():
            return {}
        tones, reached, spared = self._mask(reader, tile)
        shape = reader.value(self.shape) if self.shape else None
        kept = alpha if spared is None else alpha * (1 - spared)
        weights = kept if reached is None else kept * reached
        gone = kept - weights if self.masked.hides else np.zeros_like(kept)
        low, high = self.range
        at = np.rint((np.clip(tones, low, high) - low) * ((BINS - 1) / (high - low)))
        labels = shape.labels_at(tile, 1.0) if shape else np.zeros(alpha.shape, np.uint16)
        by_label = {}
        for label in np.unique(labels):
            mine = labels == label
            had = float(alpha[mine].sum(dtype=np.float64))
            if had:
                counts = np.bincount(at[mine].astype(np.int64), weights[mine], BINS)
                by_label[int(label)] = counts, had, float(gone[mine].sum(dtype=np.float64))
        return by_label

    def _mask(self, reader: NodeReader, tile: Box) -> tuple:
        """(tones, share that it reaches or None, share that is spared or None), each (H, W)."""
        masked, program = self.masked, Program(tile)
        matrix = masked.frame.texture_matrix(masked.placement)
        (row,), share = texture_registers(
            reader,
            program,
            tile,
            masked.texture,
            matrix,
            True,
            specks=masked.specks,
            projection=masked.frame.laid,
        )
        rows = [row] + ([] if share is None else [share])
        if masked.region is not None:
            rows.append(reader.plane(masked.region, program))
        planes = program.planes(tuple(rows))
        program.run()
        tones = 1 - planes[0] if masked.invert else planes[0]
        shape, spared = reader.value(self.shape) if self.shape else None, None
        if shape:
            shift = masked.sparing.shift(shape, tile, 1.0)
            tones = tones if shift is None else tones + shift
            spared = masked.sparing.spared(shape, tile, 1.0)
        if masked.region is not None:
            held = np.clip(planes[-1], 0, 1) * np.float32(masked.region_share)
            spared = held if spared is None else 1 - (1 - spared) * (1 - held)
        return tones, None if share is None else np.clip(planes[1], 0, 1), spared

    def joined(self, parts: list[dict], reader: NodeReader) -> Tones:
        """Of all tiles."""
        labels = sorted({label for part in parts for label in part}) or [0]
        row = {label: n for n, label in enumerate(labels)}
        counts = np.zeros((len(labels), BINS), np.float32)
        had, gone = np.zeros(len(labels)), np.zeros(len(labels))
        for part in parts:
            for label, (some, covered, taken) in part.items():
                counts[row[label]] += some
                had[row[label]] += covered
                gone[row[label]] += taken
        return Tones(np.array(labels), counts, had, gone, *self.range, self.sampled)

    def packed(self, value: Tones) -> dict[str, np.ndarray]:
        """Its tables."""
        return {
            "labels": value.labels,
            "counts": value.counts,
            "had": value.had,
            "gone": value.gone,
        }

    def unpacked(self, arrays: dict[str, np.ndarray], reader: NodeReader) -> Tones:
        """Of those."""
        labels, counts, had, gone = (arrays[name] for name in ("labels", "counts", "had", "gone"))
        rows = len(labels)
        if counts.shape != (rows, BINS) or counts.dtype != np.float32:
            raise ValueError("no tones")
        if had.shape != (rows,) or gone.shape != (rows,) or not rows:
            raise ValueError("no tones")
        return Tones(labels, counts, had, gone, *self.range, self.sampled)
