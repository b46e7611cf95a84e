"""How large things are on the surface that a piece shows, beside how large they are in print."""

import math

from kilncore.document import Group, Mark, Piece
from kilncore.layout.layout import ItemBox
from kilncore.model.units import px_to_mm


def in_words(mm: float) -> str:
    """A length, in the unit in which it is easiest to read."""
    if mm >= 10_000:
        return f"{mm / 1000:.1f} m"
    if mm >= 1000:
        return f"{mm / 1000:.2f} m"
    return f"{mm:.0f} mm" if mm >= 10 else f"{mm:.1f} mm"


def sides(box: ItemBox) -> tuple[float, float]:
    """Width and height of an item as it lies on the piece, px: of one in perspective the means of
    its sides.
    """
    if not box.ring:
        return box.width, box.height
    a, b, c, d = box.ring
    return (math.dist(a, b) + math.dist(d, c)) / 2, (math.dist(a, d) + math.dist(b, c)) / 2


def on_surface(piece: Piece, item: Mark | Group, box: ItemBox) -> tuple[str, ...]:
    """An item's size on the surface, round a cylinder along the curve; nothing where that was not
    measured.
    """
    if piece.surface is None:
        return ()
    wrapped = getattr(item.placement.perspective, "kind", "") == "round"
    found = (box.width, box.height) if wrapped else sides(box)
    across, down = (in_words(piece.surface.mm_of(side)) for side in found)
    return (f"{across} x {down} on the surface",)


def surface_notes(piece: Piece) -> tuple[str, ...]:
    """Of the ground: what was measured, and what 1 mm in print is there."""
    scale = piece.surface
    if scale is None:
        return ()
    inch = 1 / px_to_mm(1, piece.ppi)
    width, height = (in_words(scale.mm_of(side)) for side in piece.size_px)
    return (
        f"{scale.px:.0f} px are {in_words(scale.mm)} on the surface: the piece shows {width} x "
        f"{height} of it. 1 mm in print is {in_words(scale.mm_of(inch))} there.",
    )
