"""Putting a look in a place, mixing two directions, and going on with one.

Each is a state of the piece that it does not stand on: it is among all that was done, and nothing
else is changed. What was in a place before stays there too.
"""

import random

from django.db import transaction

from kilncore import edits
from kilncore.document import Piece as Document
from kilncore.document import Step
from kilncore.errors import KilnError
from kilncore.layout.checking import check_layout
from kilnmark.bench.changes.filling_in import filled_in
from kilnmark.directions.models import PLACES, Direction
from kilnmark.firings import actions as firings
from kilnmark.firings.models import Firing
from kilnmark.pieces import actions as pieces
from kilnmark.pieces import owned
from kilnmark.pieces.changed import changed_words
from kilnmark.pieces.models import Piece, State

MOST_SEED = 2**31 - 1


def put(piece: Piece, place: int, part: str, name: str, changes: list[dict]) -> Direction:
    """The piece as it stands with some edits, as the direction at a place."""
    if place not in PLACES:
        raise KilnError("A direction stands at place 1, 2 or 3.", str(place)[:40])
    if part not in piece.document.treatments():
        raise KilnError("That part is no longer on this piece.", part[:60])
    document = edits.apply(piece.document, filled_in(piece, changes))
    return _stored(piece, place, part, name, document)


def mix(taker: Direction, giver: Direction, step: str) -> Direction:
    """A step of one direction in another: in the place of the first of its kind, or after all."""
    given = next((one for one in giver.steps if one.id == step), None)
    if given is None:
        raise KilnError("That step is no longer in this direction.", step[:60])
    steps = list(taker.steps)
    at = next((n for n, one in enumerate(steps) if one.kind == given.kind), len(steps))
    steps[at : at + 1] = [given]
    changed = edits.apply(taker.state.document, [_instead(taker.part, steps)])
    name = taker.name if taker.name.endswith(", mixed") else f"{taker.name[:53]}, mixed"
    return _stored(taker.piece, taker.place, taker.part, name, changed)


def reseed(direction: Direction) -> Direction:
    """The same with other seeds: worn elsewhere."""
    seeds = [
        {"op": "seed_step", "step": one.id, "seed": random.randint(1, MOST_SEED)}  # noqa: S311
        for one in direction.steps
    ]
    if not seeds:
        raise KilnError("There is no step in this direction.")
    changed = edits.apply(direction.state.document, seeds)
    return _stored(direction.piece, direction.place, direction.part, direction.name, changed)


def let_go(direction: Direction) -> None:
    """Out of its place; its state stays among all that was done."""
    direction.delete()


def go_on(direction: Direction, version: int, token: str | None = None) -> Piece:
    """The piece becomes what the direction is, as one more state; Stale if `version` is old."""
    document, label = direction.state.document, f"Direction: {direction.name}"
    return pieces.become(direction.piece, version, document, label, token)


def fire(directions: list[Direction], with_ground: bool) -> list[Firing]:
    """A file of each, under the piece's title and its own name."""
    return [
        firings.ask(one.piece, with_ground, one.state.document, f"{one.piece.title}, {one.name}")
        for one in directions
    ]


def _instead(part: str, steps: list[Step]) -> dict:
    told = [one.model_dump(mode="json", exclude={"id"}) for one in steps]
    return {"op": "add_steps", "part": part, "steps": told, "instead": True}


@transaction.atomic
def _stored(piece: Piece, place: int, part: str, name: str, document: Document) -> Direction:
    check_layout(document)
    owned.check_owned(piece.owner, document)
    label = f"Direction {place}: {name}"[:120]
    on = changed_words(piece.document, document)
    state = State.of(document, piece=piece, parent=piece.head, label=label, on=on)
    told = {"state": state, "part": part, "name": name[:60] or "Direction"}
    return Direction.objects.update_or_create(piece=piece, place=place, defaults=told)[0]
