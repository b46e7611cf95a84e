"""Ready pixels: what operations made of a file, on disk with their smaller copies, read by mapping.

One file by key: a line of JSON that says what lies where, then the planes of each copy, row by row,
each from a whole page on. It is written whole or not at all. The folder keeps to a budget: those
not used for longest go. Nothing here is truth: whatever is missing is made again.
"""

import json
import os
import shutil
from contextlib import suppress
from pathlib import Path
from typing import Any

import numpy as np

from kilncore.system.files import HALF, written_whole
from kilncore.textures.copies import SMALLEST
from kilncore.textures.texture import Texture

BUDGET = 4 * 2**30  # bytes on disk
LEFT_FREE = 512 * 2**20
PAGE = 4096
MOST_HEAD = 64 * 1024
TYPES = {"|u1": np.uint8, "<u2": np.uint16}


class ReadyFiles:
    """In one folder."""

    def __init__(self, folder: Path, budget: int = BUDGET):
        self.folder, self.budget = Path(folder), budget

    def find(self, key: str) -> Texture | None:
        """The texture of that key, mapped; None if it is not there, or damaged."""
        path = self._path(key)
        try:
            texture = _mapped(path)
            os.utime(path)
        except (OSError, ValueError, KeyError, TypeError, OverflowError):
            return None
        return texture

    def put(self, key: str, texture: Texture) -> Texture:
        """The same texture, mapped from the disk; itself where there is no room for it."""
        try:
            self._make_room(2 * texture.planes.nbytes)
            with written_whole(self._path(key)) as file:
                _write(file, texture)
        except OSError:
            return texture
        return self.find(key) or texture

    def __contains__(self, key: str) -> bool:
        return self._path(key).exists()

    def _path(self, key: str) -> Path:
        return self.folder / f"{key}.ready"

    def _make_room(self, wanted: int) -> None:
        self.folder.mkdir(parents=True, exist_ok=True)
        kept = []
        for path in self.folder.iterdir():
            with suppress(OSError):
                told = path.stat()
                if not path.name.startswith(HALF):
                    kept.append((told.st_mtime, told.st_size, path))
        whole = sum(size for _, size, _ in kept) + wanted
        missing = max(whole - self.budget, wanted + LEFT_FREE - shutil.disk_usage(self.folder).free)
        for _, size, path in sorted(kept):
            if missing <= 0:
                return
            with suppress(OSError):
                path.unlink()  # whoever has it mapped keeps it
                missing -= size
        if missing > 0 and wanted + LEFT_FREE > shutil.disk_usage(self.folder).free:
            raise OSError("no room for ready pixels")


def _levels(texture: Texture) -> int:
    """How often it is halved until nothing smaller is ever read."""
    return max(0, (min(texture.planes.shape[1:]) // SMALLEST).bit_length() - 1)


def _write(file: Any, texture: Texture) -> None:
    copies = [texture.level(number) for number in range(_levels(texture) + 1)]
    at, told = MOST_HEAD, []
    for copy in copies:
        told.append({"at": at, "shape": copy.shape, "type": copy.dtype.str})
        at += -(-copy.nbytes // PAGE) * PAGE
    head = json.dumps({"size": texture.size, "copies": told}).encode() + b"\n"
    file.write(head.ljust(MOST_HEAD, b" "))
    for copy, where in zip(copies, told, strict=True):
        file.seek(where["at"])
        for plane in copy:
            file.write(np.ascontiguousarray(plane).data)
    file.truncate(at)


def _mapped(path: Path) -> Texture:
    with open(path, "rb") as file:
        told = json.loads(file.read(MOST_HEAD).split(b"\n", 1)[0])
        # written on in memory alone: kernels are compiled for planes that can be written
        rows = np.memmap(file, np.uint8, "c")  # one for all copies: each holds a file open
        copies = []
        for one in told["copies"]:
            shape, kind = tuple(map(int, one["shape"])), np.dtype(TYPES[one["type"]])
            needed = int(np.prod(shape)) * kind.itemsize
            at = int(one["at"])
            if len(shape) != 3 or min(shape) < 1 or not 0 < at <= rows.size - needed or at % PAGE:
                raise ValueError("cut short, or not such a file")
            copies.append(np.asarray(rows[at : at + needed]).view(kind).reshape(shape))
    return Texture(copies[0], tuple(told["size"]), copies[1:])
