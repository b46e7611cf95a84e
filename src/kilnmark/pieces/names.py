"""What the marks and groups of a piece are called."""

from collections import Counter

from kilncore.document import Piece

PARTS = {"ground": "Ground", "piece": "Whole piece"}


def name_of(mark) -> str:
    """Of a mark or group: its own, or of its words or members."""
    if mark.kind == "group":
        return mark.name or f"Group of {len(mark.members)}"
    return mark.name or getattr(mark.art, "text", "").replace("\n", " ")[:24] or "Mark"


def names_of(piece: Piece) -> dict[str, str]:
    """Of all marks and groups, by id; of several that are called alike, with their numbers."""
    plain = {item.id: name_of(item) for item in piece.items()}
    often, seen, found = Counter(plain.values()), Counter(), {}
    for item_id, name in plain.items():
        seen[name] += 1
        found[item_id] = f"{name} ({seen[name]})" if often[name] > 1 else name
    return found
