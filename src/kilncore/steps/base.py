"""What a step is, and how one is added.

A step is one module: a frozen parameters model, and a function that takes those and a view of the picture and
returns one of, or a tuple of,

    Paint(picture, kept_to_art)   a picture to lay over, landed with a blend mode: (4, H, W) premultiplied, or opaque
                                  (3, H, W) colour or (1, H, W) grey; arrays of the box, or as many rows
    Cover(shown)                  an (H, W) array, a row or a mask, 0..1: 0 takes the picture away
    Remake(picture)               a new picture in its place: rows, or an array of as many planes as the input or four
    Move(dx, dy)                  (H, W) shifts in output px: out(x) = in(x + dx); the first of a tuple, if it is in one

Rows are the quick way: what is asked of the view as rows, and worked on by arithmetic, runs together with all that comes
before and after it, without ever being an array (see kilncore.rows). A step that looks at neighbours takes arrays.

The engine lands what is returned; a step never does. A pixel of the result must be a function of its place alone, never
of the box that is drawn. Register it with `@step(...)` and name the module in `steps/__init__.py`. Each parameter
carries its bounds, default, title and one line of help: the sheet is drawn from them.
"""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np
from pydantic import Field

from kilncore.errors import KilnError
from kilncore.landing import Landing
from kilncore.masks import Mask
from kilncore.model import Model
from kilncore.rows.picture import Picture
from kilncore.rows.tape import Row


@dataclass(frozen=True)
class Paint:
    picture: np.ndarray | Picture | Row | tuple[Row, ...]
    kept_to_art: bool = True


@dataclass(frozen=True)
class Cover:
    shown: np.ndarray | Row | Mask


@dataclass(frozen=True)
class Remake:
    picture: np.ndarray | Picture


@dataclass(frozen=True)
class Move:
    """The shift is times (dx - still), times (dy - still). bounds : between which their values lie, if that is known."""

    dx: np.ndarray
    dy: np.ndarray
    times: tuple[float, float] = (1.0, 1.0)
    still: float = 0.0
    bounds: tuple[float, float] | None = None


@dataclass(frozen=True)
class Whole:
    """What a step has to know of the whole item, worked out once for each content key, tile by tile.

    part : (params, view) -> what one tile adds. joined : the parts, in the order of the tiles -> the value.
    reads : params -> what of them it depends on.
    """

    part: Callable
    joined: Callable
    reads: Callable = lambda params: params


@dataclass(frozen=True)
class StepKind:
    """gives : paint, cover, remake or move, or a tuple of them, as `run` returns; it tells which landing fields count.

    reach : (params, frame) -> output px beyond a pixel that its result depends on, before landing.
    shift : (params, frame) -> the largest move in output px, for movers.
    spills : params -> whether it paints where there is no art.
    planewise : it treats every plane alike, so that art of one colour can stay alpha alone.
    seeded : it asks for seeds.
    whole : what it works out over the whole item, if anything.
    landing : how a new step of this kind lands, until it is changed.
    """

    kind: str
    title: str
    sentence: str
    gives: str | tuple[str, ...]
    params: type[Model]
    run: Callable
    summary: Callable
    rev: int = 1
    reads_beneath: bool = False
    offered_for: tuple[str, ...] = ("mark", "ground", "piece")
    reach: Callable = lambda params, frame: 0
    shift: Callable = lambda params, frame: 0
    spills: Callable = lambda params: False
    planewise: bool = False
    seeded: bool = False
    whole: Whole | None = None
    landing: Landing = Landing()

    @property
    def results(self) -> tuple[str, ...]:
        return (self.gives,) if isinstance(self.gives, str) else self.gives


STEP_KINDS: dict[str, StepKind] = {}
GIVES = {"paint", "cover", "remake", "move"}


def step(kind: str, *, params: type[Model], gives: str, **facts):
    """Register `run(params, view)` as a step. Wrong registrations fail here, not when used."""
    if kind in STEP_KINDS:
        raise ValueError(f"step kind {kind!r} is registered twice")
    if not {gives} <= GIVES and not (isinstance(gives, tuple) and gives and set(gives) <= GIVES):
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
