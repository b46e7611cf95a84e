"""Walls of live alternatives for one choice, on the piece itself."""

import json
from collections.abc import Callable
from dataclasses import dataclass

import numpy as np

from kilncore import edits
from kilncore.blending.modes import BLEND_MODES
from kilncore.document import Piece, Step
from kilncore.errors import KilnError
from kilncore.model.units import Length, px
from kilncore.prep.chain import size_of
from kilncore.steps import STEPS
from kilnmark.bench import pictures
from kilnmark.storage import assets

ALIKE = 1.2 / 255  # mean difference of two pictures that look the same
THIRDS = ((0, 0), (1, 0), (-1, 0), (0, 1), (0, -1), (1, 1), (-1, -1), (1, -1), (-1, 1))
SEEDS_APART = 104_729
GONE = "What you wanted to try is no longer on this piece."


@dataclass(frozen=True)
class Candidate:
    """edit : what taking it does. now : whether it is how things are."""

    words: str
    edit: dict
    now: bool = False

    @property
    def edits_json(self) -> str:
        return json.dumps([self.edit])


@dataclass(frozen=True)
class Shown:
    """A card of the wall. others : words of those that look the same. change : from how things are,
    0..1.
    """

    candidate: Candidate
    others: tuple[str, ...]
    change: float


def candidates_of(document: Piece, kind: str, path: list[str]) -> list[Candidate]:
    """All that there are to try for what lies at a path; KilnError if nothing does."""
    if kind not in KINDS:
        raise KilnError(f"There are try-outs of: {', '.join(KINDS)}.", kind)
    try:
        found = _inner_of(document, path)
    except (LookupError, StopIteration, AttributeError, TypeError):
        raise KilnError(GONE, str(path)[:200]) from None
    return KINDS[kind](document, path, found)


def _inner_of(document: Piece, path: list[str]):
    found = document
    for key in path:
        found = _inner(found, key)
    return found


def _inner(found, key: str):
    if isinstance(found, tuple):
        return next(one for one in found if one.id == key)
    if key not in type(found).model_fields:
        raise KeyError(key)
    return getattr(found, key)


def _modes(document: Piece, path: list[str], now) -> list[Candidate]:
    if path[-1:] != ["mode"] or now not in BLEND_MODES:
        raise KilnError(GONE, str(path)[:200])
    return [
        Candidate(mode.title, {"op": "set", "path": path, "value": name}, name == now)
        for name, mode in BLEND_MODES.items()
    ]


def _placements(document: Piece, path: list[str], now) -> list[Candidate]:
    """Nine places of the texture, a third of it apart."""
    settings = _inner_of(document, path[:-1])
    ref = getattr(settings, "texture", None)
    if path[-1:] != ["placement"] or ref is None:
        raise KilnError(GONE, str(path)[:200])
    size = size_of(ref.chain, *assets().source(ref.hash).size)
    found = []
    for across, down in THIRDS:
        place = now.model_copy(
            update={
                axis: _moved(getattr(now, axis), way * side * now.scale / 3, document)
                for axis, way, side in (("x", across, size[0]), ("y", down, size[1]))
            }
        )
        words = _place_words(across, down)
        edit = {"op": "set", "path": path, "value": place.model_dump(mode="json")}
        found.append(Candidate(words, edit, not (across or down)))
    return found


def _moved(length: Length, by: float, document: Piece) -> Length:
    if not by:
        return length
    return px(round(length.in_px(document.ppi, document.size_px[1]) + by))


def _place_words(across: int, down: int) -> str:
    sideways = {1: "a third right", -1: "a third left"}.get(across)
    upward = {1: "a third down", -1: "a third up"}.get(down)
    return ", ".join(filter(None, (sideways, upward))) or "where it is"


def _next_steps(document: Piece, path: list[str], now) -> list[Candidate]:
    """Each kind of step, as it begins, at the end of a treatment."""
    if path[-1:] != ["treatment"]:
        raise KilnError(GONE, str(path)[:200])
    part = path[-2] if len(path) > 1 else "piece"
    return [
        Candidate(kind.title, {"op": "add_step", "part": part, "kind": name})
        for name, kind in STEPS.items()
    ]


def _seeds(document: Piece, path: list[str], now) -> list[Candidate]:
    """Nine seeds of a step, the present one first."""
    step = _inner_of(document, path[:-1])
    if not isinstance(step, Step) or path[-1] != "seed" or not STEPS.named(step.kind).seeded:
        raise KilnError(GONE, str(path)[:200])
    return [
        Candidate(
            f"seed {n + 1}" if n else "as it is",
            {"op": "seed_step", "step": step.id, "seed": (now + n * SEEDS_APART) % 2**31},
            not n,
        )
        for n in range(9)
    ]


KINDS: dict[str, Callable] = {
    "modes": _modes,
    "placements": _placements,
    "steps": _next_steps,
    "seeds": _seeds,
}


def wall(
    owner: int, document: Piece, part: str, candidates: list[Candidate], filled_in: Callable
) -> list[Shown]:
    """Their pictures, all drawn at once: how things are first, then by how much they change; those
    that look the same in one card. filled_in : edits as the core knows them.
    """
    tried = [edits.apply(document, filled_in([one.edit])) for one in candidates]
    drawn = pictures.tried_together(owner, [document, *tried], part)
    small = [one.astype(np.float32) / 255 for one in drawn]
    cards: list[tuple[Candidate, list[str], float, np.ndarray]] = []
    order = sorted(
        range(len(candidates)),
        key=lambda n: (not candidates[n].now, np.abs(small[n + 1] - small[0]).mean()),
    )
    for n in order:
        picture = small[n + 1]
        same = next((card for card in cards if np.abs(card[3] - picture).mean() < ALIKE), None)
        if same is not None:
            same[1].append(candidates[n].words)
        else:
            change = float(np.abs(picture - small[0]).mean())
            cards.append((candidates[n], [], change, picture))
    return [Shown(one, tuple(others), change) for one, others, change, _ in cards]
