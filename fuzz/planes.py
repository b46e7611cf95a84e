"""Steps for the fuzzer alone: what no step of the product uses yet, whole planes above all."""

from kilncore.geometry.box import Box
from kilncore.model.base import Model
from kilncore.model.units import Length, px
from kilncore.planes.distance import MOST_PX, distance_to_edge
from kilncore.planes.labels import Labels
from kilncore.steps.base import Cover, setting, step

WHOLE = Box(-300, -300, 900, 900)  # output px: each picture works it out anew


class Rim(Model):
    """How far in from the edge, and whether every other part goes."""

    width: Length = setting(px(20), "Width", "How far in.", "length", soft=(1, 300))
    parts: bool = setting(False, "Parts", "Every other part goes.", "toggle")


def _far(settings: Rim, frame) -> float:
    return min(max(frame.length(settings.width), 1.0), MOST_PX)


def _planes(settings: Rim, sources) -> dict:
    whole = sources.whole.intersection(WHOLE)
    if settings.parts:
        return {"labels": Labels(sources.input, whole)}
    return {"edge": distance_to_edge(sources.input, whole, _far(settings, sources.frame))}


def register() -> None:
    """Add the step, in the fuzzer's own process."""
    known = {"title": "Rim", "sentence": "Wears from the edge.", "summary": str}

    @step("rim", gives="cover", settings=Rim, planes=_planes, offered_for=("mark",), **known)
    def rim(settings: Rim, view):
        if not settings.parts:
            return Cover(view.plane("edge").clamped(1 / _far(settings, view.frame)))
        return Cover(view.program.op("repeat", view.plane("labels"), numbers=(2.0, 0.0)).clamped())
