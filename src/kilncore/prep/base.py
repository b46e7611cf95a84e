"""What an operation of preparation is, and how one is added.

A picture is prepared by a chain of operations on its own pixels, before it is placed; the file
itself stays as it came. An operation is one module: a frozen settings model with its `kind` that
says how large its result is (`size`) and makes it (`prepared`). Register it with `@operation(...)`
and name the module in `prep/__init__.py`. Its form is drawn from its settings.
"""

from dataclasses import dataclass

import numpy as np
from pydantic import Field

from kilncore.model.base import Id, Model, new_id
from kilncore.model.registry import Registry


class Operation(Model):
    """The settings of an operation. Lengths are in px of the picture as it was brought in."""

    kind: str
    id: Id = Field(default_factory=new_id)
    on: bool = True

    def size(self, width: int, height: int) -> tuple[int, int]:
        """Of its result, from that of what it is given."""
        return width, height

    def prepared(self, planes: np.ndarray, unit: float) -> np.ndarray:
        """Its result. planes : (C, H, W), as in `pixels.stored`. unit : px of this copy of the
        picture to one of the picture; below 1 for a smaller copy, from which drafts are made.
        """
        raise NotImplementedError

    def carried(self, x: float, y: float) -> tuple[float, float]:
        """Where it takes what lies at (x, y) from the middle of what it is given, px."""
        return x, y

    def middle(self) -> tuple[float, float]:
        """Where the middle of its result lies in what it is given, in shares of its size."""
        return 0.5, 0.5


@dataclass(frozen=True)
class OperationKind:
    """title, sentence : of its form."""

    name: str
    title: str
    sentence: str
    settings: type[Operation]


OPERATIONS = Registry("an operation")
operation = OPERATIONS.decorator(OperationKind, "settings")
