"""Who is next: for each bench only its newest picture is worth finishing."""

import threading
from collections import OrderedDict

MOST_BENCHES = 2000


class Turns:
    def __init__(self):
        self._newest: OrderedDict = OrderedDict()
        self._lock = threading.Lock()

    def take(self, bench, sequence: int):
        """Note the newest request of a bench; returns a function that says whether this one is out of date."""
        with self._lock:
            self._newest[bench] = max(sequence, self._newest.get(bench, sequence))
            self._newest.move_to_end(bench)
            while len(self._newest) > MOST_BENCHES:
                self._newest.popitem(last=False)
        return lambda: self._newest.get(bench, sequence) > sequence


turns = Turns()
