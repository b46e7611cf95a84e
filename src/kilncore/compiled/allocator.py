"""Memory that is freed stays with the process.

A tile's picture is a few megabytes; the C library gives such blocks back to the system at once, and
asking for them again costs a page fault for every 4 kB: a third of the time of a composite. Told to
keep them, it hands the same memory out again. `give_back` returns what is not in use, after a
firing for instance.
"""

import ctypes

M_TRIM_THRESHOLD, M_MMAP_THRESHOLD = -1, -3  # <malloc.h> of the GNU C library
LARGEST_BLOCK = 32 * 2**20  # the most that it accepts
KEPT = 512 * 2**20


def _library():
    try:
        return ctypes.CDLL(None)
    except OSError:
        return None


def retain_freed() -> bool:
    """False where the C library knows no such setting: everything works there, only slower."""
    mallopt = getattr(_library(), "mallopt", None)
    return bool(
        mallopt and mallopt(M_MMAP_THRESHOLD, LARGEST_BLOCK) and mallopt(M_TRIM_THRESHOLD, KEPT)
    )


def release_freed() -> None:
    """Give memory that is not in use back to the system, where the C library can."""
    trim = getattr(_library(), "malloc_trim", None)
    if trim:
        trim(ctypes.c_size_t(0))
