"""Places of a texture: nine, a third of it apart; or those that are found by correlation."""

from kilncore.document import Piece, Step
from kilncore.engine.placing import placements as found_by_correlation
from kilncore.model.units import Length, px
from kilncore.prep.chain import size_of
from kilnmark.bench.walls.base import Candidate, Choice, setting
from kilnmark.storage import assets

THIRDS = ((0, 0), (1, 0), (-1, 0), (0, 1), (0, -1), (1, 1), (-1, -1), (1, -1), (-1, 1))
FOUND = 8


def placements(choice: Choice) -> list[Candidate]:
    """At the path of a texture's placement."""
    now = choice.now
    name = "under_texture" if choice.path[-1:] == ["under_placement"] else "texture"
    ref = getattr(choice.at(choice.path[:-1]), name, None)
    if choice.path[-1:] not in (["placement"], ["under_placement"]) or ref is None:
        raise choice.gone()
    size = size_of(ref.chain, *assets().source(ref.hash).size)
    found = []
    for across, down in THIRDS:
        place = now.model_copy(
            update={
                axis: _moved(getattr(now, axis), way * side * now.scale / 3, choice.document)
                for axis, way, side in (("x", across, size[0]), ("y", down, size[1]))
            }
        )
        edit = setting(choice.path, place.model_dump(mode="json"))
        found.append(Candidate(_words(across, down), (edit,), not (across or down)))
    return found


def _moved(length: Length, by: float, document: Piece) -> Length:
    if not by:
        return length
    return px(round(length.in_px(document.ppi, document.size_px[1]) + by))


def _words(across: int, down: int) -> str:
    sideways = {1: "a third right", -1: "a third left"}.get(across)
    upward = {1: "a third down", -1: "a third up"}.get(down)
    return ", ".join(filter(None, (sideways, upward))) or "where it is"


def found_places(choice: Choice) -> list[Candidate]:
    """Heavy at the edges, clear in the middle: the best that are not seen yet."""
    now, step = choice.now, choice.at(choice.path[:-2])
    if choice.path[-2:] != ["params", "placement"] or not isinstance(step, Step):
        raise choice.gone()
    best = found_by_correlation(choice.document, step.id, choice.skip + FOUND, assets())
    found = [Candidate("where it is", (setting(choice.path, now.model_dump(mode="json")),), True)]
    for number, (place, _) in enumerate(best[choice.skip :], choice.skip + 1):
        turn = f", turned {place.rotation_deg:.0f}°" if place.rotation_deg else ""
        flip = ", flipped" if place.flip_x != now.flip_x else ""
        edit = setting(choice.path, place.model_dump(mode="json"))
        found.append(Candidate(f"place {number}{turn}{flip}", (edit,), rank=number))
    return found
