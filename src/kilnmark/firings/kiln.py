"""The kiln: one thread of the server that takes waiting firings, one after another."""

import logging
import threading

from django.db import close_old_connections

from kilnmark.firings import actions

log = logging.getLogger("kilnmark")
_bell = threading.Event()
IDLE_SECONDS = 2.0


def ring() -> None:
    """Something is waiting."""
    _bell.set()


def light() -> threading.Thread:
    """Start the kiln; it runs until the process ends."""
    actions.take_up_again()
    thread = threading.Thread(target=_work, name="kiln-door", daemon=True)
    thread.start()
    return thread


def _work() -> None:
    while True:
        _bell.wait(IDLE_SECONDS)
        _bell.clear()
        try:
            while firing := actions.next_waiting():
                actions.run(firing)
        except Exception:
            log.exception("a firing failed")
        finally:
            close_old_connections()
