"""What the browser knows of a piece: its document, its version, and where its marks and textures lie."""

from dataclasses import asdict

from django.utils.timezone import localtime

from kilncore.engine.plans import plan_of
from kilnmark.pieces.models import Piece


def told(piece: Piece) -> dict:
    document = piece.document
    plan = plan_of(document)
    head = piece.head
    return {
        "version": piece.version,
        "saved": localtime(piece.changed).strftime("%H:%M"),
        "title": document.title,
        "undo": head.label if head.parent_id else "",
        "redo": head.onward.label if head.onward_id else "",
        "document": document.model_dump(mode="json"),
        "boxes": {id: asdict(box) for id, box in plan.boxes().items()},
        "textures": _sizes(piece, document),
    }


def _sizes(piece: Piece, document) -> dict:
    rows = piece.owner.textures.filter(hash__in=document.textures())
    return {row.hash: [row.width, row.height] for row in rows}
