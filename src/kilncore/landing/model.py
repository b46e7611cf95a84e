"""How something lands: the model that steps and items share. The engine's `merging` and `weights`
carry it out.
"""

import itertools
from typing import Annotated, Any, Literal

from pydantic import AfterValidator, Field, model_validator

from kilncore.blending.modes import BLEND_MODES
from kilncore.graph.plane import Plane
from kilncore.graph.sources import Sources
from kilncore.landing.limits import LIMITS, Limit
from kilncore.model.base import Id, MarkId, Model, new_id
from kilncore.model.files import StrokesHash, values_in
from kilncore.model.registry import OneOf
from kilncore.model.setting import setting
from kilncore.model.units import Length
from kilncore.planes.fade import FadePlane
from kilncore.planes.strokes import StrokesPlane
from kilncore.strokes import MOST_FILES

INPUT, BENEATH = "variance of the input", "variance beneath"
MOST_RANGES = 6
ONCE_NAMED = {"range_own": "own", "range_input": "input", "range_beneath": "beneath"}
Share = Annotated[float, Field(ge=0, le=1)]
MODE_CHOICES = tuple((mode.name, mode.title) for mode in BLEND_MODES.values())


def _known_mode(name: str) -> str:
    if name not in BLEND_MODES:
        raise ValueError(f"a blend mode must be one of {', '.join(BLEND_MODES)}")
    return name


READS = (
    ("luminance", "Luminance"),
    ("red", "Red"),
    ("green", "Green"),
    ("blue", "Blue"),
    ("lightness", "Lightness"),
    ("saturation", "Saturation"),
)


class BlendRange(Model):
    """Tones through which something lands, a trapezoid over 0 (black) to 1 (white).

    of : whose tones: of what lands itself ('own'), of what it lands on ('input'), or of what lies
    beneath the mark. Nothing lands up to `hidden_below` and from `hidden_above` on; all of it from
    `shown_from` to `shown_to`. reads : what is read of colours: BT.709 luma, a channel, or the
    lightness or the saturation of HSL. outside : all but these tones. on : switched off, it does
    not count.
    """

    id: Id = Field(default_factory=new_id)
    of: Literal["own", "input", "beneath"] = "input"
    on: bool = True
    outside: bool = False
    reads: Literal["luminance", "red", "green", "blue", "lightness", "saturation"] = "luminance"
    hidden_below: Share = 0.0
    shown_from: Share = 0.0
    shown_to: Share = 1.0
    hidden_above: Share = 1.0

    @model_validator(mode="after")
    def _in_order(self):
        if not self.hidden_below <= self.shown_from <= self.shown_to <= self.hidden_above:
            raise ValueError("the four points of a blend range must not cross")
        return self

    @property
    def points(self) -> tuple[float, float, float, float]:
        """The four, in order."""
        return self.hidden_below, self.shown_from, self.shown_to, self.hidden_above


def _listed(data: dict) -> dict:
    """Ranges that were named by what they read, as a list; what is no range is left for the model
    to refuse."""
    once = {name: one for name in ONCE_NAMED if isinstance(one := data.get(name, 0), dict | None)}
    if not once:
        return data
    listed = [
        {**one, "of": ONCE_NAMED[name], "id": ONCE_NAMED[name]} for name, one in once.items() if one
    ]
    rest = {name: value for name, value in data.items() if name not in once}
    more = rest.get("ranges", ())
    return {**rest, "ranges": [*listed, *more]} if isinstance(more, list | tuple) else rest


def _with_ids(items: Any, named: str) -> list | None:
    """A list of objects, each with an id; None for anything else."""
    if not isinstance(items, list) or not all(isinstance(one, dict) for one in items):
        return None
    taken = {one["id"] for one in items if isinstance(one.get("id"), str)}
    free = (name for n in itertools.count() if (name := f"{named}-{n}") not in taken)
    return [one if "id" in one else {**one, "id": next(free)} for one in items]


class Fade(Model):
    """A ramp across the piece: `start` at the first point (or around it), `end` at the second and
    beyond; or sweeping once round the first, from the direction of the second. middle : where half
    of the way is reached, 0.5 for an even ramp. on : switched off, it does not count.
    """

    on: bool = True
    shape: Literal["straight", "round", "sweep"] = "straight"
    middle: float = Field(0.5, ge=0.02, le=0.98)
    x0: Length
    y0: Length
    x1: Length
    y1: Length
    start: Share = 1.0
    end: Share = 0.0

    def plane(self, sources: Sources) -> Plane:
        """The ramp."""
        length = sources.frame.page_length
        first, second = (length(self.x0), length(self.y0)), (length(self.x1), length(self.y1))
        ends = self.start, self.end
        return FadePlane(self.shape, first, second, *ends, self.middle)


class Landing(Model):
    """How a step's result meets the step's input, or an item what lies beneath it. together :
    whether all of its limits hold, or any of them is enough. touch : stroke files, in order.
    """

    mode: Annotated[str, AfterValidator(_known_mode)] = setting(
        "normal", "Blend mode", "", "choice", choices=MODE_CHOICES
    )
    strength: float = setting(
        1.0,
        "Strength",
        "Above 100 % it is laid again: 300 % is three times.",
        "slider",
        soft=(0, 300),
        unit="%",
        factor=100,
        step=1,
        ge=0,
        le=3,
        reload=True,
    )
    ranges: Annotated[tuple[BlendRange, ...], Field(max_length=MOST_RANGES)] = ()
    limits: Annotated[tuple[Annotated[Limit, OneOf(LIMITS)], ...], Field(max_length=8)] = ()
    together: Literal["all", "any"] = "all"
    fade: Fade | None = None
    touch: Annotated[tuple[StrokesHash, ...], Field(max_length=MOST_FILES)] = ()

    @model_validator(mode="before")
    @classmethod
    def _as_it_was(cls, data: Any):
        """Limits of documents that gave them no ids have the same ones whenever they are read; what
        was one range of each sort is a list."""
        if not isinstance(data, dict):
            return data
        data = _listed(data)
        listed = {
            name: _with_ids(data.get(name), name.rstrip("s")) for name in ("limits", "ranges")
        }
        return {**data, **{name: items for name, items in listed.items() if items is not None}}

    def reads_of(self, of: str) -> bool:
        """Whether a range reads the tones of 'own', 'input' or 'beneath'."""
        return any(one.of == of for one in self.ranges)

    @property
    def active(self) -> "Landing":
        """Without what is switched off."""
        off: dict[str, Any] = {} if self.fade is None or self.fade.on else {"fade": None}
        for name in ("ranges", "limits"):
            held = tuple(one for one in getattr(self, name) if one.on)
            if len(held) != len(getattr(self, name)):
                off[name] = held
        return self.model_copy(update=off) if off else self

    def marks(self) -> set[str]:
        """The ids of the marks that hold it in or out."""
        return set(values_in(self.limits, MarkId))

    def planes(self, sources: Sources) -> dict[str, Plane]:
        """The planes whose product weighs what lands, by names that say which are turned round:
        'out ...'. In a draft also the variances of the tones that blend ranges read."""
        named: dict[str, Any] = {
            f"{'out' if limit.outside else 'in'} {n}": limit.plane(sources)
            for n, limit in enumerate(self.limits)
        }
        if self.fade:
            named["fade"] = self.fade.plane(sources)
        if sources.frame.scale < 1:
            if self.reads_of("input"):
                named[INPUT] = sources.variance(sources.input)
            if self.reads_of("beneath"):
                named[BENEATH] = sources.variance(sources.beneath)
        if self.touch:
            named["touch"] = StrokesPlane(self.touch, sources.frame.own(), sources.frame.laid)
        return named

    @property
    def bare(self) -> "Landing":
        """Without what its planes stand for."""
        return (
            self
            if not (self.limits or self.fade or self.touch)
            else self.model_copy(update={"limits": (), "fade": None, "touch": ()})
        )
