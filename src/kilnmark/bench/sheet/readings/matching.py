"""What is read of steps that match a mark to its surface: both numbers, and what cannot be
measured.
"""

from kilncore.document import Piece, Step
from kilncore.engine.matched import slope_of, softness_after, surface_of
from kilncore.graph.keys import key_of
from kilncore.steps.soften import MOST_MATCHED
from kilncore.system.budget import READINGS
from kilncore.system.cache import ByteCache
from kilnmark.bench.sheet.readings.told import Readings, Told
from kilnmark.storage import assets

KEPT = ByteCache(READINGS)
NO_EDGE = "No edge here is sharp enough to measure: draw a region that has one."
FEW_EDGES = "Too few edges lie under this mark to tell how they vary: it is softened evenly."
ROUGH = "This surface is rough everywhere: a little of that is laid over the mark, as fine grain."
NO_SURFACE = "There is too little of a surface here to measure: draw a region on it."


def _surface(piece: Piece, step: Step):
    key = key_of("surface of", piece, step.id)
    return KEPT.get(key, lambda: (surface_of(piece, step.id, assets()),))[0]


def soften(piece: Piece, part: str, step: Step) -> Readings:
    """How soft the surface's edges are, and the mark's."""
    if not step.params.match or not step.on:
        return Readings()
    surface = _surface(piece, step)
    if surface is None:
        return Readings(notes=(NO_SURFACE,))
    if surface.softness is None:
        return Readings(notes=(NO_EDGE,))
    if step.params.varies:
        return _varying(piece, step)
    key = key_of("softness after", piece, step.id)
    own = KEPT.get(key, lambda: (softness_after(piece, step.id, assets()),))[0]
    told = [Told("The surface's edges", f"{surface.softness:.1f} px")]
    if own is not None:
        warns = surface.softness > MOST_MATCHED
        told.append(Told("The mark's edges", f"{own:.1f} px", warns))
    return Readings(tuple(told))


def _varying(piece: Piece, step: Step) -> Readings:
    """Between which two a softness varies."""
    key = key_of("slope of", piece, step.id)
    found = KEPT.get(key, lambda: (slope_of(piece, step.id, assets()),))[0]
    if found is None:
        return Readings(notes=(FEW_EDGES,))
    least, most = found
    return Readings((Told("The surface's edges", f"{least:.1f} to {most:.1f} px"),))


def grain(piece: Piece, part: str, step: Step) -> Readings:
    """How grainy the surface is."""
    if not step.params.match or not step.on:
        return Readings()
    surface = _surface(piece, step)
    if surface is None:
        return Readings(notes=(NO_SURFACE,))
    found = surface.grain
    if found.rough:
        own = f"{100 * found.strength:.1f} %, its own roughness"
        size = Told("One grain", f"{found.size_px:.1f} px")
        return Readings((Told("The surface's grain", own), size), notes=(ROUGH,))
    colour = "in colour" if found.colour > 0.3 * found.strength else "of one tone"
    return Readings(
        (
            Told("The surface's grain", f"{100 * found.strength:.1f} %, {colour}"),
            Told("One grain", f"{found.size_px:.1f} px"),
        )
    )


def tones(piece: Piece, part: str, step: Step) -> Readings:
    """Between which tones the surface lies."""
    if not step.params.match or not step.on:
        return Readings()
    surface = _surface(piece, step)
    if surface is None:
        return Readings(notes=(NO_SURFACE,))
    black, white = (round(255 * one) for one in (surface.black, surface.white))
    return Readings((Told("The surface's tones", f"{black} to {white}"),))
