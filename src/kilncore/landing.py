"""How something lands: the model that steps and items share. The engine's `landing` and `weights` carry it out."""

from typing import Annotated, Literal

from pydantic import AfterValidator, Field, model_validator

from kilncore.colour import HexColour
from kilncore.model import Hash, Id, Model
from kilncore.modes import BLEND_MODES
from kilncore.strokes import MOST_FILES
from kilncore.units import Length, px

Share = Annotated[float, Field(ge=0, le=1)]


def _known_mode(name: str) -> str:
    if name not in BLEND_MODES:
        raise ValueError(f"a blend mode must be one of {', '.join(BLEND_MODES)}")
    return name


class Gate(Model):
    """A blend range: tones through which something lands, a trapezoid over 0 (black) to 1 (white).

    Nothing lands up to `hidden_below` and from `hidden_above` on; all of it from `shown_from` to `shown_to`.
    """

    hidden_below: Share = 0.0
    shown_from: Share = 0.0
    shown_to: Share = 1.0
    hidden_above: Share = 1.0

    @model_validator(mode="after")
    def _in_order(self):
        if not self.hidden_below <= self.shown_from <= self.shown_to <= self.hidden_above:
            raise ValueError("the four points of a blend range must not cross")
        return self


class MarkLimit(Model):
    """Inside, or outside, the bare art of a mark. feather : the width of the soft edge."""

    kind: Literal["mark"] = "mark"
    mark: Id
    outside: bool = False
    feather: Length = px(0)


class ColourLimit(Model):
    """Where the input has a colour, or has not.

    tolerance : how far off a colour may be, the mean of three channels, 0..1. softness : over how much more it fades.
    """

    kind: Literal["colour"] = "colour"
    colour: HexColour
    tolerance: Share = 0.1
    softness: Share = 0.05
    outside: bool = False


class RegionLimit(Model):
    """Inside, or outside, a rectangle or ellipse on the piece. x, y : its middle."""

    kind: Literal["region"] = "region"
    shape: Literal["rectangle", "ellipse"] = "rectangle"
    x: Length
    y: Length
    width: Length
    height: Length
    rotation_deg: float = Field(0.0, ge=-360, le=360)
    outside: bool = False
    feather: Length = px(0)


Limit = Annotated[MarkLimit | ColourLimit | RegionLimit, Field(discriminator="kind")]


class Fade(Model):
    """A ramp across the piece: `start` at the first point (or around it), `end` at the second and beyond."""

    shape: Literal["straight", "round"] = "straight"
    x0: Length
    y0: Length
    x1: Length
    y1: Length
    start: Share = 1.0
    end: Share = 0.0


class Landing(Model):
    """How a step's result meets the step's input, or an item what lies beneath it."""

    mode: Annotated[str, AfterValidator(_known_mode)] = "normal"
    strength: float = Field(1.0, ge=0, le=3)
    gate_own: Gate | None = None
    gate_input: Gate | None = None
    gate_beneath: Gate | None = None
    limits: Annotated[tuple[Limit, ...], Field(max_length=8)] = ()
    fade: Fade | None = None
    touch: Annotated[tuple[Hash, ...], Field(max_length=MOST_FILES)] = ()  # stroke files, in order

    def marks(self) -> set[str]:
        """The ids of the marks that hold it in or out."""
        return {limit.mark for limit in self.limits if limit.kind == "mark"}
