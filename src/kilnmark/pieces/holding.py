"""Points that an aim has solved stay while words, font or artwork change, until they are solved
again; touching a setting of their step solves them anew.
"""

from kilncore.document import Piece, Step
from kilncore.engine.solved import solved_wear
from kilncore.errors import KilnError
from kilncore.wear.settings import WearSettings
from kilnmark.storage import assets

COLOURS = {"colour", "recolour", "one_colour", "name"}  # of art: its outline stays


def holding(document: Piece, edits: list[dict]) -> list[dict]:
    """The edits, with those that hold and let go points before them."""
    found: dict[tuple, dict] = {}
    for edit in edits:
        for path, value in (*_held_by(document, edit), *_let_go_by(document, edit)):
            found[tuple(path)] = {"op": "set", "path": path, "value": value}
    named = {tuple(edit["path"]) for edit in edits if _is_set(edit)}
    return [one for path, one in found.items() if path not in named] + edits


def _is_set(edit: dict) -> bool:
    path = edit.get("path")
    return (
        edit.get("op") == "set"
        and isinstance(path, list)
        and all(isinstance(key, str) for key in path)
    )


def _held_by(document: Piece, edit: dict):
    """(path, points) of the aims that a change of art leaves where they are."""
    for part in _parts_of(document, _mark_changed(document, edit)):
        for step in document.treatments()[part]:
            points = _points(document, step)
            if points:
                yield [*document.way_to(part), "treatment", step.id, "params", "held"], points


def _mark_changed(document: Piece, edit: dict) -> str | None:
    """The mark whose outline an edit changes."""
    marks = {mark.id for mark in document.marks()}
    if edit.get("op") == "replace_art":
        return edit["mark"] if isinstance(edit.get("mark"), str) and edit["mark"] in marks else None
    if not _is_set(edit) or "art" not in edit["path"] or COLOURS & set(edit["path"]):
        return None
    before = edit["path"][: edit["path"].index("art")]
    return before[-1] if before and before[-1] in marks else None


def _parts_of(document: Piece, mark: str | None) -> list[str]:
    """The mark, the groups that it is in, and the whole piece."""
    if mark is None:
        return []
    way = document.way_to(mark)
    return [*(key for key in way if key in document.treatments()), "piece"]


def _points(document: Piece, step: Step) -> dict | None:
    params = step.params
    if not isinstance(params, WearSettings) or params.held is not None:
        return None
    try:
        solved = solved_wear(document, step, assets())
    except KilnError:
        return None  # a lost file is told where it is drawn
    if solved is None:
        return None
    points = (1 - solved.white, 1 - solved.black) if params.invert else (solved.black, solved.white)
    return dict(zip(("black", "white"), points, strict=True))


def _let_go_by(document: Piece, edit: dict):
    """(path, None) of the points of a step one of whose settings is set."""
    if not _is_set(edit) or "params" not in edit["path"]:
        return
    at = edit["path"].index("params")
    step = edit["path"][at - 1] if at else ""
    steps = {one.id: one for _, one in document.steps()}
    if getattr(steps.get(step) and steps[step].params, "held", None) is not None:
        yield [*edit["path"][: at + 1], "held"], None
