"""Decoded files: the pixels of a texture's file on disk, so that a later process maps them instead
of decoding anew. They are written behind the work, one after the other, once they were decoded.
"""

import os
import queue
import threading
import weakref
from collections.abc import Callable
from contextlib import suppress
from functools import cache
from pathlib import Path

from kilncore.textures.ready import ReadyFiles
from kilncore.textures.texture import Texture

BUDGET = 2 * 2**30  # bytes on disk
LEAST_BYTES = 2 * 2**20  # of a texture: smaller ones are decoded as quickly
NICENESS = 10  # of the thread that writes: whoever draws goes before

Written = Callable[[Texture], None]


class DecodedFiles(ReadyFiles):
    """In one folder."""

    def __init__(self, folder: Path, budget: int = BUDGET):
        super().__init__(folder, budget)

    def later(self, key: str, texture: Texture, written: Written) -> None:
        """Write a texture when there is time, unless it is let go of before; then tell of the one
        that is mapped from there.
        """
        if texture.planes.nbytes >= LEAST_BYTES:
            _waiting().put((self, key, weakref.ref(texture), written))


@cache
def _waiting() -> queue.SimpleQueue:
    """What is to be written. Its thread ends with the process: what is half written is swept."""
    waiting: queue.SimpleQueue = queue.SimpleQueue()
    threading.Thread(target=_write_all, args=(waiting,), name="kiln-decoded", daemon=True).start()
    return waiting


def _write_all(waiting: queue.SimpleQueue) -> None:
    with suppress(OSError):
        os.setpriority(os.PRIO_PROCESS, threading.get_native_id(), NICENESS)
    while True:
        folder, key, held, written = waiting.get()
        texture = held()
        if texture is not None and key not in folder:
            mapped = folder.put(key, texture)
            if mapped is not texture:
                written(mapped)
        del texture
