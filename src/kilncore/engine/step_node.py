"""The node of one step of a treatment."""

import math
from dataclasses import dataclass, field

from kilncore.box import EVERYWHERE, NOWHERE, Box
from kilncore.engine.keys import key_of
from kilncore.engine.landing import landed
from kilncore.engine.nodes import Node, landing_key
from kilncore.engine.view import StepView
from kilncore.engine.weights import outline_reach
from kilncore.frame import Frame
from kilncore.rows.form import OPAQUE, Form
from kilncore.steps import kind_named


@dataclass(frozen=True)
class StepNode(Node):
    """survey : what the step works out over the whole item, if its kind does."""

    step: object
    frame: Frame
    input: object
    beneath: object
    item_seed: int
    survey: object = None
    outlines: dict = field(default_factory=dict)
    linear: bool = False
    kind: object = field(init=False)
    key: str = field(init=False)
    tint: tuple | None = field(init=False)
    extent: Box = field(init=False)

    def __post_init__(self):
        kind, step = kind_named(self.step.kind), self.step
        object.__setattr__(self, "kind", kind)
        object.__setattr__(self, "tint", self._tint())
        reads = (self.beneath.key,) if self.reads_beneath else ()
        seeds = (self.item_seed, step.seed) if kind.seeded else ()
        survey = (self.survey.key,) if self.survey else ()
        object.__setattr__(self, "key", key_of("step", kind.kind, kind.rev, step.rev, step.params, self.frame, self.input.key,
                                               *reads, *seeds, *survey, *landing_key(self)))
        object.__setattr__(self, "extent", self._extent())

    @property
    def landing(self):
        return self.step.landing

    @property
    def reads_beneath(self) -> bool:
        return self.kind.reads_beneath or self.landing.gate_beneath is not None

    def _tint(self):
        """A step that takes away, moves or treats every plane alike leaves a picture of one colour as it was."""
        results = self.kind.results
        plain = self.kind.planewise and self.landing.mode == "normal" and not self.linear
        return self.input.tint if all(r in ("cover", "move") or r == "remake" and plain for r in results) else None

    @property
    def sources(self):
        around = self.kind.reach(self.step.params, self.frame)
        beneath = ((self.beneath, around),) if self.reads_beneath else ()
        outlines = ((outline, outline_reach(self.landing, self.frame)) for outline in self.outlines.values())
        return (self.input, self.reach), *beneath, *outlines

    @property
    def reach(self) -> int:
        """Output px around a pixel of the result that the input is read in."""
        if "move" not in self.kind.results:
            return self.kind.reach(self.step.params, self.frame)
        return math.ceil(self.kind.shift(self.step.params, self.frame) * self.landing.strength) + 2

    @property
    def drawn_from(self):
        return (self.input,)

    def form(self, assets, form: Form):
        """What its results make of the input's form, one after another."""
        for result in self.kind.results:
            form = self._after(result, form)
        return form

    def _after(self, result: str, form: Form) -> Form:
        if result == "cover":
            return Form(premultiplied=form.premultiplied, tint=form.tint, firm=form.firm or self.frame.scale < 1)
        if result == "remake" and not self.kind.planewise:
            return Form()
        if not form.alpha:
            return OPAQUE
        if result == "paint":
            return Form(premultiplied=self.kind.spills(self.step.params), firm=form.firm)
        return Form(premultiplied=self.tint is None, tint=self.tint)

    @property
    def onto(self):
        return None if self.reads_arrays else self.input

    @property
    def reads_arrays(self) -> bool:
        """Whether the step looks at neighbours, or at its input as an array, which takes a tape of its own."""
        return self.reach > 0 or self.kind.planewise

    def _extent(self) -> Box:
        if self.kind.spills(self.step.params):
            return EVERYWHERE
        if self.input.extent in (EVERYWHERE, NOWHERE) or set(self.kind.results) <= {"paint", "cover"}:
            return self.input.extent
        return self.input.extent.grown(self.reach)

    @property
    def alone(self) -> bool:
        """Whether the step is given only those planes of its input that are not the same everywhere."""
        alike = self.kind.planewise or self.kind.results == ("move",)
        return self.tint is not None or alike and self.input.tint is None

    @property
    def within(self):
        kept = set(self.kind.results) <= {"paint", "cover"} and not self.kind.spills(self.step.params)
        return self.input if kept and self.reach == 0 else None

    def write(self, reader, tape, box):
        view = StepView(reader, self, tape, box)
        result = self.kind.run(self.step.params, view)
        return view.picture() if result is None else landed(result, self.landing, view, self.linear)
