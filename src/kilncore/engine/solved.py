"""What the aims of a piece's steps solve to, for whoever shows it."""

from dataclasses import dataclass

from kilncore.document import Piece, Step
from kilncore.engine.plans import plan_of
from kilncore.engine.wholes import value_of
from kilncore.graph.protocols import Assets
from kilncore.model.units import format_number
from kilncore.prep.cut_tones import FARTHEST_PX
from kilncore.steps import STEPS
from kilncore.wear.asked import points_of
from kilncore.wear.settings import WearSettings

MISSED = 0.005
LEAST_GROWN_PX = 0.05


@dataclass(frozen=True)
class SolvedWear:
    """black, white : of the tones that are cut. taken : the share of the mark, 0..1. met : whether
    that is what was wanted. held : whether the points are those of before words or art were
    changed. grown_px : of a texture that has two tones only, how far its specks were grown, px of
    it; below 0, shrunk. deeper : whether the tones are those from before it was made two-tone.
    """

    black: float
    white: float
    taken: float
    met: bool
    held: bool = False
    grown_px: float | None = None
    deeper: bool = False

    @property
    def how(self) -> str:
        """In a few words, how it came about; nothing where tones were cut as they are."""
        if self.grown_px is None:
            return "cut from its tones before black and white" if self.deeper else ""
        if abs(self.grown_px) < LEAST_GROWN_PX:
            return "its specks as they are"
        way = "grown" if self.grown_px > 0 else "shrunk"
        return f"specks {way} by {format_number(abs(self.grown_px))} px"


def solved_wear(piece: Piece, step: Step, assets: Assets) -> SolvedWear | None:
    """What a wear with an aim solves to, on full-size pixels.

    Parameters
    ----------
    piece : Piece
        What it is part of.
    step : Step
        One of its steps.
    assets : Assets
        Where files are.

    Returns
    -------
    SolvedWear or None
        None for other steps, or one that cannot be solved as it is off or has no texture.

    References
    ----------
    docs/wear.md.
    """
    settings = step.params
    if not isinstance(settings, WearSettings) or not settings.aim or settings.texture is None:
        return None
    sources = plan_of(piece, 1.0).finished().sources.get(step.id)
    if sources is None:
        return None
    planes = STEPS.named(step.kind).planes
    free = planes(settings.model_copy(update={"held": None}), sources)
    tones, named = value_of(free["tones"], assets), planes(settings, sources)
    bridged = value_of(named["bridges"], assets) if "bridges" in named else None
    points: tuple[float, float] = (
        (bridged.points[0], bridged.points[2]) if bridged else points_of(settings, tones)
    )
    black, white = (1 - points[1], 1 - points[0]) if settings.invert else points
    taken = tones.taken(black, white, settings.least_part) - (bridged.more if bridged else 0.0)
    met = abs(taken - settings.share) < MISSED
    mask, grown = settings.mask_texture, None
    if assets.grows_specks(mask):
        grown = round(((black + white) / 2 - 0.5) * 2 * FARTHEST_PX, 1)
    deeper = any(one.on and one.two_tone for one in settings.texture.chain)
    return SolvedWear(points[0], points[1], taken, met, settings.held is not None, grown, deeper)
