"""What a step is, and how one is added.

A step is one module: a frozen settings model, and a function that takes those and a view of the
picture and returns one of these, or a tuple of them:

    Paint(picture, kept_to_art)    a picture to lay over, landed with a blend mode: (4, H, W)
                                   premultiplied, (3, H, W) opaque colour or (1, H, W) opaque grey;
                                   arrays of the box, or as many registers
    Cover(shown)                   an (H, W) array, a register or a mask, 0..1: 0 takes the picture
                                   away
    Remake(picture)                a new picture in its place: registers, or an array of as many
                                   planes as the input has, or of four
    Move(dx, dy)                   (H, W) shifts in output px: out(x) = in(x + dx); the first of a
                                   tuple, if it is in one

Registers are the quick way: what is asked of the view as registers, and worked on by arithmetic,
runs together with all that comes before and after it, without ever being an array
(docs/programs.md). A step that looks at neighbours takes arrays.

What a step needs to know beyond its input are planes and whole-item values (`kilncore/planes/`): it
names them, and asks the view for them by name. The engine lands what is returned; a step never
does. A pixel of the result must be a function of its place alone, never of the box that is drawn.
Register it with `@step(...)` and name the module in `steps/__init__.py`. Each setting carries its
bounds, default, title and one line of help: the form is drawn from them.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np

from kilncore.compiled.program import Register
from kilncore.geometry.box import EVERYWHERE, Box
from kilncore.graph.node import Node
from kilncore.graph.sources import Sources
from kilncore.landing import Landing
from kilncore.model.base import Model
from kilncore.model.frame import Frame
from kilncore.model.registry import Registry
from kilncore.model.setting import setting
from kilncore.pixels.mask import Mask
from kilncore.pixels.picture import Picture

__all__ = ["STEPS", "Cover", "Move", "Paint", "Remake", "StepKind", "setting", "step"]


@dataclass(frozen=True)
class Paint:
    """A picture to lay over. kept_to_art : the art's alpha stays as it is. variance : in a draft,
    of the tones that one of its pixels stands for, where the view asks for it (`varies`). mode :
    its own blend mode, in the place of the landing's.
    """

    picture: np.ndarray | Picture | Register | tuple[Register, ...]
    kept_to_art: bool = True
    variance: Register | None = None
    mode: str | None = None


@dataclass(frozen=True)
class Cover:
    """How much of the picture stays, 0..1. toned : the landing's strength is in it already."""

    shown: np.ndarray | Register | Mask
    toned: bool = False


@dataclass(frozen=True)
class Remake:
    """A picture in the place of the input."""

    picture: np.ndarray | Picture


@dataclass(frozen=True)
class Move:
    """The shift is times (dx - still), times (dy - still). bounds : between which their values lie,
    if that is known. rim : px that the arrays have around the box, by which it is told where they
    are steep: there each pixel is the mean of nine. beyond : what is drawn in from beyond the art:
    'empty', its border 'repeat'ed, or 'mirror'ed; the art then keeps its own box.
    """

    dx: np.ndarray
    dy: np.ndarray
    times: tuple[float, float] = (1.0, 1.0)
    still: float = 0.0
    bounds: tuple[float, float] | None = None
    rim: int = 0
    beyond: str = "empty"


GROUPS = (
    *("Wear it", "Lay over", "In the surface", "Light and depth", "Print", "Colour"),
    *("By hand", "Finish"),
)  # of kinds, in the order of the work
ALPHA, COLOUR, PLACE = "alpha", "colour", "place"
CHANGES = {"paint": {COLOUR}, "cover": {ALPHA}, "remake": {ALPHA, COLOUR}, "move": {PLACE}}


@dataclass(frozen=True)
class StepKind:
    """gives : paint, cover, remake or move, or a tuple of them, as `run` returns, or what tells
    that of its settings; it tells which landing fields count.

    settings : its model. run : (settings, view) -> result. summary : settings -> a few words.
    changes : which of 'alpha', 'colour' and 'place' it changes; by default what it gives says so. A
    remake that changes only alpha leaves art of one colour alpha alone, and is given that one
    plane. reach : (settings, frame) -> output px beyond a pixel that its result depends on, before
    landing. The view refuses more. extent : (settings, frame, box of the input) -> the box beyond
    which its result has nothing; by default the input's, expanded by its reach, or everywhere if it
    spills. shift : (settings, frame) -> the largest move in output px, for movers. spills :
    settings -> whether it paints where there is no art. planewise : it treats every plane alike, so
    that art of one colour can stay alpha alone. seeded : it asks for seeds. reads_beneath : it asks
    for what lies beneath the item. planes : (settings, sources) -> the planes and whole-item values
    that it asks for, by name. on_ground : settings -> whether its frame is the page's, not the
    item's. own_mode : settings -> whether it blends by itself, so that a landing's mode does not
    count. states : settings -> {title of a group of settings: its state in a few words}. landing :
    how a new step of this kind lands, until it is changed. group : of `GROUPS`, under which it is
    offered.
    """

    kind: str
    title: str
    sentence: str
    gives: str | tuple[str, ...] | Callable[[Model], tuple[str, ...]]
    settings: type[Model]
    run: Callable
    summary: Callable[[Model], str]
    reads_beneath: bool = False
    offered_for: tuple[str, ...] = ("mark", "ground", "piece")
    changes: frozenset[str] | set[str] | None = None
    reach: Callable[[Model, Frame], int] = lambda settings, frame: 0
    extent: Callable[[Model, Frame, Box], Box] | None = None
    shift: Callable[[Model, Frame], int] = lambda settings, frame: 0
    spills: Callable[[Model], bool] = lambda settings: False
    planewise: bool = False
    seeded: bool = False
    planes: Callable[[Model, Sources], dict[str, Node]] = lambda settings, sources: {}
    on_ground: Callable[[Model], bool] = lambda settings: False
    own_mode: Callable[[Model], bool] = lambda settings: False
    states: Callable[[Model], dict[str, str]] = lambda settings: {}
    landing: Landing = Landing()
    group: str = "Finish"

    def results(self, settings: Model) -> tuple[str, ...]:
        """What it gives, as a tuple."""
        gives = self.gives(settings) if callable(self.gives) else self.gives
        return (gives,) if isinstance(gives, str) else gives

    def changed(self, settings: Model) -> frozenset[str]:
        """What it changes."""
        return frozenset(
            self.changes
            if self.changes is not None
            else set().union(*(CHANGES[result] for result in self.results(settings)))
        )

    def extent_of(self, settings: Model, frame: Frame, box: Box, reach: int) -> Box:
        """The box beyond which its result has nothing. box : of its input. reach : output px, as
        landed.
        """
        if self.extent is not None:
            return self.extent(settings, frame, box)
        if self.spills(settings):
            return EVERYWHERE
        if box == EVERYWHERE or box.empty or set(self.results(settings)) <= {"paint", "cover"}:
            return box
        return box.expanded(reach)


STEPS = Registry("a step")


def step(kind: str, **facts: Any) -> Callable:
    """Register `run(settings, view)` as a step. facts : as `StepKind`. Wrong registrations fail
    here, not when used.
    """
    gives = facts.get("gives")
    results = gives if isinstance(gives, tuple) else (gives,)
    if not callable(gives) and (not results or not set(results) <= set(CHANGES)):
        raise ValueError(f"step {kind!r} must give one of {sorted(CHANGES)}, not {gives!r}")
    if not set(facts.get("changes") or ()) <= {ALPHA, COLOUR, PLACE}:
        raise ValueError(
            f"step {kind!r} can change alpha, colour and place, not {facts['changes']!r}"
        )

    def register(run: Callable) -> Callable:
        STEPS.add(kind, StepKind(kind=kind, run=run, **facts))
        return run

    return register
