"""Readings of a texture as it is placed: how much it is enlarged, and what it does not cover."""

from kilncore.document import Piece
from kilncore.engine.covering import not_covered
from kilncore.errors import KilnError
from kilncore.fills.picture import PictureFill
from kilncore.model.base import Model
from kilncore.prep.chain import size_of
from kilncore.prep.texture_ref import TextureRef
from kilnmark.storage import assets

SOFT_FROM = 1.05  # times its own size
BARE_FROM = 0.005  # of the mark


def _enlarged(scale: float) -> tuple[str, ...]:
    return (f"Enlarged {scale:.1f} times: soft.",) if scale > SOFT_FROM else ()


def readings_of(piece: Piece, part: str, settings: Model) -> tuple[str, ...]:
    """In words; none where all is well, or there is no texture."""
    if isinstance(settings, PictureFill):
        return _enlarged(settings.scale_on(*piece.size_px))
    ref, placement = getattr(settings, "texture", None), getattr(settings, "placement", None)
    if not isinstance(ref, TextureRef) or placement is None:
        return ()
    told = _enlarged(placement.scale)
    if ref.edges != "none":
        return told
    try:
        size = size_of(ref.chain, *assets().source(ref.hash).size)
        bare = not_covered(piece, part, placement, size, assets())
    except KilnError:
        return told  # a lost file is told where it is drawn
    of = {"ground": "the page", "piece": "the page"}.get(part, "the mark")
    if bare > BARE_FROM:
        told += (f"{100 * bare:.0f} % of {of} not covered: enlarge it, or repeat it.",)
    return told
