"""Marks, groups and steps, as a document has them."""

import secrets
from typing import Annotated, Any, Literal

from pydantic import (
    Field,
    SerializeAsAny,
    StringConstraints,
    model_validator,
)

from kilncore.artwork import ARTS, Art
from kilncore.landing import Landing
from kilncore.model.base import Id, Model, new_id
from kilncore.model.perspective import Perspective
from kilncore.model.registry import OneOf
from kilncore.model.setting import setting
from kilncore.model.units import Length
from kilncore.steps import STEPS

MAX_ITEMS, MAX_STEPS = 200, 1000  # of a piece as a whole, beyond which no edit takes it


COMBINED = (
    ("stacked", "One over the other"),
    ("united", "United"),
    ("cut", "Cut out of the lowest"),
    ("met", "Where all meet"),
)


def new_seed() -> int:
    """A seed, 31 bits."""
    return secrets.randbits(31)


class Step(Model):
    """One step of a treatment. kind : one of STEPS, whose settings `params` are. shared : a name
    that steps of several parts have in common, whose settings and seed are changed together; '' of
    one by itself.
    """

    id: Id = Field(default_factory=new_id)
    kind: str
    on: bool = True
    params: SerializeAsAny[Model]
    seed: int = Field(default_factory=new_seed, ge=0, lt=2**31)
    landing: Landing = Landing()
    shared: Annotated[str, StringConstraints(pattern=r"^[0-9a-z-]{0,40}$")] = ""

    @model_validator(mode="before")
    @classmethod
    def _params_of_kind(cls, data: Any):
        if not isinstance(data, dict):
            return data
        # a number that steps were once given, and that nothing was ever read from
        step = {name: value for name, value in data.items() if name != "rev"}
        return {**step, "params": STEPS.settings(data.get("kind"), data.get("params", {}))}

    @model_validator(mode="after")
    def _strength_allowed(self):
        if STEPS[self.kind].results(self.params) == ("cover",) and self.landing.strength > 1:
            raise ValueError("the strength of a step that takes away must be 0 to 1")
        return self


class Placement(Model):
    """x, y : the middle of the mark on the piece. scale : of its own size. rotation_deg :
    clockwise. perspective : in which it is set, in px of its own size.
    """

    x: Length = setting(..., "Across", "", "number_length")
    y: Length = setting(..., "Down", "", "number_length")
    scale: float = setting(
        1.0, "Scale", "", "number", unit="%", factor=100, soft=(1, 10000), ge=0.01, le=100
    )
    rotation_deg: float = setting(
        0.0, "Turn", "", "number", unit="°", soft=(-360, 360), ge=-360, le=360
    )
    perspective: Perspective | None = None


class FrameShift(Model):
    """Where a mark's frame lies from where its art would have it, in the art's own units; unit :
    how large its unit is.

    It moves when words change, so that the letters that stay keep their wear.
    """

    x: float = Field(0.0, ge=-1e5, le=1e5)
    y: float = Field(0.0, ge=-1e5, le=1e5)
    unit: float = Field(1.0, ge=1e-3, le=1e4)


Treatment = Annotated[tuple[Step, ...], Field(max_length=60)]


class _Item(Model):
    """What a mark and a group share. left_out : not fired, and still there for others to be held
    by. locked : not moved by hand on the piece.
    """

    id: Id = Field(default_factory=new_id)
    name: str = setting("", "Name", "", "line", max_length=80)
    left_out: bool = False
    locked: bool = False


class Mark(_Item):
    """Art with its place and its treatment. art : the settings of one of ARTS."""

    kind: Literal["mark"] = "mark"
    art: Annotated[Art, OneOf(ARTS)]
    placement: Placement
    frame: FrameShift = FrameShift()
    seed: int = Field(default_factory=new_seed, ge=0, lt=2**31)
    treatment: Treatment = ()
    landing: Landing = Landing()


class Group(_Item):
    """Marks and groups treated as one. Its members' places are counted from its middle, in its own
    scale and turn. combine : how they are put together; united, cut and met they have the colour or
    the fill of the lowest. frame : stays where it lay when marks are put in or taken out.
    """

    kind: Literal["group"] = "group"
    placement: Placement
    frame: FrameShift = FrameShift()
    seed: int = Field(default_factory=new_seed, ge=0, lt=2**31)
    combine: Literal["stacked", "united", "cut", "met"] = setting(
        "stacked", "Members", "", "choice", choices=COMBINED, reload=True
    )
    members: Annotated[tuple["Item", ...], Field(min_length=1, max_length=MAX_ITEMS)]
    treatment: Treatment = ()
    landing: Landing = Landing()


Item = Annotated[Mark | Group, Field(discriminator="kind")]
