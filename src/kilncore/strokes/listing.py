"""The list of stroke files that a landing has: one more, one taken back, all turned round.

Each new stroke is a file of its own, until PACK of them in a row become one: so neither the
document nor its history grows with the square of the strokes, and what is drawn of a whole pack is
kept (see `kilncore.planes.strokes`).
"""

import bisect
import itertools

from kilncore.errors import KilnError
from kilncore.graph.protocols import Assets
from kilncore.strokes.files import apart, file_of, pack_of, turned_round
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


def taken_back(touch: list[str], number: int, assets: Assets) -> list[str]:
    """The files without the stroke of that number, counted from 0, or from -1 backwards: as if it
    had never been drawn. KilnError if there is none.
    """
    counts = [len(assets.strokes(name)) for name in touch]
    number = number if number >= 0 else sum(counts) + number
    if not 0 <= number < sum(counts):
        raise KilnError("This stroke is no longer there.", str(number))
    place = bisect.bisect_right(list(itertools.accumulate(counts)), number)
    later = [one for name in touch[place:] for one in apart(assets.data(name))]
    del later[number - sum(counts[:place])]
    return [*touch[:place], *_packed(later, assets)]


def inverted(touch: list[str], assets: Assets) -> list[str]:
    """The files of what hides all that was shown, and shows all that was hidden: everything is
    hidden first, and each stroke is turned round. Twice is as it was.
    """
    files = [one for name in touch for one in apart(assets.data(name))]
    everything = file_of(EVERYTHING)
    if files[:1] == [everything]:
        files = files[1:]
    else:
        files = [turned_round(everything), *files]
    return _bounded(_packed([turned_round(one) for one in files], assets))


def _packed(files: list[bytes], assets: Assets) -> list[str]:
    """The names of single strokes, whole packs of them together."""
    whole = len(files) // PACK * PACK
    packs = [pack_of(files[n : n + PACK]) for n in range(0, whole, PACK)]
    return [assets.keep(one) for one in (*packs, *files[whole:])]


def _bounded(touch: list[str]) -> list[str]:
    if len(touch) > MOST_FILES:
        raise KilnError(
            "There are too many strokes here already. Undo some of them, or touch up another step."
        )
    return touch
