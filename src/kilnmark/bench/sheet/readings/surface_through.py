"""What is read of a surface that comes through a mark: how much of the mark it covers."""

from kilncore.document import Piece, Step
from kilncore.engine.matched import share_through
from kilncore.graph.keys import key_of
from kilncore.system.budget import READINGS
from kilncore.system.cache import ByteCache
from kilnmark.bench.sheet.readings.told import Readings, Told
from kilnmark.storage import assets

KEPT = ByteCache(READINGS)
HARDLY, MOST = 0.005, 0.8
NOTHING = "Nothing comes through: take more of the surface, or open the ranges of its landing."


def readings(piece: Piece, part: str, step: Step) -> Readings:
    """Nothing of one that is off."""
    if not step.on:
        return Readings()
    key = key_of("share through", piece, part, step.id)
    share = KEPT.get(key, lambda: (share_through(piece, part, step.id, assets()),))[0]
    if share is None:
        return Readings()
    notes = (NOTHING,) if share < HARDLY else ()
    told = Told("Comes through on", f"{100 * share:.0f} % of the mark", share > MOST)
    return Readings((told,), notes=notes)
