"""What the aims of a piece's steps solve to, for whoever shows it."""

from dataclasses import dataclass

from kilncore.document import Piece, Step
from kilncore.engine.plans import plan_of
from kilncore.engine.wholes import value_of
from kilncore.graph.protocols import Assets
from kilncore.steps import STEPS
from kilncore.steps.wear import WearSettings, points_of

MISSED = 0.005


@dataclass(frozen=True)
class SolvedWear:
    """black, white : of the texture's own tones. taken : the share of the mark, 0..1. met : whether
    that is what was wanted. held : whether the points are those of before words or art were
    changed.
    """

    black: float
    white: float
    taken: float
    met: bool
    held: bool = False


def solved_wear(piece: Piece, step: Step, assets: Assets) -> SolvedWear | None:
    """What a Wear with an aim solves to, on full-size pixels; None for other steps, or one that
    cannot be solved as it is off or has no texture.
    """
    settings = step.params
    if not isinstance(settings, WearSettings) or not settings.aim or settings.texture is None:
        return None
    plan = plan_of(piece, 1.0)
    plan.finished()
    sources = plan.sources.get(step.id)
    if sources is None:
        return None
    free = settings.model_copy(update={"held": None})
    tones = value_of(STEPS.named(step.kind).planes(free, sources)["tones"], assets)
    points = points_of(settings, tones)
    black, white = (1 - points[1], 1 - points[0]) if settings.invert else points
    taken = tones.taken(black, white, settings.least_part)
    held = settings.held is not None
    return SolvedWear(*points, taken, abs(taken - settings.share) < MISSED, held)
