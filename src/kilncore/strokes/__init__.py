"""What the hand draws: strokes that hide, bring back or add, as small files that never change.

stroke.py is one of them, tip.py what it is drawn with, dabs.py where its dabs lie, covering.py how
much it covers of each pixel, files.py how they are kept, listing.py the list of files that a
landing has, scratches.py and scrapes.py strokes that are laid by a seed.
"""

from kilncore.strokes.files import Drawn, file_of, pack_of, strokes_in
from kilncore.strokes.listing import added, inverted, taken_back
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
    "strokes_in",
    "taken_back",
]
