"""What is read of a mark that a step treats. A kind of step that has readings is a module here, and
its line below.
"""

from kilncore.document import Piece
from kilnmark.bench.sheet.readings import follow, matching, surface_through, wear
from kilnmark.bench.sheet.readings.told import Aim, Readings, Told

__all__ = ["READERS", "Aim", "Readings", "Told", "readings_of_step"]

READERS = {
    "wear": wear.readings,
    "follow": follow.readings,
    "soften": matching.soften,
    "grain": matching.grain,
    "tones": matching.tones,
    "surface_through": surface_through.readings,
}


def readings_of_step(piece: Piece, part: str, step_id: str) -> Readings:
    """Of one step; nothing where that part has no such step, or it has no readings."""
    for step in piece.treatments().get(part, ()):
        if step.id == step_id and step.kind in READERS:
            return READERS[step.kind](piece, part, step)
    return Readings()
