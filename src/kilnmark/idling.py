"""Memory is given back when nothing has been drawn for a minute: what was looked at last stays."""

import threading
import time

from kilncore.compiled import allocator
from kilncore.engine import pool
from kilncore.system.cache import ByteCache

QUIET_SECONDS, LOOKED_EVERY = 60, 10
SHARE = 0.25  # of each cache's budget that is kept


def start() -> None:
    """Look every few seconds, as long as the server runs."""
    threading.Thread(target=_watch, name="kiln-idling", daemon=True).start()


def give_back() -> None:
    """Let caches shrink, and return what is free to the system."""
    for cache in list(ByteCache.every):
        cache.shrink(SHARE)
    allocator.release_freed()


def _watch() -> None:
    given = False
    while True:
        time.sleep(LOOKED_EVERY)
        quiet = pool.idle_seconds() > QUIET_SECONDS
        if quiet and not given:
            give_back()
        given = quiet
