"""What the machine has to give: how many processors, how much memory. Threads and budgets follow
from it. KILN_MEMORY_MB says how much memory this process may use where it shares the machine.
"""

import os
from pathlib import Path

LIMITS = ("/sys/fs/cgroup/memory.max", "/sys/fs/cgroup/memory/memory.limit_in_bytes")


def _processors() -> int:
    return len(os.sched_getaffinity(0)) if hasattr(os, "sched_getaffinity") else os.cpu_count() or 1


def _memory() -> int:
    """Bytes that this process may use: the machine's, or what it is limited to."""
    limits = [os.sysconf("SC_PAGE_SIZE") * os.sysconf("SC_PHYS_PAGES")]
    if os.environ.get("KILN_MEMORY_MB", "").isdecimal():
        limits.append(int(os.environ["KILN_MEMORY_MB"]) * 2**20)
    for name in LIMITS:
        try:
            limits.append(int(Path(name).read_text()))
        except (OSError, ValueError):
            continue  # no such limit, or "max"
    return min(n for n in limits if n > 0)


PROCESSORS, MEMORY = _processors(), _memory()
