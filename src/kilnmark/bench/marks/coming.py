"""New marks, as they come onto a piece: at a size that suits it, one in its middle, several laid
out evenly.
"""

import json
import math

from kilncore.artwork import ARTS
from kilncore.artwork.lettering import Lettering
from kilncore.document import Mark, Piece, Placement
from kilncore.errors import KilnError
from kilncore.model.units import px

SHARE = 0.7  # of the piece that a new mark may take up
CELL_SHARE = 0.72  # of its cell, where there are several
EM_SHARE = 0.16


def lettering(piece: Piece, text) -> dict:
    """Typed words, no wider than suits the piece."""
    text = str(text).strip("\n")[:500] or "Words"
    art = Lettering(text=text, size=px(round(piece.size_px[1] * EM_SHARE)))
    width, _ = art.box_px(piece.ppi, piece.size_px[1])
    wide = piece.size_px[0] * SHARE
    if width > wide:
        art = art.model_copy(update={"size": px(max(1, round(art.size.value * wide / width)))})
    return _placed(piece, art, 1.0, "", _middle(piece))


def begun(piece: Piece) -> list[dict]:
    """The art kinds that need neither words nor a file: {title, sentence, edits}, the edits as
    JSON.
    """
    return [
        {"title": kind.title, "sentence": kind.sentence, "edits": json.dumps([_begin(piece, kind)])}
        for kind in ARTS.values()
        if kind.begins
    ]


def _begin(piece: Piece, kind) -> dict:
    """One in the middle of the piece; its id and seed are new ones whenever it is added."""
    art, room = kind.settings(), [side * SHARE for side in piece.size_px]
    scale = min(fitting_scale(*art.box_px(piece.ppi, piece.size_px[1]), room), 1.0)
    mark = _placed(piece, art, scale, kind.title, _middle(piece))
    fresh = {name: value for name, value in mark.items() if name not in ("id", "seed")}
    return {"op": "add_mark", "mark": fresh}


def edits_of(
    piece: Piece, artworks: list, place: str, at: tuple[float, float] | None
) -> list[dict]:
    """What files become: marks on top of the stack, or the first picture the ground."""
    if place == "ground":
        return [{"op": "set", "path": ["ground", "fill"], "value": ground(artworks)}]
    return [{"op": "add_mark", "mark": mark} for mark in laid_out(piece, artworks, at)]


def ground(artworks: list) -> dict:
    """The first picture as a ground; KilnError where there is none."""
    for artwork in artworks:
        if artwork.kind == "picture":
            return {**artwork.art.model_dump(mode="json"), "fit": "cover"}
    raise KilnError("A ground is a picture; an SVG comes in as a mark.")


def laid_out(piece: Piece, artworks: list, at: tuple[float, float] | None = None) -> list[dict]:
    """A mark of each artwork. at : where the middle of a single one is put, document px."""
    if len(artworks) == 1:
        room = tuple(SHARE * side for side in piece.size_px)
        return [_of(piece, artworks[0], room, at or _middle(piece))]
    wide, tall = piece.size_px
    columns = min(max(1, math.ceil(math.sqrt(len(artworks) * wide / tall) - 1e-9)), len(artworks))
    rows = math.ceil(len(artworks) / columns)
    columns = math.ceil(len(artworks) / rows)
    cell = wide / columns, tall / rows
    room = CELL_SHARE * cell[0], CELL_SHARE * cell[1]
    found = []
    for number, artwork in enumerate(artworks):
        row, column = divmod(number, columns)
        in_row = min(columns, len(artworks) - row * columns)
        left = (wide - in_row * cell[0]) / 2  # a last row that is not full stands in the middle
        found.append(
            _of(piece, artwork, room, (left + (column + 0.5) * cell[0], (row + 0.5) * cell[1]))
        )
    return found


def fitting_scale(width: float, height: float, room: tuple[float, float]) -> float:
    """Of something of that size, so that it fits the room."""
    return min(max(round(min(room[0] / width, room[1] / height), 4), 0.01), 100)


def _of(piece: Piece, artwork, room, at) -> dict:
    scale = fitting_scale(artwork.width, artwork.height, room)
    if artwork.kind == "picture":
        scale = min(scale, 1.0)  # enlarged only by hand
    return _placed(piece, artwork.begun, scale, artwork.name, at)


def _middle(piece: Piece) -> tuple[float, float]:
    return piece.size_px[0] / 2, piece.size_px[1] / 2


def _placed(piece: Piece, art, scale: float, name: str, at: tuple[float, float]) -> dict:
    place = Placement(x=px(round(at[0])), y=px(round(at[1])), scale=scale)
    return Mark(name=name, art=art, placement=place).model_dump(mode="json")
