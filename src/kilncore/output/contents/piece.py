"""The whole piece, with or without its ground."""

from kilncore.document import Piece
from kilncore.engine.plan import Plan
from kilncore.model.base import Model
from kilncore.output.contents.base import content


class PieceSettings(Model):
    """with_ground : or transparent where no mark is; what lies beneath still counts."""

    with_ground: bool = True


@content("piece", title="The piece", settings=PieceSettings)
def piece_node(piece: Piece, settings: PieceSettings):
    """The last node of the piece."""
    return Plan(piece).finished(settings.with_ground).node
