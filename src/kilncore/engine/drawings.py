"""Art as it is placed, told from its settings once: those that an edit leaves alone are the same
object in the next document.
"""

import threading
from typing import Any

from cachetools import LRUCache

from kilncore.artwork.base import Drawing
from kilncore.geometry.affine import Affine
from kilncore.perspective.projection import Projection

_DRAWINGS, _LOCK = LRUCache(4096), threading.Lock()


def drawing_of(art: Any, placed: Affine, projection: Projection | None, *more: Any) -> Drawing:
    """A drawing of art, laid in perspective where there is a projection. more : scale, ppi, and the
    height of the piece in px.
    """
    key = id(art), placed, projection, more
    with _LOCK:
        known = _DRAWINGS.get(key)
    if known is None or known[0] is not art:  # an id may be another's by now
        laid = art.laid(placed, projection, *more) if projection else art.drawing(placed, *more)
        known = art, laid
        with _LOCK:
            _DRAWINGS[key] = known
    return known[1]
