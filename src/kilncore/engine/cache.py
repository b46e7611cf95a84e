"""Values by content key, the least recently used dropped when a byte budget is spent.

Nothing is ever invalidated: a changed input is another key. Two threads that want one value do its work once. What is
larger than the whole budget is kept beside it, the last few of a kind: it is made once, not for every tile.
"""

import threading
from collections import OrderedDict
from collections.abc import Callable

from kilncore.machine import MEMORY

BUDGET = max(256 * 2**20, MEMORY // 16)
OVERSIZED_KEPT = 3
LEAST_BYTES = 200  # of a value with its key


class TileCache:
    def __init__(self, budget: int = BUDGET):
        self.budget = budget
        self._tiles: OrderedDict = OrderedDict()
        self._oversized: OrderedDict = OrderedDict()
        self._sizes: dict = {}
        self._bytes = 0
        self._under_way: dict = {}
        self._lock = threading.Lock()

    def __contains__(self, key) -> bool:
        return key in self._tiles or key in self._oversized

    @property
    def bytes(self) -> int:
        """What is held within the budget."""
        return self._bytes

    def get(self, key, make: Callable):
        """The value of that key, made now if nobody has it. What `make` raises reaches only its own caller."""
        while True:
            with self._lock:
                for held in (self._tiles, self._oversized):
                    if key in held:
                        held.move_to_end(key)
                        return held[key]
                waiting = self._under_way.get(key)
                if waiting is None:
                    waiting = self._under_way[key] = threading.Event()
                    break
            # the graph has no circles, so whoever makes this tile never waits for one of ours
            waiting.wait()
        try:
            value = make()
            self.put(key, value)
            return value
        finally:
            with self._lock:
                del self._under_way[key]
            waiting.set()

    def found(self, key):
        """The value of that key, or None."""
        with self._lock:
            for held in (self._tiles, self._oversized):
                if key in held:
                    held.move_to_end(key)
                    return held[key]
        return None

    def put(self, key, value) -> None:
        size = size_of(value)
        with self._lock:
            if size > self.budget:
                self._oversized[key] = value
                if len(self._oversized) > OVERSIZED_KEPT:
                    self._oversized.popitem(last=False)
                return
            self._bytes += size - self._sizes.get(key, 0)
            self._tiles[key], self._sizes[key] = value, size
            while self._bytes > self.budget:
                dropped, _ = self._tiles.popitem(last=False)
                self._bytes -= self._sizes.pop(dropped)

    def drop(self, key) -> None:
        with self._lock:
            self._oversized.pop(key, None)
            if self._tiles.pop(key, None) is not None:
                self._bytes -= self._sizes.pop(key)


def size_of(value) -> int:
    """Bytes that a value holds, in arrays and strings of bytes above all."""
    if isinstance(value, tuple | list):
        return LEAST_BYTES + sum(map(size_of, value))
    if isinstance(value, bytes | str):
        return LEAST_BYTES + len(value)
    return LEAST_BYTES + getattr(value, "nbytes", 0)
