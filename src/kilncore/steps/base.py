"""What a step is, and how one is added.

A step is one module: a frozen parameters model, and a function that takes those and a view of the picture and
returns one of

    Paint(picture, kept_to_art)   a picture to lay over, landed with a blend mode
    Cover(shown)                  (h, w), 0..1: 0 takes the picture away
    Remake(picture)               a new picture in its place
    Move(dx, dy)                  a shift in output px: out(x) = in(x + dx)

The engine lands what is returned; a step never does. Register it with `@step(...)` and name the module in
`steps/__init__.py`. Each parameter carries its bounds, default, title and one line of help: the sheet is drawn from them.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from pydantic import Field

from kilncore.errors import KilnError
from kilncore.model import Model
from kilncore.parts import Landing


@dataclass(frozen=True)
class Paint:
    picture: np.ndarray
    kept_to_art: bool = True


@dataclass(frozen=True)
class Cover:
    shown: np.ndarray


@dataclass(frozen=True)
class Remake:
    picture: np.ndarray


@dataclass(frozen=True)
class Move:
    dx: np.ndarray
    dy: np.ndarray


@dataclass(frozen=True)
class StepKind:
    """gives : paint, cover, remake or move, as `run` returns; it tells which landing fields mean something.

    reach : (params, frame) -> output px beyond a pixel that its result depends on, before landing.
    shift : (params, frame) -> the largest move in output px, for movers.
    landing : how a new step of this kind lands, until it is changed.
    """

    kind: str
    title: str
    sentence: str
    gives: str
    params: type[Model]
    run: Callable
    summary: Callable
    rev: int = 1
    reads_beneath: bool = False
    offered_for: tuple[str, ...] = ("mark", "ground", "piece")
    reach: Callable = lambda params, frame: 0
    shift: Callable = lambda params, frame: 0
    landing: Landing = Landing()


STEP_KINDS: dict[str, StepKind] = {}
GIVES = {"paint", "cover", "remake", "move"}


def step(kind: str, *, params: type[Model], gives: str, **facts):
    """Register `run(params, view)` as a step. Wrong registrations fail here, not when used."""
    if kind in STEP_KINDS:
        raise ValueError(f"step kind {kind!r} is registered twice")
    if gives not in GIVES:
        raise ValueError(f"step {kind!r} must give one of {sorted(GIVES)}, not {gives!r}")

    def register(run):
        STEP_KINDS[kind] = StepKind(kind=kind, params=params, gives=gives, run=run, **facts)
        return run

    return register


def kind_named(kind: str) -> StepKind:
    if kind not in STEP_KINDS:
        raise KilnError(f"A step must be one of: {', '.join(STEP_KINDS)}.", kind)
    return STEP_KINDS[kind]


def setting(default, title: str, help: str, control: str, *, soft=None, unit: str = "", fold: bool = False, **bounds):
    """A parameter as the sheet shows it.

    control : the name of the field template. soft : (least, most) of the slider; `bounds` are what is allowed.
    fold : shown only when the sheet's "more" is opened.
    """
    extra = {"control": control, "unit": unit, "soft": soft, "fold": fold}
    return Field(default, title=title, description=help, json_schema_extra=extra, **bounds)
