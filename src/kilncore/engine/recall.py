"""What was measured a moment ago, for drafts while a hand moves things.

An aim, a surface's facts, a mean tone: they are read from all over an item at full size, and change
little while it is dragged. A draft takes those of the last picture in which they were known; the
exact picture never does. What a draft took is part of its nodes' keys, so that nothing drawn by it
is ever taken for more.
"""

import threading
from typing import Any

from cachetools import LRUCache

from kilncore.engine.reader import SHARED_CACHE
from kilncore.graph.plane import WholeValue
from kilncore.system.cache import ByteCache

REMEMBERED = 400


class Recall:
    """Of one piece."""

    def __init__(self, cache: ByteCache = SHARED_CACHE):
        self._cache, self._known = cache, LRUCache(REMEMBERED)
        self._lock = threading.Lock()

    def of(self, step: Any, planes: dict) -> dict:
        """The planes of a step, with the values of before in the place of those that are not known
        yet. A step that is set otherwise takes none.
        """
        return {name: self._value(step, name, plane) for name, plane in planes.items()}

    def note(self, built: Any) -> None:
        """Remember what is known of a picture's steps now."""
        for made in built.landings.values():
            if hasattr(made, "step"):
                self.of(made.step, made.planes)

    def _value(self, step: Any, name: str, plane: Any):
        if not isinstance(plane, WholeValue) or not plane.recalled:
            return plane
        setting = step.id, name, step.kind, step.params.model_dump_json()
        with self._lock:
            if plane.key in self._cache:
                self._known[setting] = plane
                return plane
            before = self._known.get(setting)
        return before if before is not None and before.key in self._cache else plane
