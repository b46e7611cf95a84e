"""One pool of two threads for all pictures of the process.

Each picture has at most two pieces of work in the queue, so a large firing and a small draft take turns.
"""

from collections.abc import Callable, Iterable
from concurrent.futures import FIRST_COMPLETED, ThreadPoolExecutor, wait

THREADS = 2
_pool = ThreadPoolExecutor(THREADS, thread_name_prefix="kiln")


def each(work: Callable, items: Iterable, at_once: int = THREADS) -> None:
    """Run work(item) for every item, `at_once` at a time; the first error ends it and is raised."""
    pending = set()
    try:
        for item in items:
            if len(pending) >= at_once:
                done, pending = wait(pending, return_when=FIRST_COMPLETED)
                for future in done:
                    future.result()
            pending.add(_pool.submit(work, item))
    finally:
        done, _ = wait(pending)
    for future in done:
        future.result()
