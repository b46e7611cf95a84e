"""The whole piece, with or without its ground."""

from kilncore.document import Piece
from kilncore.engine.plan import Plan
from kilncore.model.base import Model
from kilncore.output.contents.base import Picture, content


class PieceSettings(Model):
    """with_ground : or transparent where no mark is; what lies beneath still counts."""

    with_ground: bool = True


@content("piece", title="The piece", sentence="One file of the whole page.", settings=PieceSettings)
def whole_piece(piece: Piece, settings: PieceSettings) -> list[Picture]:
    """The last node of the piece."""
    plan = Plan(piece)
    return [Picture(piece.title, plan.finished(settings.with_ground).node, plan.page)]
