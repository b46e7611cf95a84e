"""Readings of a texture as it is placed: how much it is enlarged, what it does not cover, how often
it is seen; each with the texture made endless as the remedy, where that suits it.
"""

import json
import math

from kilncore.document import Piece
from kilncore.engine.covering import not_covered
from kilncore.engine.plans import plan_of
from kilncore.errors import KilnError
from kilncore.fills.picture import PictureFill
from kilncore.model.base import Model
from kilncore.model.texture import TexturePlacement
from kilncore.prep.chain import size_of
from kilncore.prep.texture_ref import TextureRef
from kilnmark.bench.sheet.remedies import Remedy, Warned
from kilnmark.shelf.models import facts_by_hash
from kilnmark.storage import assets

SOFT_FROM = 1.05  # times its own size
BARE_FROM = 0.005  # of the mark
OFTEN_FROM = 1.6  # times across
ROOM, MOST_TIMES = 1.1, 20.0


def placed_of(piece: Piece, part: str, settings: Model, path: list) -> tuple[Warned, ...]:
    """Of a step's or a fill's texture, or picture; none where all is well. path : of the
    settings.
    """
    if isinstance(settings, PictureFill):
        scale = settings.scale_on(*piece.size_px)
        return (Warned(_enlarged(scale), ()),) if scale > SOFT_FROM else ()
    ref, placement = getattr(settings, "texture", None), getattr(settings, "placement", None)
    if not isinstance(ref, TextureRef) or placement is None:
        return ()
    try:
        size = size_of(ref.chain, *assets().source(ref.hash).size)
        placed = _Placed(piece, part, ref, placement, size)
        told = placed.told
    except KilnError:
        return ()  # a lost file is told where it is drawn
    return (Warned(" ".join(told), placed.remedies(path)),) if told else ()


def _enlarged(scale: float) -> str:
    return f"Enlarged {scale:.1f} times: soft."


class _Placed:
    """A texture of size (width, height) px, as placed on a part."""

    def __init__(
        self,
        piece: Piece,
        part: str,
        ref: TextureRef,
        placement: TexturePlacement,
        size: tuple[int, int],
    ):
        self.piece, self.part, self.ref, self.placement = piece, part, ref, placement
        self.size = size
        plan = plan_of(piece)
        whole = part in ("ground", "piece")
        self.box = plan.page if whole else plan.extent(part)
        self.of = "the page" if whole else "the mark"

    @property
    def seen(self) -> float:
        """How many times it lies across what it is laid on, one way or the other."""
        width, height = (side * self.placement.scale for side in self.size)
        return max(self.box.width / width, self.box.height / height)

    @property
    def told(self) -> tuple[str, ...]:
        found = []
        if self.ref.edges == "none":
            bare = not_covered(self.piece, self.part, self.placement, self.size, assets())
            if bare > BARE_FROM:
                found.append(f"{100 * bare:.0f} % of {self.of} not covered.")
        elif self.seen > OFTEN_FROM:
            found.append(f"Seen {self.seen:.1f} times across {self.of}.")
        if self.placement.scale > SOFT_FROM:
            found.append(_enlarged(self.placement.scale))
        return tuple(found)

    def remedies(self, path: list) -> tuple[Remedy, ...]:
        """Made endless at its own size, as large as is needed."""
        facts = facts_by_hash(str(self.ref.hash))
        if facts is None or not facts.suits_endless or any_endless(self.ref):
            return ()
        scale = min(self.placement.scale, 1.0)
        needed = max(self.box.width / self.size[0], self.box.height / self.size[1]) / scale
        times = min(max(2.0, math.ceil(2 * needed * ROOM) / 2), MOST_TIMES)
        way = [*path, "texture"]
        told = {"times": times, "piece": facts.piece_px}
        edits = [{"op": "set_edges", "path": way, "edges": "endless", **told}]
        if self.placement.scale > 1:
            edits.append({"op": "set", "path": [*path, "placement", "scale"], "value": 1.0})
        return (Remedy("Make it endless", json.dumps(edits)),)


def any_endless(ref: TextureRef) -> bool:
    """Whether it is made endless already."""
    return any(one.kind == "endless" and one.on for one in ref.chain)
