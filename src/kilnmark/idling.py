"""Memory is given back when nothing has been drawn for a minute: what was looked at last stays. And
sooner, where much lies freed among what is held.
"""

import gc
import threading
import time

from kilncore.compiled import allocator
from kilncore.engine import pool
from kilncore.system.cache import ByteCache
from kilncore.system.hardware import MEMORY

QUIET_SECONDS, LOOKED_EVERY = 60, 5
SHARE = 0.25  # of each cache's budget that is kept
FREED_AT_MOST = MEMORY // 24  # bytes that may lie freed while somebody works


class Idling:
    """What is looked at every few seconds."""

    def __init__(self):
        self.given, self.least = False, allocator.resident() - held()

    def look(self) -> None:
        """Give back all that can be missed, once, or what lies freed."""
        if pool.idle_seconds() > QUIET_SECONDS:
            if not self.given:
                give_back()
            self.given = True
            return
        self.given = False
        beside = allocator.resident() - held()
        self.least = min(self.least, beside)
        if beside - self.least > FREED_AT_MOST:
            _release()
            self.least = allocator.resident() - held()


def held() -> int:
    """Bytes in all caches."""
    return sum(cache.nbytes for cache in list(ByteCache.every))


def start() -> None:
    """Look as long as the server runs."""
    threading.Thread(target=_watch, name="kiln-idling", daemon=True).start()


def give_back() -> None:
    """Let caches shrink, and return what is free to the system."""
    for cache in list(ByteCache.every):
        cache.shrink(SHARE)
    _release()


def _release() -> None:
    """What hangs together in circles is freed, and what is free goes back to the system."""
    gc.collect()
    allocator.release_freed()


def _watch() -> None:
    idling = Idling()
    while True:
        time.sleep(LOOKED_EVERY)
        idling.look()
