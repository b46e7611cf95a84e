"""All landings of a piece, and which marks hold some of them in or out."""

from kilncore.document import Piece
from kilncore.landing import Landing
from kilncore.steps import STEPS
from kilnmark.pieces.names import PARTS, names_of


def landings_of(piece: Piece) -> list[tuple[str, list, Landing]]:
    """(title, path, landing) of all steps and of how all marks land."""
    found, names = [], names_of(piece) | PARTS
    for part, treatment in piece.treatments().items():
        base, named = piece.way_to(part), names[part]
        for step in treatment:
            title = f"{named[:20]}: {STEPS.named(step.kind).title}"
            found.append((title, [*base, "treatment", step.id, "landing"], step.landing))
        if part not in ("piece", "ground"):
            item = piece.item(part)
            found.append((f"{named[:20]}: how it lands", [*base, "landing"], item.landing))
    return found


def holders(piece: Piece) -> dict[str, list[str]]:
    """{id of a mark or group: [title of what it holds in or out, ...]}."""
    found: dict[str, list[str]] = {}
    for title, _, landing in landings_of(piece):
        for limit in landing.limits:
            if limit.kind == "mark":
                side = "kept out of it" if limit.outside else "kept in it"
                found.setdefault(str(limit.mark), []).append(f"{title}, {side}")
    return found


def within(piece: Piece, ids: list[str]) -> set[str]:
    """Marks and groups with all that they have in them."""
    found = set(ids)
    for item in piece.items():
        if item.id in found:
            found |= {one.id for one in getattr(item, "members", ())}
    return found
