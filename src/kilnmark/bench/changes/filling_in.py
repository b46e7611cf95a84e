"""What the browser asks for in few words, filled in from what the server knows."""

from kilncore.artwork.parting import parted
from kilncore.artwork.vector import Vector
from kilncore.engine.art_colours import art_colours
from kilncore.engine.outlines import outlined
from kilncore.errors import KilnError
from kilncore.recipe import in_words
from kilncore.steps import STEPS
from kilnmark.bench.changes.snapshot import artworks_of
from kilnmark.pieces.artworks import renamed
from kilnmark.pieces.edges import scraped
from kilnmark.pieces.holding import holding
from kilnmark.pieces.landings import holders, within
from kilnmark.pieces.models import Piece
from kilnmark.shelf.actions import fitting
from kilnmark.storage import assets

MOST_NAME, NO_COLOUR = 80, "#808080"
GOING = {"remove_mark": "mark", "remove_marks": "marks", "ungroup": "group"}
BEGINS = {
    "wear": {
        "aim": True,
        "share": 0.15,
        "contrast": 0.149,  # near black and white
        "least_stroke": {"value": 0.15, "unit": "mm"},
        "least_part": 0.5,
        "weaker": "deep",
    }
}


def filled_in(piece: Piece, edits: list[dict]) -> list[dict]:
    """The edits as the core knows them."""
    edits = [one for edit in edits for one in _with_regions(piece, edit)]
    edits += _as_it_was_cut(piece, edits)
    found = [FILLED.get(_op(edit), lambda _, given: given)(piece, edit) for edit in edits]
    return holding(piece.document, found)


def _op(edit: dict) -> str:
    return edit["op"] if isinstance(edit.get("op"), str) else ""


def _with_regions(piece: Piece, edit: dict) -> list[dict]:
    """Marks that go leave regions of their outlines where they hold something, if so asked."""
    if _op(edit) not in GOING or edit.get("holding") != "region":
        return [edit]
    rest = {name: value for name, value in edit.items() if name != "holding"}
    named = edit.get(GOING[edit["op"]])
    ids = named if isinstance(named, list) else [named]
    going = [one for one in ids if isinstance(one, str)]
    inner = going if edit["op"] == "ungroup" else within(piece.document, going)
    regions = [
        {
            "op": "hold_by_region",
            "mark": one,
            "region": outlined(piece.document, one, assets()).model_dump(
                mode="json", exclude={"id"}
            ),
        }
        for one in holders(piece.document)
        if one in inner
    ]
    return [*regions, rest]


def _as_it_was_cut(piece: Piece, edits: list[dict]) -> list[dict]:
    """Points that an aim solved for and a hand moves go on from the tones that the aim cut: the
    texture is prepared so from now on.
    """
    paths = [tuple(edit["path"]) for edit in edits if isinstance(edit.get("path"), list)]
    steps = {step.id: step for steps in piece.document.treatments().values() for step in steps}
    found = []
    for edit in edits:
        path = edit.get("path")
        if _op(edit) != "set" or not isinstance(path, list) or path[-2:] != ["params", "aim"]:
            continue
        step = steps.get(path[-3]) if len(path) > 2 and isinstance(path[-3], str) else None
        by_hand = (*path[:-1], "black") in paths and edit.get("value") is False
        if step is None or step.kind != "wear" or not step.params.texture or not by_hand:
            continue
        mask = step.params.mask_texture
        chain = mask.chain if assets().grows_specks(mask) else mask.chain[:-1]
        if step.params.aim and chain != step.params.texture.chain:
            value = [one.model_dump(mode="json") for one in chain]
            found.append({"op": "set", "path": [*path[:-1], "texture", "chain"], "value": value})
    return found


def _with_texture(piece: Piece, edit: dict) -> dict:
    """A new step that needs a texture begins with one that fits, so that something
    shows at once.
    """
    name = edit.get("kind")
    kind = STEPS.get(name) if isinstance(name, str) else None
    if kind and "texture" in kind.settings.model_fields and not edit.get("params"):
        texture = fitting(piece.owner, kind.kind)
        begins = dict(BEGINS.get(name, {}))
        part = edit.get("part")
        if not (isinstance(part, str) and part in piece.document.treatments()):
            return edit
        if not in_words(piece.document, part):
            begins.pop("least_part", None)
        return {**edit, "params": {"texture": texture.ref, **begins}} if texture else edit
    return edit


def _with_background(piece: Piece, edit: dict) -> dict:
    """A new knock-out begins with the plain background that the picture has."""
    if edit.get("kind") != "knock-out" or edit.get("settings"):
        return edit
    artwork = artworks_of(piece).get(_hash_at(piece, edit.get("path")))
    plain = artwork.facts.get("plain") if artwork else None
    return {**edit, "settings": {"colours": [plain], "plain_holes": True}} if plain else edit


def _hash_at(piece: Piece, path) -> str:
    if not isinstance(path, list) or len(path) < 2:
        return ""
    if path[:2] == ["ground", "fill"]:
        return getattr(piece.document.ground.fill, "hash", "")
    marks = {mark.id: mark for mark in piece.document.marks()}
    named = [marks[key] for key in path if isinstance(key, str) and key in marks]
    return getattr(named[-1].art, "hash", "") if named else ""


def _parted(piece: Piece, edit: dict) -> dict:
    """A drawing parted by colour or by group: marks in its place."""
    if set(edit) != {"op", "mark", "way"} or not isinstance(edit["mark"], str):
        raise KilnError("An edit does not fit this piece.", repr(edit)[:200])
    mark = piece.document.mark(edit["mark"])
    if not isinstance(mark.art, Vector):
        raise KilnError("Only a drawing can be parted.")
    artwork = artworks_of(piece).get(mark.art.hash)
    parts = parted(mark.art, edit["way"], artwork.facts if artwork else {})
    marks = [
        {"name": f"{mark.name} {name}"[:MOST_NAME].strip(), "art": art.model_dump(mode="json")}
        for name, art in parts
    ]
    return {"op": "replace_mark", "mark": mark.id, "marks": marks}


def _named(piece: Piece, edit: dict) -> dict:
    """Art in the place of other art gives the mark its name, unless that was given by hand."""
    art = edit.get("art")
    if "name" in edit or not isinstance(art, dict) or not isinstance(edit.get("mark"), str):
        return edit
    mark = piece.document.mark(edit["mark"])
    if name := renamed(piece.owner, mark, art):
        return {**edit, "name": name[0]}
    return edit


def _with_colour(piece: Piece, edit: dict) -> dict:
    """A landing that is newly kept to a colour begins with the largest of its part's art."""
    path, value = edit.get("path"), edit.get("value")
    if not isinstance(path, list) or path[-1:] != ["limits"] or not isinstance(value, list):
        return edit
    if not any(_colourless(one) for one in value):
        return edit
    found = art_colours(piece.document, _part_of(piece, path), assets(), 1)
    colour = found[0][0] if found else NO_COLOUR
    filled = [{**one, "colour": colour} if _colourless(one) else one for one in value]
    return {**edit, "value": filled}


def _colourless(limit) -> bool:
    return isinstance(limit, dict) and limit.get("kind") == "colour" and "colour" not in limit


def _part_of(piece: Piece, path: list) -> str:
    """Whose landing, or whose step's, a path leads to."""
    if path[:1] == ["ground"]:
        return "ground"
    items = {item.id for item in piece.document.items()}
    named = [key for key in path if isinstance(key, str) and key in items]
    return named[-1] if named else "piece"


def _scraped(piece: Piece, edit: dict) -> dict:
    """Strokes along edges, which the server knows."""
    return scraped(piece.document, edit, assets())


FILLED = {
    "add_scrapes": _scraped,
    "set": _with_colour,
    "replace_art": _named,
    "add_step": _with_texture,
    "add_operation": _with_background,
    "part_mark": _parted,
}
