"""What can be tried: a kind of wall is a module with a function that names its candidates."""

import json
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from kilncore.document import Piece
from kilncore.errors import KilnError
from kilncore.recipe import SCALED

GONE = "What you wanted to try is no longer on this piece."


@dataclass(frozen=True)
class Candidate:
    """edits : what taking it does. now : whether it is how things are. group : the heading that it
    stands under, if the wall has any; group_note : beside it. rank : before all that change the
    piece less.
    """

    words: str
    edits: tuple[dict, ...] = ()
    now: bool = False
    group: str = ""
    group_note: str = ""
    rank: int = 0

    @property
    def edits_json(self) -> str:
        return json.dumps(list(self.edits))


@dataclass(frozen=True)
class Choice:
    """The choice that is tried: what stands at a path of a document. owner : whose piece it is.
    skip : how many of the best were seen already. sizes, instead : how a recipe is given, as
    `recipes.actions.edits_of` takes them.
    """

    owner: Any
    document: Piece
    path: list[str]
    skip: int = 0
    sizes: str = SCALED
    instead: bool = True

    @property
    def now(self):
        """What stands there; KilnError if nothing does."""
        return self.at(self.path)

    def at(self, path: list[str]):
        found = self.document
        try:
            for key in path:
                found = _inner(found, key)
        except (LookupError, StopIteration, AttributeError, TypeError):
            raise self.gone() from None
        return found

    def gone(self) -> KilnError:
        return KilnError(GONE, str(self.path)[:200])


Candidates = Callable[[Choice], list[Candidate]]


def setting(path: list[str], value) -> dict:
    """The edit that sets it."""
    return {"op": "set", "path": path, "value": value}


def _inner(found, key: str):
    if isinstance(found, tuple):
        return next(one for one in found if one.id == key)
    if key not in type(found).model_fields:
        raise KeyError(key)
    return getattr(found, key)
