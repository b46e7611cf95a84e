"""What is read of a worn mark, in words."""

import json

from kilncore.document import Piece, Step
from kilncore.engine.worn import Worn, worn
from kilncore.graph.keys import key_of
from kilncore.system.budget import READINGS
from kilncore.system.cache import ByteCache
from kilnmark.bench.sheet.readings.told import Readings, Told
from kilnmark.storage import assets

KEPT = ByteCache(READINGS)
THIN_MM, POOR, UNREADABLE = 0.15, 0.6, 0.8


def readings(piece: Piece, part: str, step: Step) -> Readings:
    """Of a wear; nothing where there is nothing to read."""
    key = key_of("worn", piece, part, step.id)
    found = KEPT.get(key, lambda: (worn(piece, part, step.id, assets()),))[0]
    return Readings() if found is None else Readings(tuple(_told(found)))


WORN_THROUGH_MM = 0.005


def _told(found: Worn) -> list[Told]:
    told = [Told("Taken away", f"{100 * found.taken:.1f} %", found.taken > 0.9)]
    if found.thinnest_was_mm:
        through = found.thinnest_mm < WORN_THROUGH_MM
        value = f"{_mm(found.thinnest_mm)}, {_px(found.thinnest_px)}"
        value = "one is worn through" if through else value
        warns = found.thinnest_mm < min(THIN_MM, found.thinnest_was_mm / 2)
        place, was = json.dumps(found.thinnest_place), f"was {_mm(found.thinnest_was_mm)}"
        told.append(Told("Thinnest stroke", value, warns, place, was))
    if found.hole_px:
        value, place = f"{_mm(found.hole_mm)}, {_px(found.hole_px)}", json.dumps(found.hole_place)
        told.append(Told("Largest hole", value, False, place))
    if found.worst:
        name = found.worst.name[:1].upper() + found.worst.name[1:]
        keeps = f"{100 * found.worst.keeps:.0f} %"
        place = json.dumps(found.worst.place)
        told.append(Told(f"{name} keeps", keeps, found.worst.keeps < POOR, place))
    readable = f"{100 * found.readable:.0f} % like the clean"
    told.append(Told("At 64 px", readable, found.readable < UNREADABLE))
    return told


def _mm(length: float) -> str:
    return f"{length:.2g} mm" if length >= 0.005 else "0 mm"


def _px(length: float) -> str:
    return f"{length:.0f} px" if length >= 3 or length < 0.05 else f"{length:.1f} px"
