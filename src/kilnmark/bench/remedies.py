"""Readings that warn, each with what can be done about it in one click."""

import json
from dataclasses import dataclass

from kilncore.document import Piece, Step
from kilncore.engine.dead_tones import DEAD, dead_share
from kilncore.errors import KilnError
from kilnmark.storage import assets

WARNED_FROM = 0.05  # of the mark
LIFTED, LOWERED = 0.06, 0.94  # as little as shows


@dataclass(frozen=True)
class Remedy:
    """edit : what a click on it does, as JSON."""

    words: str
    edit: str


@dataclass(frozen=True)
class Warned:
    words: str
    remedies: tuple[Remedy, ...]


def warned_of(piece: Piece, part: str, step: Step, place: int) -> tuple[Warned, ...]:
    """Of a step at its place in the treatment of a part."""
    mode = step.landing.mode
    if step.kind != "coat" or not step.on or step.params.texture is None:
        return ()
    try:
        share = dead_share(piece, step.id, mode, assets())
    except KilnError:
        return ()  # a lost file is told where it is drawn
    if share < WARNED_FROM:
        return ()
    dead = DEAD[mode]
    tones = {(0.0,): "pure black", (1.0,): "pure white"}.get(dead, "pure black or white")
    words = (
        f"{100 * share:.0f} % of this mark is {tones}: {mode.replace('-', ' ')} cannot show there."
    )
    lift = {"lift": LIFTED} if 0.0 in dead else {}
    lower = {"lower": LOWERED} if 1.0 in dead else {}
    told = " and ".join(
        [*(["lift blacks to 6 %"] if lift else []), *(["lower whites to 94 %"] if lower else [])]
    )
    edit = {"op": "add_step", "part": part, "kind": "tones", "params": lift | lower, "at": place}
    return (Warned(words, (Remedy(told.capitalize(), json.dumps(edit)),)),)
