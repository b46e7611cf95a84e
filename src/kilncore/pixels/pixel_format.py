"""The format of a picture: which registers it has and what they hold.

It is a property of a node, known before anything of it is drawn, and the same in every box and
every tile. What is stored, loaded or handed on is held against it.
"""

from dataclasses import dataclass, replace
from typing import Any

import numpy as np

from kilncore.compiled.program import Program, Register
from kilncore.geometry.box import Box
from kilncore.pixels.picture import Picture, tinted


class WrongFormat(AssertionError):
    """A picture is not what its node said it would be: a fault of the program, never of a
    document.
    """


@dataclass(frozen=True)
class PixelFormat:
    """alpha : False if it covers every pixel whole. premultiplied : of its colour. tint : its one
    straight colour, if it has no other; then it is alpha alone. solidity : whether it says how
    solid it is (see `Picture`)."""

    alpha: bool = True
    premultiplied: bool = True
    tint: tuple[float, ...] | None = None
    solidity: bool = False

    @property
    def planes(self) -> int:
        """How many planes it is stored in."""
        return (1 if self.tint else 3 + self.alpha) + self.solidity

    def fitted(self, picture: Picture) -> Picture:
        """The picture in this format; WrongFormat if it shows what that has no room for."""
        lacks = (
            picture.alpha is not None and not self.alpha,
            picture.solidity is not None and not self.solidity,
        )
        if any(lacks) or self.tint is not None and picture.tint != self.tint:
            raise WrongFormat(f"{self} has no room for {picture}")
        if not self.alpha:
            return replace(picture, tint=None)
        if picture.alpha is None:
            picture = (
                picture.premultiply()
                if self.premultiplied
                else replace(picture, alpha=picture.program.constant(1))
            )
        picture = picture.premultiply() if self.premultiplied else picture.unpremultiply()
        solidity = (picture.solidity or picture.alpha) if self.solidity else None
        return replace(picture, tint=self.tint, solidity=solidity)

    def registers(self, picture: Picture) -> tuple[Register, ...]:
        """The registers that are stored of a picture of this format."""
        rows = (picture.covered,) if self.tint else picture.planes
        return (*rows, picture.solidity) if picture.solidity and self.solidity else rows

    def picture(self, program: Program, rows: tuple[Register, ...]) -> Picture:
        """The picture again, from those registers."""
        if len(rows) != self.planes:
            raise WrongFormat(f"{len(rows)} registers are not {self}")
        rows, solidity = (rows[:-1], rows[-1]) if self.solidity else (rows, None)
        if self.tint:
            return replace(tinted(program, rows[0], self.tint), solidity=solidity)
        alpha = rows[3] if len(rows) > 3 else None
        return Picture(program, tuple(rows[:3]), alpha, self.premultiplied, solidity=solidity)

    @property
    def dtype(self) -> np.dtype:
        """The type of a stored value."""
        return np.dtype(np.float32)

    def load(self, program: Program, tiles: list[tuple[np.ndarray, Box]]) -> Picture:
        """The picture of stored tiles that lie side by side."""
        return self.picture(program, program.load_tiles(tiles))


@dataclass(frozen=True)
class PlaneFormat:
    """Of a node of one plane. dtype, unit : how it is stored: float32 as it is, whole numbers times
    `unit`. outside : what lies beyond its extent."""

    dtype: np.dtype = np.dtype(np.float32)
    unit: float = 1.0
    outside: float = 0.0
    planes = 1
    alpha = True
    tint = None

    def fitted(self, plane: Register) -> Register:
        """The register itself; WrongFormat if it is none."""
        if not isinstance(plane, Register):
            raise WrongFormat(f"a plane is one register, not {plane}")
        return plane

    def registers(self, plane: Register) -> tuple[Register, ...]:
        """What is stored of it."""
        return (plane,)

    def load(self, program: Program, tiles: list[tuple[np.ndarray, Box]]) -> Register:
        """The plane of stored tiles that lie side by side."""
        if self.dtype == np.float32:
            return program.load_tiles(tiles, self.outside)[0]
        return program.load_plane_tiles(
            [(planes[0], box) for planes, box in tiles], self.unit, self.outside
        )


PLANE = PlaneFormat()
OPAQUE = PixelFormat(alpha=False, premultiplied=False)


class PixelFormats:
    """The formats of nodes, each worked out once from those of the nodes it is drawn from."""

    def __init__(self, assets: Any):
        self._assets, self._known = assets, {}

    def of(self, node: Any) -> PixelFormat:
        """The format of a node. However long a stack is, nothing goes deep."""
        waiting = [] if node.key in self._known else [node]
        while waiting:
            top = waiting[-1]
            missing = [source for source in top.drawn_from if source.key not in self._known]
            if missing:
                waiting += missing
                continue
            self._known[top.key] = top.pixel_format(
                self._assets, *(self._known[source.key] for source in top.drawn_from)
            )
            waiting.pop()
        return self._known[node.key]
