"""One pool of threads for all pictures of the process, one for each processor.

Each picture has at most as many pieces of work in the queue as there are threads, so a large firing and a small draft take turns: a thread that has
done one piece puts the next of the same picture at the queue's end, without waking whoever waits for the whole. What has
to be waited for (a child process that draws) is waited for by other threads: those of the pool only ever work.
"""

import threading
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from functools import partial

from kilncore.machine import PROCESSORS

THREADS = max(2, min(PROCESSORS, 8))
END = object()
_pool = ThreadPoolExecutor(THREADS, thread_name_prefix="kiln")
_waiters = ThreadPoolExecutor(8, thread_name_prefix="kiln-waits")


def each(work: Callable, items: Iterable, at_once: int = THREADS, ahead: Callable = lambda item: None) -> None:
    """Run work(item) for every item, `at_once` at a time; the first error ends it and is raised.

    ahead : item -> what has to be waited for before it is worked on, as a function, or None.
    """
    _Round(work, items, at_once, ahead).run()


class _Round:
    def __init__(self, work: Callable, items: Iterable, at_once: int, ahead: Callable):
        self.work, self.waiting, self.running, self.ahead = work, iter(items), at_once, ahead
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
            wait = self.ahead(item)
        except BaseException as error:
            wait = partial(_raise, error)
        if wait is None:
            self._worked(item)
        else:
            _waiters.submit(self._waited, wait, item)

    def _waited(self, wait: Callable, item) -> None:
        try:
            wait()
        except BaseException as error:
            self.error = self.error or error
            _pool.submit(self._one)
        else:
            _pool.submit(self._worked, item)

    def _worked(self, item) -> None:
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


def _raise(error: BaseException) -> None:
    raise error
