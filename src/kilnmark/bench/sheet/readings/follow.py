"""What is read of a mark that follows a surface: how far it is moved, and where it tears."""

import json

from kilncore.document import Piece, Step
from kilncore.engine.followed import MAY_FOLD, MOST_TIMES, Followed, followed
from kilncore.graph.keys import key_of
from kilncore.steps.follow_settings import BENEATH, GROUND, TEXTURE
from kilncore.system.budget import READINGS
from kilncore.system.cache import ByteCache
from kilnmark.bench.sheet.readings.told import Aim, Readings, Told
from kilnmark.storage import assets

KEPT = ByteCache(READINGS)
LEAST_SAID, SAME = 0.0005, 0.02
FLAT = "This map is flat: nothing will move."


def readings(piece: Piece, part: str, step: Step) -> Readings:
    """Of a Follow; nothing where there is nothing of the mark."""
    key = key_of("followed", piece, part, step.id)
    found = KEPT.get(key, lambda: (followed(piece, step.id, assets()),))[0]
    if found is None:
        return Readings()
    path = [*piece.way_to(part), "treatment", step.id, "params"]
    if found.flat and (step.params.across.value or step.params.down.value):
        return Readings(notes=(FLAT,), aims=tuple(_other_maps(step, path)))
    told = (
        Told("Moved at most", _length(found.largest_px, found.largest_mm)),
        Told("Moved typically", _length(found.typical_px, found.typical_mm)),
        _torn(found),
    )
    return Readings(told, _strongest(found, step, path))


def _length(px: float, mm: float) -> str:
    return f"{px:.1f} px, {mm:.2g} mm"


def _torn(found: Followed) -> Told:
    share = 100 * found.torn
    value = "nowhere" if found.torn < LEAST_SAID else f"{share:.1f} % of it"
    layer = "torn" if found.torn >= LEAST_SAID else ""
    return Told("Torn", value, found.torn > MAY_FOLD, layer=layer, more="Folded over itself")


def _strongest(found: Followed, step: Step, path: list) -> tuple[Aim, ...]:
    """Both amounts as large as they can be without tearing, in their own units."""
    if abs(found.times - 1) < SAME or found.times >= MOST_TIMES:
        return ()
    edits = []
    for name in ("across", "down"):
        length = getattr(step.params, name)
        value = int(length.value * found.times * 100) / 100  # never more
        told = {"value": value, "unit": length.unit}
        edits.append({"op": "set", "path": [*path, name], "value": told})
    more = f"{found.times:.2f} times as strong as now: hardly any of the mark folds over itself"
    return (Aim("As strong as it can be", json.dumps(edits), more),)


def _other_maps(step: Step, path: list):
    """What else can be followed."""
    titles = {
        BENEATH: "Follow all beneath",
        GROUND: "Follow the ground",
        TEXTURE: "Follow a texture",
    }
    for name, words in titles.items():
        if name != step.params.map:
            edit = {"op": "set", "path": [*path, "map"], "value": name}
            yield Aim(words, json.dumps([edit]))
