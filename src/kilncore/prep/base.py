"""What an operation of preparation is, and how one is added.

A picture or a texture is prepared by a chain of operations on its own pixels, before it is placed;
the file itself stays as it came. An operation is one module: a frozen settings model with its
`kind` that says how large its result is (`size`) and makes it (`prepared`). Register it with
`@operation(...)` and name the module in `prep/__init__.py`. Its form is drawn from its settings.
"""

from dataclasses import dataclass
from typing import ClassVar

import numpy as np
from pydantic import Field

from kilncore.model.base import Id, Model, new_id
from kilncore.model.registry import Registry

PICTURE, TEXTURE = "picture", "texture"
STEEP = 0.4  # of all tones: what parts them within less leaves two
GROUPS = ("Tones", "Form", "Repair")


@dataclass(frozen=True)
class Copy:
    """The pixels that are worked on. unit : px of them to one of the picture; below 1 for a smaller
    copy, from which drafts are made. wraps : whether the picture repeats beyond its edges, so that
    what is done near an edge reads the other one; else it is mirrored there. whole : (width,
    height) px of the picture, where that is known of a copy.
    """

    unit: float = 1.0
    wraps: bool = False
    whole: tuple[int, int] | None = None


class Operation(Model):
    """The settings of an operation. Lengths are in px of the picture as it was brought in."""

    kind: str
    id: Id = Field(default_factory=new_id)
    on: bool = True

    reads_tones: ClassVar[bool] = False
    keeps_tones: ClassVar[bool] = False  # as often as they occur

    @property
    def parts_within(self) -> float:
        """Within how many of the tones, 0..1, it parts dark from light; 1 if it leaves what lies
        between.
        """
        return 1.0

    @property
    def two_tone(self) -> bool:
        """Whether hardly any tones are left between two, once it is done."""
        return self.parts_within <= STEEP

    def size(self, width: int, height: int) -> tuple[int, int]:
        """Of its result, from that of what it is given."""
        return width, height

    def prepared(self, planes: np.ndarray, copy: Copy) -> np.ndarray:
        """Its result. planes : (C, H, W), as in `pixels.stored`."""
        raise NotImplementedError

    def solved(self, counts: np.ndarray) -> "Operation":
        """With its aim turned into settings: of those that read tones. counts : how often each of
        the 65,536 tones occurs in the luminance of what it is given, at full size.
        """
        return self

    def wraps_after(self, wraps: bool) -> bool:
        """Whether its result repeats without a seam, if what it is given does or does not."""
        return wraps

    def told(self) -> str:
        """Its settings in a few words."""
        return ""

    def notes(self, width: int, height: int, counts: np.ndarray | None) -> tuple[str, ...]:
        """What there is to say of it on a picture of that size, with those counts of tones (of
        operations that read them): what was solved, and what is amiss.
        """
        return ()

    def carried(self, x: float, y: float) -> tuple[float, float]:
        """Where it takes what lies at (x, y) from the middle of what it is given, px."""
        return x, y

    def middle(self) -> tuple[float, float]:
        """Where the middle of its result lies in what it is given, in shares of its size."""
        return 0.5, 0.5


@dataclass(frozen=True)
class OperationKind:
    """title, sentence : of its form. serves : what can be prepared by it. group : under which it is
    offered.
    """

    name: str
    title: str
    sentence: str
    settings: type[Operation]
    serves: tuple[str, ...] = (TEXTURE,)
    group: str = "Form"


OPERATIONS = Registry("an operation")
operation = OPERATIONS.decorator(OperationKind, "settings")
