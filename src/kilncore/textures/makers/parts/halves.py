"""Rows of a picture drawn on all threads: each row is drawn by itself, so that the number of
threads changes nothing.
"""

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor

THREADS = 2


def by_rows(height: int, draw: Callable) -> list:
    """What draw(first row, end) gave for each stretch of rows, in order."""
    ends = [height * n // THREADS for n in range(THREADS + 1)]
    with ThreadPoolExecutor(THREADS) as pool:
        return list(pool.map(draw, ends[:-1], ends[1:]))
