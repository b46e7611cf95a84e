"""The list of stroke files that a landing has: one more, one taken back or changed, all turned
round.

Each new stroke is a file of its own, until PACK of them in a row become one: so neither the
document nor its history grows with the square of the strokes, and what is drawn of a whole pack is
kept (see `kilncore.planes.strokes`).
"""

import bisect
import itertools
from collections.abc import Callable

from kilncore.errors import KilnError
from kilncore.graph.protocols import Assets
from kilncore.strokes.files import (
    Loose,
    file_of,
    loose,
    pack_of,
    packed,
    told_in,
    turned_round,
)
from kilncore.strokes.stroke import FARTHEST, MOST_FILES, PACK, WIDEST, Stroke

EVERYTHING = Stroke(points=((-FARTHEST, 0), (FARTHEST, 0)), radius=WIDEST, hardness=1)


def added(touch: list[str], stroke: Stroke, assets: Assets) -> list[str]:
    """The files with a stroke more, which the assets keep. KilnError if there are too many."""
    touch = [*touch, assets.keep(file_of(stroke))]
    loose = 0
    while loose < len(touch) and len(assets.strokes(touch[-1 - loose])) == 1:
        loose += 1
    if loose >= PACK:
        first = len(touch) - loose
        touch = [
            *touch[:first],
            assets.keep(pack_of([assets.data(name) for name in touch[first : first + PACK]])),
            *touch[first + PACK :],
        ]
    return _bounded(touch)


def taken_back(touch: list[str], number: int, assets: Assets, stroke_id: int = 0) -> list[str]:
    """The files without the stroke of that number, counted from 0, or from -1 backwards: as if it
    had never been drawn. stroke_id : its id, if it has one: then it is found wherever it is by now.
    KilnError if there is none.
    """
    place, within = _found(touch, number, stroke_id, assets)
    later = [one for name in touch[place:] for one in loose(assets.data(name))]
    del later[within]
    return [*touch[:place], *_packed(later, assets)]


def replaced(
    touch: list[str],
    number: int,
    change: Callable[[Stroke], Stroke],
    assets: Assets,
    stroke_id: int = 0,
) -> list[str]:
    """The files with one stroke as the change makes it; found as `taken_back` finds it."""
    place, within = _found(touch, number, stroke_id, assets)
    strokes = loose(assets.data(touch[place]))
    (stroke,) = told_in(packed([strokes[within]]))
    strokes[within : within + 1] = loose(file_of(change(stroke)))
    return [*touch[:place], assets.keep(packed(strokes)), *touch[place + 1 :]]


def _found(touch: list[str], number: int, stroke_id: int, assets: Assets) -> tuple[int, int]:
    """(which file, which of its strokes) a number means; of those of that id the nearest to it."""
    strokes = [assets.strokes(name) for name in touch]
    counts = [len(one) for one in strokes]
    total = sum(counts)
    number = number if number >= 0 else total + number
    if stroke_id:
        ids = [one.id for file in strokes for one in file]
        known = [n for n, one in enumerate(ids) if one == stroke_id]
        number = min(known, key=lambda n: abs(n - number), default=-1)
    if not 0 <= number < total:
        raise KilnError("This stroke is no longer there.", str(number))
    place = bisect.bisect_right(list(itertools.accumulate(counts)), number)
    return place, number - sum(counts[:place])


def inverted(touch: list[str], assets: Assets) -> list[str]:
    """The files of what hides all that was shown, and shows all that was hidden: everything is
    hidden first, and each stroke is turned round. Twice is as it was.
    """
    strokes = [one for name in touch for one in loose(assets.data(name))]
    (everything,) = loose(file_of(EVERYTHING))
    if strokes[:1] == [everything]:
        strokes = strokes[1:]
    else:
        strokes = [turned_round(everything), *strokes]
    return _bounded(_packed([turned_round(one) for one in strokes], assets))


def _packed(strokes: list[Loose], assets: Assets) -> list[str]:
    """The names of the files: whole packs, and what is left one by one."""
    whole = len(strokes) // PACK * PACK
    packs = [strokes[n : n + PACK] for n in range(0, whole, PACK)]
    return [assets.keep(packed(one)) for one in (*packs, *([one] for one in strokes[whole:]))]


def _bounded(touch: list[str]) -> list[str]:
    if len(touch) > MOST_FILES:
        raise KilnError(
            "There are too many strokes here already. Undo some of them, or touch up another step."
        )
    return touch
