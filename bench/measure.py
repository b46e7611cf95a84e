"""Timing: medians and the 95th percentile of repeated work, and what the memory can do."""

import time

import numpy as np


def times(work, repeats: int) -> list[float]:
    """Sorted seconds of each run."""
    found = []
    for _ in range(repeats):
        begun = time.perf_counter()
        work()
        found.append(time.perf_counter() - begun)
    return sorted(found)


def median(work, repeats: int = 5) -> float:
    return times(work, repeats)[repeats // 2]


def p95(found: list[float]) -> float:
    return found[min(len(found) - 1, int(len(found) * 0.95))]


def bandwidth() -> float:
    """Bytes a second, read and written, of copying 64 MB that is in memory already."""
    source, target = np.ones(16_000_000, np.float32), np.empty(16_000_000, np.float32)
    np.copyto(target, source)
    return 2 * source.nbytes / median(lambda: np.copyto(target, source))


def say(what: str, value: str, note: str = "") -> None:
    print(f"{what:66s} {value:>12s}  {note}".rstrip(), flush=True)


def ms(seconds: float) -> str:
    return f"{seconds * 1000:.1f} ms"
