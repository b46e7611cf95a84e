"""The kiln: threads of the server that take waiting work, one row after another of each kind."""

import logging
import threading

from django.db import close_old_connections

from kilncore.warm_up import READY
from kilnmark.firings import actions as firings
from kilnmark.shelf import actions as shelf

log = logging.getLogger("kilnmark")
IDLE_SECONDS = 2.0
_bells = []


def wake() -> None:
    """Something is waiting."""
    for bell in _bells:
        bell.set()


def light() -> None:
    """Start the kiln; it runs until the process ends."""
    for name, take, run in (
        ("firings", firings.next_waiting, firings.run),
        ("makings", shelf.next_making, shelf.run_making),
    ):
        bell = threading.Event()
        _bells.append(bell)
        threading.Thread(
            target=_work, args=(bell, take, run), name=f"kiln-{name}", daemon=True
        ).start()
    threading.Thread(target=_measure, name="kiln-measuring", daemon=True).start()


def _measure() -> None:
    """Textures that an earlier version measured, or none, are measured once."""
    READY.wait()
    try:
        if count := shelf.measure_anew():
            log.info("measured %d textures", count)
    except Exception:
        log.exception("measuring failed; nothing was lost")
    finally:
        close_old_connections()


def _work(bell: threading.Event, take, run) -> None:
    while True:
        bell.wait(IDLE_SECONDS)
        bell.clear()
        try:
            while job := take():
                run(job)
        except Exception:
            log.exception("work in the kiln failed")
        finally:
            close_old_connections()
