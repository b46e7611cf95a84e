"""Memory that is freed stays with the process.

A tile's picture is a few megabytes; the C library gives such blocks back to the system at once, and
asking for them again costs a page fault for every 4 kB: a third of the time of a composite. Told to
keep them, it hands the same memory out again. It keeps them in its first arena alone: what a thread
frees in one of its own goes back whole, so all threads share the first. `release_freed` returns
what is not in use, after a firing for instance.
"""

import ctypes
import os
from pathlib import Path

from kilncore.system.hardware import MEMORY

M_TRIM_THRESHOLD, M_MMAP_THRESHOLD, M_ARENA_MAX = -1, -3, -8  # <malloc.h> of the GNU C library
LARGEST_BLOCK = 32 * 2**20  # the most that it accepts
KEPT = min(512 * 2**20, MEMORY // 32)
SETTINGS = ((M_MMAP_THRESHOLD, LARGEST_BLOCK), (M_TRIM_THRESHOLD, KEPT), (M_ARENA_MAX, 1))


def _library():
    try:
        return ctypes.CDLL(None)
    except OSError:
        return None


def retain_freed() -> bool:
    """False where the C library knows no such setting: everything works there, only slower."""
    mallopt = getattr(_library(), "mallopt", None)
    return bool(mallopt and all([mallopt(*setting) for setting in SETTINGS]))


def release_freed() -> None:
    """Give memory that is not in use back to the system, where the C library can."""
    trim = getattr(_library(), "malloc_trim", None)
    if trim:
        trim(ctypes.c_size_t(0))


def resident() -> int:
    """Bytes that the process has in memory now; 0 where the system does not tell."""
    try:
        pages = int(Path("/proc/self/statm").read_text().split()[1])
    except (OSError, ValueError, IndexError):
        return 0
    return pages * os.sysconf("SC_PAGE_SIZE")
