"""How much the tones vary that one pixel of a smaller picture stands for.

A draft's pixel is the mean of many; a blend range read at that mean is not the mean of the range.
So where a range reads tones in a draft, their variance comes along: of textures from the mean of
their squares, of grain from its strength, through steps and landings by how strongly each passes it
on. docs/decisions/0016 says what is left out.
"""

from dataclasses import dataclass, field
from typing import Any

from kilncore.blending.compositing import blended
from kilncore.compiled.program import Program, Register
from kilncore.engine.nodes import Landed, where_there
from kilncore.engine.step_node import StepNode
from kilncore.engine.view import ItemView, StepView
from kilncore.engine.weights import weight_of
from kilncore.geometry.box import EVERYWHERE, Box
from kilncore.graph.keys import key_of
from kilncore.graph.node import Node
from kilncore.graph.plane import Plane
from kilncore.graph.protocols import NodeReader
from kilncore.pixels.picture import Picture, nothing
from kilncore.steps.base import Paint, Remake


def tone_variance(node: Node) -> "ToneVariance":
    """The plane of a node's variances. However long a stack is, nothing goes deep: it is built from
    the bottom up.
    """
    below = [node]
    while (under := _under(below[-1])) is not None:
        below.append(under)
    built: Any = None
    for one in reversed(below):
        built = ToneVariance(one, built)
    return built


def _under(node: Node) -> Node | None:
    """The node whose tones, and variances, it passes on."""
    return (
        node.canvas
        if isinstance(node, Landed)
        else node.input
        if isinstance(node, StepNode)
        else None
    )


@dataclass(frozen=True)
class ToneVariance(Plane):
    """of : a picture. under : the variances of the picture that it is made of."""

    of: Node
    under: "ToneVariance | None"
    key: str = field(init=False)
    extent: Box = EVERYWHERE

    def __post_init__(self):
        object.__setattr__(self, "key", key_of("tone variance", self.of.key))

    @property
    def settings(self):
        """Those of the picture."""
        return self.of.settings

    @property
    def sources(self):
        """The picture, what it reads, and the variances of what it is made of."""
        under = ((self.under, 0),) if self.under else ()
        return (self.of, 0), *self.of.sources, *under

    @property
    def wholes(self):
        """Those of the picture."""
        return self.of.wholes

    @property
    def onto(self):
        """The variances that these follow from."""
        return self.under

    def write(self, reader: NodeReader, program: Program, box: Box) -> Register:
        """0 .. 0.25."""
        below: Any = reader.plane(self.under, program) if self.under else None
        if isinstance(self.of, StepNode):
            return _of_step(self.of, reader, program, box, below)
        if isinstance(self.of, Landed):
            return _of_landed(self.of, reader, program, box, below)
        own = getattr(self.of, "tone_variance", None)
        return program.constant(0) if own is None else own(reader, program, box)


def _of_step(node: StepNode, reader: Any, program: Program, box: Box, below: Register) -> Register:
    view = StepView(reader, node, program, box, varies=True)
    result = node.kind.run(node.step.params, view)
    for one in result if isinstance(result, tuple) else (result,):
        if isinstance(one, Remake):
            # what is made anew from neighbours hardly varies within a pixel
            below = program.constant(0)
        elif isinstance(one, Paint):
            source = view.painted(one.picture)
            weight = weight_of(node.landing, view, source)
            below = _painted(
                view.picture() or nothing(program),
                source,
                below,
                one.variance,
                node.landing,
                weight,
            )
    return below


def _of_landed(node: Landed, reader: Any, program: Program, box: Box, below: Register) -> Register:
    if node.item.extent.intersection(box).empty or not node.landing.strength:
        return below
    out = program.mutable("copy", below)
    with program.block():
        item = where_there(node.item, reader, program)
        if item is not None:
            canvas = reader.picture(node.canvas, program) or nothing(program)
            own = reader.plane(tone_variance(node.item), program)
            view = ItemView(reader, node, program, box, canvas)
            weight = weight_of(node.landing, view, item)
            varied = _painted(canvas, item, below, own, node.landing, weight)
            program.assign("copy", out, varied)
    return out


def _painted(
    picture: Picture,
    source: Picture,
    below: Register,
    own: Register | None,
    landing: Any,
    weight: Any,
) -> Register:
    """Variances add up as the squares of how strongly each is passed on; how strongly, by laying
    tones a spread apart.
    """
    program = picture.program
    weight = weight * min(landing.strength, 1.0)
    weight = weight if source.alpha is None else source.alpha * weight
    b, s = picture.tones(), source.tones()

    def passed(lower: Register, upper: Register) -> Register:
        return (upper - lower) * (upper - lower) * 0.25

    def laid(b: Register, s: Register) -> Register:
        mixed = blended(landing.mode, (b, b, b), (s, s, s))[0]
        return b + weight * (mixed - b)

    spread = program.op("root", below)
    total = passed(laid((b - spread).clamped(), s), laid((b + spread).clamped(), s))
    if own is not None:
        spread = program.op("root", own)
        total = total + passed(laid(b, (s - spread).clamped()), laid(b, (s + spread).clamped()))
    weight = weight if isinstance(weight, Register) else program.constant(weight)
    return program.op("select", weight, program.constant(0), below, total)  # to the bit
