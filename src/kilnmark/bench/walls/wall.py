"""A wall of live pictures: each candidate on the piece itself."""

from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from kilncore import edits
from kilncore.document import Piece
from kilnmark.bench import pictures
from kilnmark.bench.walls.base import Candidate

ALIKE = 1.2 / 255  # mean difference of two pictures that look the same


@dataclass(frozen=True)
class Shown:
    """A card of the wall. others : those that look the same. change : from how things are, 0..1."""

    candidate: Candidate
    others: tuple[Candidate, ...]
    change: float


def unsorted(candidates: list[Candidate]) -> list[Shown]:
    """All of them, before anything is drawn: how things are first, the rest by their headings."""
    order = sorted(candidates, key=lambda one: (not one.now, one.rank, one.group))
    return [Shown(one, (), 0.0) for one in order]


def wall(
    owner: int, document: Piece, part: str, candidates: list[Candidate], filled_in: Callable
) -> list[Shown]:
    """Their pictures, all drawn at once: how things are first, then by how much they change; those
    that look the same in one card. filled_in : edits as the core knows them.
    """
    tried = [edits.apply(document, filled_in(list(one.edits))) for one in candidates]
    drawn = pictures.tried_together(owner, [document, *tried], part)
    small = [one.astype(np.float32) / 255 for one in drawn]
    cards: list[tuple[Candidate, list[Candidate], float, np.ndarray]] = []
    order = sorted(
        range(len(candidates)),
        key=lambda n: (
            not candidates[n].now,
            candidates[n].rank,
            candidates[n].group,
            np.abs(small[n + 1] - small[0]).mean(),
        ),
    )
    for n in order:
        one, picture = candidates[n], small[n + 1]
        same = next((card for card in cards if _alike(card, one, picture)), None)
        if same is not None:
            same[1].append(one)
        else:
            cards.append((one, [], float(np.abs(picture - small[0]).mean()), picture))
    return [Shown(one, tuple(others), change) for one, others, change, _ in cards]


def _alike(card: tuple, one: Candidate, picture: np.ndarray) -> bool:
    return card[0].group == one.group and np.abs(card[3] - picture).mean() < ALIKE
