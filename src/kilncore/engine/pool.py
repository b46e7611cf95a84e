"""One pool of threads for all pictures of the process, one for each processor.

Each picture has at most as many pieces of work in the queue as there are threads, so a large firing and a small draft take turns: a thread that has
done one piece puts the next of the same picture at the queue's end, without waking whoever waits for the whole.
"""

import threading
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor

from kilncore.machine import PROCESSORS

THREADS = max(2, min(PROCESSORS, 8))
END = object()
_pool = ThreadPoolExecutor(THREADS, thread_name_prefix="kiln")


def each(work: Callable, items: Iterable, at_once: int = THREADS) -> None:
    """Run work(item) for every item, `at_once` at a time; the first error ends it and is raised."""
    _Round(work, items, at_once).run()


class _Round:
    def __init__(self, work: Callable, items: Iterable, at_once: int):
        self.work, self.waiting, self.running = work, iter(items), at_once
        self.lock, self.ended, self.error = threading.Lock(), threading.Event(), None

    def run(self) -> None:
        for _ in range(self.running):
            _pool.submit(self._one)
        self.ended.wait()
        if self.error is not None:
            raise self.error

    def _one(self) -> None:
        with self.lock:
            item = next(self.waiting, END) if self.error is None else END
        if item is END:
            self._less_one()
            return
        try:
            self.work(item)
        except BaseException as error:
            self.error = self.error or error
        _pool.submit(self._one)

    def _less_one(self) -> None:
        with self.lock:
            self.running -= 1
            if not self.running:
                self.ended.set()
