"""What the browser knows of a piece: its document, its version, and where its marks and textures
lie.
"""

import math
from dataclasses import asdict

from django.utils.timezone import localtime

from kilncore.layout.layout import Layout
from kilncore.model.files import TextureHash
from kilnmark.pieces.models import Piece


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
        "frames": {item_id: _frame(frame) for item_id, frame in layout.frames().items()},
        "textures": _sizes(piece, document),
    }


def _frame(frame) -> dict:
    """Where the textures and strokes of an item lie. unit : what % is of, document px."""
    return {
        "x": frame.x,
        "y": frame.y,
        "unit": frame.unit_px,
        "rotation_deg": math.degrees(frame.rotation),
    }


def _sizes(piece: Piece, document) -> dict:
    rows = piece.owner.textures.filter(hash__in=document.files(TextureHash))
    return {row.hash: [row.width, row.height] for row in rows}
