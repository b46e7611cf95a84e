"""Work on a whole picture, a band of rows on each processor at once."""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

from kilncore.system.hardware import PROCESSORS

LEAST_ROWS = 64  # of a band: for less, a thread costs more than it saves
_threads = ThreadPoolExecutor(PROCESSORS, thread_name_prefix="bands")


def in_bands(height: int, work: Callable[[int, int], None]) -> None:
    """work(top, bottom) for bands that make up `height` rows; what one raises is raised. The work
    must let go of the interpreter, as kernels do, and wait for no other band.
    """
    count = max(1, min(PROCESSORS, height // LEAST_ROWS))
    edges = [height * n // count for n in range(count + 1)]
    if count == 1:
        return work(0, height)
    for _ in _threads.map(work, edges[:-1], edges[1:]):
        pass
