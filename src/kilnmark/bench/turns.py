"""Who is next: for each bench only its newest picture is worth finishing."""

import threading

from cachetools import LRUCache

MOST_BENCHES = 2000


class Turns:
    def __init__(self):
        self._newest: LRUCache = LRUCache(MOST_BENCHES)
        self._lock = threading.Lock()

    def supersede(self, bench, sequence: int):
        """Note the newest request of a bench; returns a function that says whether this one is out
        of date.
        """
        with self._lock:
            self._newest[bench] = max(sequence, self._newest.get(bench, sequence))
        return lambda: self._newest.get(bench, sequence) > sequence


turns = Turns()
