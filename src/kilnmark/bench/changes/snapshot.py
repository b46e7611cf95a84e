"""What the browser knows of a piece: its document, its version, and where its marks and textures
lie.
"""

import math
from dataclasses import asdict

from django.utils.timezone import localtime

from kilncore.artwork.along.curve import CurveAlong
from kilncore.artwork.lettering import Lettering
from kilncore.geometry.affine import Affine
from kilncore.layout.layout import Layout
from kilncore.model.base import Model
from kilncore.model.files import ArtHash, TextureHash
from kilncore.perspective.cylinder import Cylinder
from kilncore.perspective.homography import Homography
from kilncore.perspective.projection import Projection
from kilncore.pixels.colour import HEX
from kilncore.prep.chain import size_of
from kilnmark.controls.fields import condition_of, wanted
from kilnmark.pieces.models import Artwork, Piece
from kilnmark.pieces.textures import refs_in

MOST_COLOURS = 9
LEAST_SHARE = 0.002  # of a drawing or picture: rarer colours are not offered


def snapshot(piece: Piece) -> dict:
    document = piece.document
    layout = Layout(document)
    head = piece.head
    return {
        "version": piece.version,
        "saved": localtime(piece.changed).strftime("%H:%M"),
        "title": document.title,
        "undo": head.label if head.parent_id else "",
        "redo": head.onward.label if head.onward_id else "",
        "document": document.model_dump(mode="json"),
        "boxes": {item_id: asdict(box) for item_id, box in layout.boxes().items()},
        "frames": {item_id: _frame(frame) for item_id, frame in layout.frames().items()}
        | dict.fromkeys(("ground", "piece"), _frame(layout.page_frame)),
        "words": {mark.id: _words(layout, mark) for mark in _letterings(document)},
        "curves": {
            mark.id: _curve(layout, mark)
            for mark in _letterings(document)
            if isinstance(mark.art.along, CurveAlong)
        },
        "textures": _sizes(piece, document),
        "colours": colours_of(document, artworks_of(piece)),
    }


def artworks_of(piece: Piece) -> dict[str, Artwork]:
    """The artworks that a piece names, by their hashes."""
    found = piece.owner.artworks.filter(hash__in=piece.document.files(ArtHash))
    return {row.hash: row for row in found}


def colours_of(document, artworks: dict) -> list[str]:
    """The piece's own colours: those that it names, and those of its drawings and pictures as they
    are shown.
    """
    found: dict[str, None] = {}
    for mark in document.marks():
        art, facts = mark.art, getattr(artworks.get(getattr(mark.art, "hash", "")), "facts", {})
        shown = {old: old for old, share in facts.get("colours", ()) if share > LEAST_SHARE}
        shown |= {one.old: one.new for one in getattr(art, "recolour", ()) if one.old in shown}
        if getattr(art, "one_colour", False):
            shown = {}
        found |= dict.fromkeys([*_named(art, leave_out=("recolour",)), *shown.values()])
    return list(dict.fromkeys([*found, *_named(document.ground), *_named(document)]))[:MOST_COLOURS]


def _named(value, leave_out: tuple[str, ...] = ()) -> list[str]:
    """The colours in the fields of a model, however deep, marks apart, and what its other settings
    leave without a meaning.
    """
    if isinstance(value, str):
        return [value] if HEX.match(value) else []
    if isinstance(value, tuple | list):
        return [colour for one in value for colour in _named(one)]
    if not isinstance(value, Model):
        return []
    fields = type(value).model_fields
    inner = (
        one
        for name, one in value.__dict__.items()
        if name not in (*leave_out, "stack") and wanted(value, condition_of(fields.get(name)))
    )
    return [colour for one in inner for colour in _named(one)]


def _frame(frame) -> dict:
    """Where the textures and strokes of an item lie. unit : what % is of, document px."""
    return {
        "x": frame.x,
        "y": frame.y,
        "unit": frame.unit_px,
        "rotation_deg": math.degrees(frame.rotation),
        "laid": laid_of(frame.projection),
    }


def laid_of(projection: Projection | None) -> list[dict]:
    """The way from where an item lies flat to where it lies, as `layout.js` goes it."""
    return [_part(part) for part in projection.parts] if projection else []


def _part(part: Homography | Cylinder) -> dict:
    if isinstance(part, Homography):
        return {"kind": "plane", "matrix": part.matrix, "back": part.back[1:]}
    return {"kind": "round", **asdict(part)}


def _letterings(document) -> list:
    return [mark for mark in document.marks() if isinstance(mark.art, Lettering)]


def _words(layout: Layout, mark) -> dict:
    """Where the words of a mark are written: the alignment point of their first baseline, and the
    em, in document px. plane : the matrix from there to the piece, of words that lie in a plane;
    round a cylinder they are written flat, where their first letter lies.
    """
    placed, (x, y, unit) = layout.map(mark), mark.art.frame_px(layout.ppi, layout.tall)
    (x, y), turn, larger = placed.point(x, y), placed.rotation, 1.0
    projection, plane = layout.projection(mark), None
    if projection and all(isinstance(part, Homography) for part in projection.parts):
        plane = projection.parts[0].matrix
    elif projection:
        turn = projection.direction(x, y, turn)
        (x, y), larger = projection.around((x, y))
    em = unit * placed.scale * larger
    found = {"x": float(x), "y": float(y), "em": em, "rotation_deg": math.degrees(turn)}
    return found | {"plane": plane}


def _curve(layout: Layout, mark) -> tuple[float, ...]:
    """From ems of the curve on which words stand to the piece, as they would lie flat."""
    page = layout.ppi, layout.tall
    (x, y), em = mark.art.plane_px(*page), mark.art.unit_px(*page)
    way = -1 if mark.art.mirrored else 1
    return layout.map(mark).of(Affine(way * em, 0, 0, em, way * x, y)).matrix


def _sizes(piece: Piece, document) -> dict:
    """The size of each texture as it is prepared, px, by the id of its step, of the
    mark that it fills, or 'ground'; of an undercoat by 'ID under'.
    """
    rows = piece.owner.textures.filter(hash__in=document.files(TextureHash))
    known = {row.hash: (row.width, row.height) for row in rows}
    found = {}
    for way, ref in refs_in(document):
        if ref.hash not in known:
            continue
        size = size_of(ref.chain, *known[ref.hash])
        holder = "ground" if way[0] == "ground" and len(way) == 3 else way[-3]
        if way[-3:-1] == ["art", "fill"]:
            holder = way[-4]
        found[f"{holder} under" if way[-1] == "under_texture" else holder] = size
    return found
