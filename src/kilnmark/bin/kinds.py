"""The kinds of things that can be thrown away. One more is a line here."""

from collections.abc import Callable
from dataclasses import dataclass

from kilnmark.pins.models import Pin


@dataclass(frozen=True)
class Kind:
    """title : of several. rows : an owner's. page : where they are when they are not in the
    bin.
    """

    name: str
    title: str
    rows: Callable
    page: str


def _pins(owner):
    return Pin.objects.filter(piece__owner=owner).select_related("piece", "state")


KINDS = {
    kind.name: kind
    for kind in (
        Kind("piece", "Pieces", lambda owner: owner.pieces.select_related("head"), "pieces"),
        Kind("texture", "Textures", lambda owner: owner.textures.all(), "shelf"),
        Kind("prep", "Preps", lambda owner: owner.preps.select_related("texture"), "shelf"),
        Kind("recipe", "Recipes", lambda owner: owner.recipes.all(), "recipes"),
        Kind("pin", "Pinned versions", _pins, "pieces"),
        Kind("artwork", "Artworks", lambda owner: owner.artworks.all(), "artworks"),
        Kind("tip", "Tips", lambda owner: owner.tips.all(), "shelf"),
        Kind("strokes", "Kept strokes", lambda owner: owner.stroke_sets.all(), "pieces"),
        Kind("font", "Fonts", lambda owner: owner.fonts.all(), "artworks"),
    )
}
