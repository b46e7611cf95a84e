"""What a change changed, and on which part, in a few words: history says it beside each state."""

from kilncore.document import Piece
from kilncore.steps import STEPS
from kilnmark.pieces.names import PARTS, names_of

MOST_NAMED, MOST = 2, 80


def changed_words(before: Piece, after: Piece) -> str:
    """'Wear on Gull', 'Gull and Bell', '5 parts'; '' if it is neither a part nor a step."""
    names = PARTS | names_of(before) | names_of(after)
    steps, items = _steps(before, after), _items(before, after)
    parts = list(dict.fromkeys([*steps, *items]))
    if not parts:
        return ""
    where = f"{len(parts)} parts"
    if len(parts) <= MOST_NAMED:
        where = " and ".join(names[part] for part in parts)
    kinds = {kind for found in steps.values() for kind in found}
    what = STEPS.named(next(iter(kinds))).title if len(kinds) == 1 and not items else ""
    return (f"{what} on {where}" if what else where)[:MOST]


def _steps(before: Piece, after: Piece) -> dict[str, set[str]]:
    """The kinds of steps that came, went or changed, by part."""
    was, now, found = before.treatments(), after.treatments(), {}
    for part in now.keys() & was.keys():
        if was[part] != now[part]:
            both = [{step.id: step for step in one[part]} for one in (was, now)]
            ids = [one for one in {**both[0], **both[1]} if both[0].get(one) != both[1].get(one)]
            found[part] = {(both[1].get(one) or both[0][one]).kind for one in ids}
    return found


def _items(before: Piece, after: Piece) -> list[str]:
    """The marks and groups that came, went or changed by themselves; and the ground."""
    was, now = ({one.id: _bare(one) for one in piece.items()} for piece in (before, after))
    found = [one for one in {**was, **now} if was.get(one) != now.get(one)]
    return found + (["ground"] if before.ground.fill != after.ground.fill else [])


def _bare(item):
    """Without its treatment and its members."""
    away = {"treatment": (), "members": ()} if item.kind == "group" else {"treatment": ()}
    return item.model_copy(update=away)
