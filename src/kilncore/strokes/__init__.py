"""What the hand draws: strokes that hide, bring back or add, as small files that never change.

stroke.py is one of them as it is asked for, curves.py its way, tip.py what it is drawn with,
dabs.py where its dabs lie, drawn.py all that together, covering.py how much it covers of each
pixel, files.py how they are kept, listing.py the list of files that a landing has, bending.py how
one is bent, scratches.py and scrapes.py strokes that are laid by a seed.
"""

from kilncore.strokes.drawn import Drawn
from kilncore.strokes.files import file_of, pack_of, strokes_in, told_in
from kilncore.strokes.listing import added, inverted, replaced, taken_back
from kilncore.strokes.stroke import MOST_FILES, PACK, Stroke

__all__ = [
    "MOST_FILES",
    "PACK",
    "Drawn",
    "Stroke",
    "added",
    "file_of",
    "inverted",
    "pack_of",
    "replaced",
    "strokes_in",
    "taken_back",
    "told_in",
]
