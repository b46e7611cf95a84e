"""Pictures of recipes: on the same sample mark for all, and on the owner's last used art."""

from kilncore import edits, engine
from kilncore.document import Mark, Piece, load
from kilncore.errors import KilnError
from kilncore.graph.keys import key_of
from kilncore.layout.layout import Layout
from kilnmark.pictures import PICTURES, draft
from kilnmark.recipes.actions import edits_of
from kilnmark.recipes.models import Recipe
from kilnmark.storage import assets

SIZE, ROOM = (1240, 620), 0.8
SHOWN_SCALE = 0.5
WORDS = {
    "kind": "lettering",
    "text": "Night\nboat",
    "font": "alfa-slab-one",
    "size": {"value": 250, "unit": "px"},
    "line_spacing": 0.95,
    "colour": "#23486b",
}
STOCK = "#efe6d2"


def picture(owner, recipe: Recipe, own: bool = False) -> tuple[bytes, str]:
    """(bytes, media type). own : on the last used art, if there is any."""
    art = (_last_art(owner) if own else None) or WORDS
    document = _sample(art)
    part = document.stack[0].id
    shown = edits.apply(document, edits_of(recipe, document, part))
    key = (owner.pk, "recipe", key_of("recipe", shown))
    return PICTURES.get(key, lambda: draft(engine.pixels(shown, None, SHOWN_SCALE, assets())))


def _sample(art: dict) -> Piece:
    """The art, as large as there is room, on plain stock."""
    scale = 1.0
    for _ in range(2):
        item = {
            "kind": "mark",
            "id": "sample",
            "seed": 5,
            "art": art,
            "placement": {
                "x": {"value": SIZE[0] / 2, "unit": "px"},
                "y": {"value": SIZE[1] / 2, "unit": "px"},
                "scale": scale,
            },
        }
        ground = {"fill": {"kind": "colour", "colour": STOCK}}
        tree = {"format": 8, "size_px": list(SIZE), "ppi": 300, "ground": ground, "stack": [item]}
        document = load(tree)
        box = Layout(document).box(document.stack[0])
        scale *= ROOM * min(SIZE[0] / max(box.width, 1), SIZE[1] / max(box.height, 1))
        scale = min(max(scale, 0.01), 100)
    return document


def _last_art(owner) -> dict | None:
    """Of the topmost mark of the piece that was changed last."""
    for piece in owner.pieces.here().select_related("head")[:3]:
        try:
            marks = [mark for mark in piece.document.marks() if isinstance(mark, Mark)]
        except KilnError:
            continue
        if marks:
            return marks[-1].art.model_dump(mode="json")
    return None
