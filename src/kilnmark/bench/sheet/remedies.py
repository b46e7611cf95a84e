"""Readings that warn, each with what can be done about it in one click."""

import json
from dataclasses import dataclass

from kilncore.blending.modes import BLEND_MODES
from kilncore.document import Piece, Step
from kilncore.engine.dead_tones import DEAD, dead_share, least_lift
from kilncore.errors import KilnError
from kilncore.steps import STEPS
from kilnmark.storage import assets

LETS_THROUGH = ("multiply", "darken", "color-burn", "overlay", "soft-light", "hard-light", "screen")
WARNED_FROM = 0.05  # of the mark


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
    if step.kind == "surface_through" and step.on:
        return _shown_twice(piece, part)
    mode = step.landing.mode
    if step.kind != "coat" or not step.on or step.params.texture is None:
        return ()
    if STEPS["coat"].own_mode(step.params):
        return ()
    try:
        share = dead_share(piece, step.id, mode, assets())
    except KilnError:
        return ()  # a lost file is told where it is drawn
    if share < WARNED_FROM:
        return ()
    dead = DEAD[mode]
    tones = {(0.0,): "pure black", (1.0,): "pure white"}.get(dead, "pure black or white")
    title = BLEND_MODES[mode].title.lower()
    words = f"{100 * share:.0f} % of this mark is {tones}: {title} cannot show there."
    return (Warned(words, (_lifted(part, step, place), _both(piece, part, step))),)


def _shown_twice(piece: Piece, part: str) -> tuple[Warned, ...]:
    """A mark that lets the surface through as it lands shows it again where a step lays it on."""
    if part in ("ground", "piece") or piece.item(part).landing.mode not in LETS_THROUGH:
        return ()
    landing = piece.item(part).landing
    mode = BLEND_MODES[landing.mode].title.lower()
    words = (
        f"This mark lands as {mode}, through which its surface shows already: here it shows twice."
    )
    edit = {"op": "set", "path": [*piece.way_to(part), "landing", "mode"], "value": "normal"}
    return (Warned(words, (Remedy("Let the mark land as normal", json.dumps(edit)),)),)


def _lifted(part: str, step: Step, place: int) -> Remedy:
    """Blacks lifted and whites lowered by as little as works."""
    told, params = [], {}
    for tone in DEAD[step.landing.mode]:
        by = least_lift(
            step.landing.mode, tone, step.params.texture, step.landing.strength, assets()
        )
        if tone == 0:
            params["lift"] = by
            told.append(f"lift blacks to {100 * by:.0f} %")
        else:
            params["lower"] = round(1 - by, 2)
            told.append(f"lower whites to {100 - 100 * by:.0f} %")
    edit = {"op": "add_step", "part": part, "kind": "tones", "params": params, "at": place}
    return Remedy(" and ".join(told).capitalize(), json.dumps(edit))


def _both(piece: Piece, part: str, step: Step) -> Remedy:
    path = [*piece.way_to(part), "treatment", step.id, "params", "way"]
    return Remedy(
        "Into lights and darks instead", json.dumps({"op": "set", "path": path, "value": "both"})
    )
