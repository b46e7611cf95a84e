"""One pool of threads for all pictures of the process, one for each processor.

Each picture has at most as many pieces of work in line as there are threads, so a large firing and
a small draft take turns: a thread that has done one piece puts the next of the same picture in
line, without waking whoever waits for the whole. Who draws at rest, or fires, lets drafts by for a
while. What has to be waited for (a child process that draws) is waited for by other threads: those
of the pool only ever work.
"""

import threading
from collections.abc import Callable, Iterable
from concurrent.futures import ThreadPoolExecutor
from functools import partial
from heapq import heappop, heappush
from itertools import count
from time import monotonic
from typing import Any

from kilncore.system.hardware import PROCESSORS

THREADS = max(2, min(PROCESSORS, 8))
END = object()
DRAFT, REST, FIRING = 0.0, 0.6, 2.0  # seconds that a piece of work may wait longer than a draft's
_pool = ThreadPoolExecutor(THREADS, thread_name_prefix="kiln")
_line, _line_lock, _ticket = [], threading.Lock(), count()
_last = monotonic()
_waiters = ThreadPoolExecutor(8, thread_name_prefix="kiln-waits")
# wait for rounds of the pool, which may wait for waiters: never the same threads
_minders = ThreadPoolExecutor(THREADS, thread_name_prefix="kiln-minds")


def each(
    work: Callable,
    items: Iterable,
    at_once: int = THREADS,
    ahead: Callable = lambda item: None,
    patience: float = DRAFT,
) -> None:
    """Run work(item) for every item, `at_once` at a time; the first error ends it and is raised.

    ahead : item -> what has to be waited for before it is worked on, as a function, or None.
    patience : how many seconds later than a draft's it may be done.
    """
    _Round(work, items, at_once, ahead, patience).run()


def waited_for(wait: Callable, items: list) -> None:
    """wait(item) for every item, by whoever asks and by waiting threads that are free: none of them
    is depended on. The first error is raised, and leaves those that nobody took.
    """
    _shared(wait, items, _waiters, THREADS)


def side_by_side(work: Callable, items: list, at_once: int = THREADS) -> None:
    """The same of work that itself waits for rounds of this pool."""
    _shared(work, items, _minders, at_once)


def _shared(work: Callable, items: list, threads: ThreadPoolExecutor, at_once: int) -> None:
    left, lock, errors = iter(items), threading.Lock(), []

    def some() -> None:
        while True:
            with lock:
                item = next(left, END) if not errors else END
            if item is END:
                return
            try:
                work(item)
            except BaseException as error:
                errors.append(error)

    helpers = [threads.submit(some) for _ in range(min(len(items), at_once) - 1)]
    some()
    for helper in helpers:
        if not helper.cancel():
            helper.result()
    if errors:
        raise errors[0]


def _submit(patience: float, work: Callable, *given: Any) -> None:
    """Put work in line by when it should be done: whoever can wait lets others by, but not for
    ever.
    """
    global _last
    with _line_lock:
        _last = monotonic()
        heappush(_line, (monotonic() + patience, next(_ticket), work, given))
    _pool.submit(_most_urgent)


def idle_seconds() -> float:
    """For how long nothing was put in line."""
    return monotonic() - _last


def _most_urgent() -> None:
    with _line_lock:
        _, _, work, given = heappop(_line)
    work(*given)


class _Round:
    def __init__(
        self, work: Callable, items: Iterable, at_once: int, ahead: Callable, patience: float
    ):
        self.work, self.waiting, self.running, self.ahead, self.patience = (
            work,
            iter(items),
            at_once,
            ahead,
            patience,
        )
        self.lock, self.ended = threading.Lock(), threading.Event()
        self.error: BaseException | None = None

    def run(self) -> None:
        for _ in range(self.running):
            _submit(self.patience, self._one)
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

    def _waited(self, wait: Callable, item: Any) -> None:
        try:
            wait()
        except BaseException as error:
            self.error = self.error or error
            _submit(self.patience, self._one)
        else:
            _submit(self.patience, self._worked, item)

    def _worked(self, item: Any) -> None:
        try:
            self.work(item)
        except BaseException as error:
            self.error = self.error or error
        _submit(self.patience, self._one)

    def _less_one(self) -> None:
        with self.lock:
            self.running -= 1
            if not self.running:
                self.ended.set()


def _raise(error: BaseException) -> None:
    raise error
