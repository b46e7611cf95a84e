"""Tiles by content key, the least recently used dropped when a byte budget is spent.

Nothing is ever invalidated: a changed input is another key. Two threads that want one tile do its work once.
"""

import threading
from collections import OrderedDict
from collections.abc import Callable

BUDGET = 1_500 * 2**20


class TileCache:
    def __init__(self, budget: int = BUDGET):
        self.budget = budget
        self._tiles: OrderedDict = OrderedDict()
        self._bytes = 0
        self._under_way: dict = {}
        self._lock = threading.Lock()

    def __contains__(self, key) -> bool:
        return key in self._tiles

    def get(self, key, make: Callable):
        """The value of that key, made now if nobody has it. What `make` raises reaches only its own caller."""
        while True:
            with self._lock:
                if key in self._tiles:
                    self._tiles.move_to_end(key)
                    return self._tiles[key]
                waiting = self._under_way.get(key)
                if waiting is None:
                    waiting = self._under_way[key] = threading.Event()
                    break
            # the graph has no circles, so whoever makes this tile never waits for one of ours
            waiting.wait()
        try:
            value = make()
            self._keep(key, value)
            return value
        finally:
            with self._lock:
                del self._under_way[key]
            waiting.set()

    def _keep(self, key, value) -> None:
        with self._lock:
            self._tiles[key] = value
            self._bytes += _size(value)
            while self._bytes > self.budget and len(self._tiles) > 1:
                _, dropped = self._tiles.popitem(last=False)
                self._bytes -= _size(dropped)


def _size(value) -> int:
    if isinstance(value, tuple):
        return sum(map(_size, value))
    return len(value) if isinstance(value, bytes) else getattr(value, "nbytes", 64)
