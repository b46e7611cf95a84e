"""What is read of a worn mark, in words."""

from kilncore.document import Piece
from kilncore.engine.worn import Worn, worn
from kilncore.graph.keys import key_of
from kilncore.system.cache import ByteCache
from kilnmark.storage import assets

KEPT = ByteCache(budget=2**20)
THIN_MM, POOR, UNREADABLE = 0.15, 0.6, 0.8


def readings(piece: Piece, part: str, step_id: str) -> list[tuple[str, bool]]:
    """[(words, whether they warn), ...] of a wear; nothing where there is nothing to read."""
    key = key_of("worn", piece, part, step_id)
    found = KEPT.get(key, lambda: (worn(piece, part, step_id, assets()),))[0]
    return [] if found is None else _told(found)


def _told(found: Worn) -> list[tuple[str, bool]]:
    told = [(f"Takes away {100 * found.taken:.1f} % of the mark.", found.taken > 0.9)]
    if found.thinnest_px:
        words = f"Thinnest stroke left: {found.thinnest_mm:.2g} mm, {found.thinnest_px:.0f} px"
        words += f" (was {found.thinnest_was_mm:.2g} mm)."
        told.append((words, found.thinnest_mm < min(THIN_MM, found.thinnest_was_mm / 2)))
    if found.hole_px:
        told.append((f"Largest hole: {found.hole_mm:.2g} mm, {found.hole_px:.0f} px.", False))
    if found.parts > 1:
        words = f"Part {found.worst} of {found.parts} keeps least: {100 * found.keeps:.0f} %."
        told.append((words, found.keeps < POOR))
    readable = f"At 64 px it is {100 * found.readable:.0f} % like the clean mark."
    told.append((readable, found.readable < UNREADABLE))
    return told
