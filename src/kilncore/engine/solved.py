"""What the aims of a piece's steps solve to, for whoever shows it."""

from dataclasses import dataclass

from kilncore.document import Piece, Step
from kilncore.engine.plans import plan_of
from kilncore.engine.wholes import value_of
from kilncore.graph.protocols import Assets
from kilncore.steps import STEPS
from kilncore.steps.wear import points_of
from kilncore.steps.wear_settings import WearSettings

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
    planes = STEPS.named(step.kind).planes
    free = planes(settings.model_copy(update={"held": None}), sources)
    tones, asked = value_of(free["tones"], assets), planes(settings, sources)
    bridged = value_of(asked["bridges"], assets) if "bridges" in asked else None
    points = (bridged.points[0], bridged.points[2]) if bridged else points_of(settings, tones)
    black, white = (1 - points[1], 1 - points[0]) if settings.invert else points
    taken = tones.taken(black, white, settings.least_part) - (bridged.more if bridged else 0.0)
    met = abs(taken - settings.share) < MISSED
    return SolvedWear(*points, taken, met, settings.held is not None)
