"""Working a chain of operations through a file: at full size, on a smaller copy while something
moves, and on parts of it for how often tones occur.

Shares and aims are solved from full-size pixels: averaged copies have other tones. Until an
operation's own input was made at full size, they are those of a mosaic of full-size windows, spread
over all of the texture, that goes through the same operations.
"""

from collections.abc import Callable
from typing import Any

import numpy as np

from kilncore.graph.keys import key_of
from kilncore.prep.base import Copy, Operation
from kilncore.prep.chain import in_use, meaning, size_of
from kilncore.prep.cut_tones import two_tone
from kilncore.prep.tone_counts import tone_counts
from kilncore.system.budget import budget_of
from kilncore.system.cache import ByteCache
from kilncore.system.kept_values import KeptValues
from kilncore.textures.texture import Texture

WINDOWS, WINDOW_PX = 4, 256
Chain = tuple[Operation, ...]


class Preparing:
    """The stages of chains that were worked on lately."""

    def __init__(self, measured: KeptValues | None = None):
        self._measured = measured
        self._stages = ByteCache(budget_of("stages"))
        self._counts = ByteCache(budget_of("counts"))

    def exact(
        self, name: str, chain: Chain, wraps: bool, read: Callable[[], np.ndarray]
    ) -> np.ndarray:
        """(C, H, W) planes, all of them. How often tones occur on the way is kept.

        read : the file's planes, which nobody else need hold: each stage goes when the next is
        there.
        """
        planes, repeats = read(), wraps
        done: tuple = ()
        for operation in in_use(chain):
            if operation.reads_tones:
                counts = tone_counts(planes)
                self._counts.put(_key(name, done, wraps), counts)
                made = operation.solved(counts)
            else:
                made = operation
            planes = made.prepared(planes, Copy(1.0, repeats))
            repeats, done = operation.wraps_after(repeats), (*done, operation)
        return np.ascontiguousarray(planes)

    def draft(
        self, name: str, chain: Chain, wraps: bool, source: Texture, level: int
    ) -> np.ndarray:
        """(C, h, w) planes of a copy halved `level` times; each stage is kept for the next."""
        used = in_use(chain)
        if not used:
            return source.level(level)

        def make() -> np.ndarray:
            *before, last = used
            planes = self.draft(name, tuple(before), wraps, source, level)
            made = last
            if last.reads_tones:
                made = last.solved(self.counts(name, tuple(before), wraps, lambda: source))
            whole = size_of(tuple(before), *source.size)
            return made.prepared(planes, Copy(0.5**level, _repeats(before, wraps), whole))

        return self._stages.get((level, *_key(name, used, wraps)), make)

    def counts(
        self, name: str, chain: Chain, wraps: bool, source: Callable[[], Texture]
    ) -> np.ndarray:
        """(65536,) of the tones that a chain gives."""
        known = self._counts.find(_key(name, in_use(chain), wraps))
        if known is not None:
            return known
        return self.sampled_counts(name, chain, wraps, source)

    def sampled_counts(
        self, name: str, chain: Chain, wraps: bool, source: Callable[[], Texture]
    ) -> np.ndarray:
        """The same, always of the mosaic: what is decided by it is decided alike in drafts."""
        key = ("parts", *_key(name, in_use(chain), wraps))
        return self._counts.get(key, lambda: tone_counts(self._parts(name, chain, wraps, source)))

    def has_two_tones(
        self, name: str, chain: Chain, wraps: bool, source: Callable[[], Texture]
    ) -> bool:
        """Whether what a chain makes of a file has two tones only (`prep.cut_tones.two_tone`)."""
        key = ("two tones", *_key(name, in_use(chain), wraps))
        counts = lambda: self.sampled_counts(name, chain, wraps, source)  # noqa: E731
        return bool(self._counts.get(key, lambda: self._told(key, lambda: two_tone(counts()))))

    def _told(self, key: tuple, tell: Callable[[], bool]) -> np.bool_:
        """What was told once before, by whichever process; else told now."""
        name, kept = key_of(*key), self._measured
        found = kept.find(name) if kept else None
        if found and "told" in found and found["told"].shape == ():
            return np.bool_(found["told"])
        told = np.bool_(tell())
        if kept:
            kept.put(name, {"told": np.asarray(told)})
        return told

    def _parts(self, name: Any, chain: Chain, wraps: bool, source: Callable) -> np.ndarray:
        """The mosaic, worked through the chain."""
        used = in_use(chain)

        def make() -> np.ndarray:
            if not used:
                return mosaic(source().planes)
            *before, last = used
            planes = self._parts(name, tuple(before), wraps, source)
            if last.keeps_tones:
                return planes
            made = last.solved(tone_counts(planes)) if last.reads_tones else last
            return made.prepared(planes, Copy(1.0, _repeats(before, wraps)))

        return self._stages.get(("parts", *_key(name, used, wraps)), make)


def mosaic(planes: np.ndarray) -> np.ndarray:
    """(C, h, w): full-size windows on a grid over all of a picture, side by side; all of it if it
    is small.
    """
    _, height, width = planes.shape
    return np.ascontiguousarray(planes[:, _spread(height)][:, :, _spread(width)])


def _spread(size: int) -> np.ndarray:
    if size <= WINDOWS * WINDOW_PX:
        return np.arange(size)
    firsts = np.rint((np.arange(WINDOWS) + 0.5) * size / WINDOWS - WINDOW_PX / 2).astype(int)
    return (firsts[:, None] + np.arange(WINDOW_PX)).ravel()


def _repeats(chain: list, wraps: bool) -> bool:
    for operation in chain:
        wraps = operation.wraps_after(wraps)
    return wraps


def _key(name: str, chain: Chain, wraps: bool) -> tuple:
    return str(name), meaning(chain), wraps
