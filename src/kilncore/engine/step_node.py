"""The nodes of steps: of one step of a treatment, and of what its moves carry along."""

import math
from dataclasses import dataclass, field, replace
from functools import cached_property
from typing import Any

from kilncore.compiled.program import Program
from kilncore.engine.merging import landed, moved
from kilncore.engine.nodes import landing_key, local_planes, plane_names, whole_values
from kilncore.engine.view import CarriedView, StepView
from kilncore.engine.weights import LANDING_PLANES
from kilncore.geometry.box import Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets, NodeReader
from kilncore.model.frame import Frame
from kilncore.pixels.picture import Picture
from kilncore.pixels.pixel_format import OPAQUE, PixelFormat
from kilncore.steps import STEPS, StepKind
from kilncore.steps.base import COLOUR, PLACE


@dataclass(frozen=True)
class StepNode(Node):
    """step : of the document. planes : those of its kind and of its landing, by name."""

    step: Any  # a document's step
    frame: Frame
    input: Node
    beneath: Node
    item_seed: int
    planes: dict[str, Node] = field(default_factory=dict)
    linear: bool = False
    kind: StepKind = field(init=False)
    key: str = field(init=False)
    tint: tuple | None = field(init=False)
    reach: int = field(init=False)
    extent: Box = field(init=False)

    def __post_init__(self):
        kind, step = STEPS.named(self.step.kind), self.step
        object.__setattr__(self, "kind", kind)
        object.__setattr__(self, "tint", self._tint())
        object.__setattr__(self, "reach", self._reach())
        reads = (self.beneath.key,) if self.reads_beneath else ()
        object.__setattr__(
            self,
            "key",
            key_of(
                "step",
                kind.kind,
                step.params,
                self.frame,
                self.input.key,
                *reads,
                *self._seeds,
                *landing_key(self),
            ),
        )
        object.__setattr__(self, "extent", extent_of(step, self.input, self.frame))

    @cached_property
    def landing(self):
        """How its result meets its input."""
        return self.step.landing.active

    @cached_property
    def results(self) -> tuple[str, ...]:
        """What it gives."""
        return self.kind.results(self.step.params)

    @cached_property
    def changed(self) -> frozenset[str]:
        """What it changes."""
        return self.kind.changed(self.step.params)

    @cached_property
    def reads_beneath(self) -> bool:
        """Whether what lies beneath the item is read."""
        return self.kind.reads_beneath or self.landing.reads_of("beneath")

    @cached_property
    def around(self) -> int:
        """Output px around a pixel that its kind asks for, of the input (unless it moves), beneath,
        and of planes.
        """
        return self.kind.reach(self.step.params, self.frame)

    def _reach(self) -> int:
        """Output px around a pixel of the result that the input is read in."""
        return reach_of(self.step, self.frame)

    def _tint(self):
        """A step that changes no colour leaves a picture of one colour as it was, and so does one
        that treats all planes alike.
        """
        plain = self.landing.mode == "normal" and not self.linear or "remake" not in self.results
        keeps = COLOUR not in self.changed or self.kind.planewise
        return self.input.tint if keeps and plain else None

    @property
    def _seeds(self) -> tuple[int, ...]:
        return (self.item_seed, self.step.seed) if self.kind.seeded else ()

    @property
    def settings(self):
        """Of the step, and how it lands."""
        step = self.kind.kind, self.step.params, self.frame, self._seeds, self.reads_beneath
        return *step, self.landing.bare, plane_names(self), self.linear

    @property
    def sources(self):
        """Its input, what lies beneath, and its planes, each as far around as it is read."""
        beneath = ((self.beneath, self.around),) if self.reads_beneath else ()
        return (
            (self.input, self.reach),
            *beneath,
            *(
                (plane, 0 if name.split()[0] in LANDING_PLANES else self.around)
                for name, plane in local_planes(self).items()
            ),
        )

    @property
    def wholes(self):
        """Of its planes."""
        return whole_values(self)

    @property
    def drawn_from(self):
        """Its input."""
        return (self.input,)

    def pixel_format(self, assets: Assets | None, form: PixelFormat) -> PixelFormat:
        """What its results make of the input's format, one after another."""
        for result in self.results:
            form = self._after(result, form)
        return form

    def _after(self, result: str, form: PixelFormat) -> PixelFormat:
        if result == "cover":
            return PixelFormat(
                premultiplied=form.premultiplied,
                tint=form.tint,
                solidity=form.solidity or self.frame.scale < 1,
            )
        if result == "remake" and not self.kind.planewise and self.tint is None:
            return PixelFormat()
        if not form.alpha:
            return OPAQUE
        if result == "paint":
            return PixelFormat(
                premultiplied=self.kind.spills(self.step.params), solidity=form.solidity
            )
        return PixelFormat(premultiplied=self.tint is None, tint=self.tint)

    @property
    def onto(self):
        """Its input, if it works pixel by pixel."""
        return None if self.reads_arrays else self.input

    @property
    def reads_arrays(self) -> bool:
        """Whether the step looks at neighbours, or at its input as an array, which takes a program
        of its own.
        """
        return (
            self.reach > 0
            or self.kind.planewise
            or "remake" in self.results
            and self.tint is not None
        )

    @property
    def alone(self) -> bool:
        """Whether the step is given only those planes of its input that are not the same
        everywhere.
        """
        alike = self.kind.planewise or self.changed == {PLACE}
        return self.tint is not None or alike and self.input.tint is None

    @property
    def within(self):
        """Its input, if it has nothing beyond it."""
        kept = set(self.results) <= {"paint", "cover"} and not self.kind.spills(self.step.params)
        return self.input if kept and self.reach == 0 else None

    @property
    def moves(self) -> bool:
        """Whether it carries things along."""
        return PLACE in self.changed and self.results[0] == "move"

    def write(self, reader: NodeReader, program: Program, box: Box) -> Picture | None:
        """Its result, landed."""
        view = StepView(reader, self, program, box)
        result = self.kind.run(self.step.params, view)
        if result is not None:
            return landed(result, self.landing, view, self.linear)
        return unchanged(view.picture(), reader.pixel_formats.of(self))


@dataclass(frozen=True)
class Carried(Node):
    """A picture moved as a step moves its input. mover : that step. carried : the picture."""

    mover: StepNode
    carried: Node
    key: str = field(init=False)

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("carried", self.mover.key, self.carried.key))

    @property
    def tint(self):
        """That of the picture."""
        return self.carried.tint

    @property
    def extent(self) -> Box:
        """That of the picture, and as far around as it may be moved."""
        return self.mover.kind.extent_of(
            self.mover.step.params, self.mover.frame, self.carried.extent, self.mover.reach
        )

    @property
    def settings(self):
        """Those of the step."""
        return self.mover.settings

    @property
    def sources(self):
        """The picture, and what the step reads."""
        return (self.carried, self.mover.reach), *self.mover.sources

    @property
    def wholes(self):
        """Of the step."""
        return self.mover.wholes

    @property
    def drawn_from(self):
        """The picture."""
        return (self.carried,)

    def pixel_format(self, assets: Assets | None, form: PixelFormat) -> PixelFormat:
        """That of a moved picture."""
        return (
            OPAQUE
            if not form.alpha
            else PixelFormat(premultiplied=self.tint is None, tint=self.tint)
        )

    def write(self, reader: NodeReader, program: Program, box: Box) -> Picture | None:
        """The picture, moved."""
        view = CarriedView(reader, self.mover, program, box, self.carried)
        result = self.mover.kind.run(self.mover.step.params, view)
        move = result[0] if isinstance(result, tuple) else result
        if move is not None:
            return moved(move, self.mover.landing, view)
        return unchanged(view.picture(), reader.pixel_formats.of(self))


def reach_of(step: Any, frame: Frame) -> int:
    """Output px around a pixel of a step's result that its input is read in."""
    kind = STEPS.named(step.kind)
    if "move" not in kind.results(step.params):
        return kind.reach(step.params, frame)
    return math.ceil(kind.shift(step.params, frame) * step.landing.active.strength) + 2


def extent_of(step: Any, source: Node, frame: Frame) -> Box:
    """The output px beyond which a step has nothing. source : what it treats."""
    kind = STEPS.named(step.kind)
    return kind.extent_of(step.params, frame, source.extent, reach_of(step, frame))


def unchanged(picture: Picture | None, form: PixelFormat) -> Picture | None:
    """What a step leaves as it is: as solid as it is opaque, where the step's results have no
    solidity of their own.
    """
    return picture if picture is None or form.solidity else replace(picture, solidity=None)
