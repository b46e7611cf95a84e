"""New marks, as they come onto a piece: in its middle, at a size that suits it."""

from kilncore.artwork.lettering import Lettering
from kilncore.artwork.vector import Vector
from kilncore.document import Mark, Piece, Placement
from kilncore.errors import UnusableFile
from kilncore.model.units import px
from kilncore.svg.parsing import MAX_BYTES, TOO_LARGE

SHARE = 0.7  # of the piece that a new mark may take up
EM_SHARE = 0.16


def lettering(piece: Piece, text) -> dict:
    """Typed words, no wider than suits the piece."""
    text = str(text).strip("\n")[:500] or "Words"
    art = Lettering(text=text, size=px(round(piece.size_px[1] * EM_SHARE)))
    width, _ = art.box_px(piece.ppi, piece.size_px[1])
    wide = piece.size_px[0] * SHARE
    if width > wide:
        art = art.model_copy(update={"size": px(max(1, round(art.size.value * wide / width)))})
    return _placed(piece, art, 1.0, "")


def vector(piece: Piece, artwork) -> dict:
    scale = min(SHARE * piece.size_px[0] / artwork.width, SHARE * piece.size_px[1] / artwork.height)
    art = Vector(hash=artwork.hash, width=artwork.width, height=artwork.height)
    return _placed(piece, art, min(max(round(scale, 4), 0.01), 100), artwork.name)


def read_svg(file) -> bytes:
    if file.size > MAX_BYTES:
        raise UnusableFile(TOO_LARGE)
    return file.read()


def _placed(piece: Piece, art, scale: float, name: str) -> dict:
    middle = [round(side / 2) for side in piece.size_px]
    place = Placement(x=px(middle[0]), y=px(middle[1]), scale=scale)
    return Mark(name=name, art=art, placement=place).model_dump(mode="json")
