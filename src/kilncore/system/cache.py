"""Values by key within a byte budget, the least recently used dropped first.

Nothing is ever invalidated: a changed input is another key. Two threads that want one value have it
built once. What is larger than the whole budget is kept beside it, the last few of a kind, or the
last alone where they are very large: it is built once, not for every tile.
"""

import threading
import weakref
from collections.abc import Callable, Hashable
from typing import Any

from cachetools import LRUCache, cached

from kilncore.system.budget import TOTAL, budget_of

OVERSIZED_KEPT, OVERSIZED_BYTES = 3, TOTAL // 4
LEAST_BYTES = 200  # of a value with its key


class _Budgeted(LRUCache):
    """An LRU cache that keeps the last few values which are larger than its budget."""

    def __init__(self, budget: int):
        super().__init__(budget, getsizeof=size_of)
        self.oversized = LRUCache(OVERSIZED_KEPT)

    def __contains__(self, key: Hashable) -> bool:
        return super().__contains__(key) or key in self.oversized

    def __missing__(self, key: Hashable):
        return self.oversized[key]

    def __setitem__(self, key: Hashable, value: Any) -> None:
        if size_of(value) > self.maxsize:
            if super().__contains__(key):
                super().__delitem__(key)
            self.oversized[key] = value
            while len(self.oversized) > 1 and self._beside > OVERSIZED_BYTES:
                self.oversized.popitem()
        else:
            self.oversized.pop(key, None)
            super().__setitem__(key, value)

    @property
    def _beside(self) -> int:
        return sum(map(size_of, self.oversized.values()))


class ByteCache:
    """budget : bytes that may be held. Safe to use from any thread."""

    every: "weakref.WeakSet[ByteCache]" = weakref.WeakSet()

    def __init__(self, budget: int = budget_of("drawn")):
        ByteCache.every.add(self)
        self._values, self._condition = _Budgeted(budget), threading.Condition()
        self._get = cached(self._values, key=lambda key, make: key, condition=self._condition)(
            lambda key, make: make()
        )

    def __contains__(self, key: Hashable) -> bool:
        return key in self._values

    @property
    def budget(self) -> int:
        """Bytes that may be held."""
        return int(self._values.maxsize)

    @property
    def nbytes(self) -> int:
        """Bytes that are held within the budget."""
        return int(self._values.currsize)

    def get(self, key: Hashable, make: Callable[[], object]):
        """The value of that key, made now if nobody has it. What `make` raises reaches only its own
        caller.
        """
        return self._get(
            key, make
        )  # the graph has no circles: whoever makes a value never waits for one of ours

    def find(self, key: Hashable):
        """The value of that key, or None."""
        with self._condition:
            return self._values[key] if key in self._values else None

    def put(self, key: Hashable, value: object) -> None:
        """Keep a value; one that has grown is counted anew."""
        with self._condition:
            self._values[key] = value

    def recount(self, key: Hashable, value: object) -> None:
        """Count a value anew that may have grown since it was put."""
        with self._condition:
            if key in self._values:
                self._values[key] = value

    def shrink(self, share: float) -> None:
        """Let go of what was not asked for longest, down to that share of the budget."""
        with self._condition:
            self._values.oversized.clear()
            while self._values.currsize > share * self._values.maxsize:
                self._values.popitem()

    def drop(self, key: Hashable) -> None:
        """Forget a value, if it is there."""
        with self._condition:
            self._values.oversized.pop(key, None)
            self._values.pop(key, None)


def size_of(value: object) -> int:
    """Bytes that a value holds, in arrays and strings of bytes above all."""
    if isinstance(value, tuple | list):
        return LEAST_BYTES + sum(map(size_of, value))
    if isinstance(value, bytes | str):
        return LEAST_BYTES + len(value)
    return LEAST_BYTES + getattr(value, "nbytes", 0)
