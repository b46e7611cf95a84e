"""Measured values that outlive the process: small arrays by key, in one folder.

A file is a checksum and an archive of arrays. What is cut short, damaged or not of this sort is as
if it were not there. Nothing here is truth: whatever is missing is measured again. The folder keeps
to a budget: those not used for longest go.
"""

import hashlib
import io
import os
import zipfile
from collections.abc import Mapping
from concurrent.futures import ThreadPoolExecutor
from contextlib import suppress
from pathlib import Path

import numpy as np

from kilncore.system.files import HALF, keep_within

BUDGET = 200 * 2**20  # bytes on disk
MOST_BYTES = 8 * 2**20  # of one value
TIDIED_EVERY = 200
SUM_BYTES = 16
ENDING = ".value"
_writing = ThreadPoolExecutor(1, thread_name_prefix="kiln-keeps")


class KeptValues:
    """In one folder. budget : bytes."""

    def __init__(self, folder: Path, budget: int = BUDGET):
        self.folder, self.budget, self._put = Path(folder), budget, 0

    def find(self, key: str) -> dict[str, np.ndarray] | None:
        """The arrays of that key; None if they are not there, or damaged."""
        path = self._path(key)
        try:
            data = path.read_bytes()
            if _sum(data[SUM_BYTES:]) != data[:SUM_BYTES]:
                return None
            with np.load(io.BytesIO(data[SUM_BYTES:]), allow_pickle=False) as archive:
                found = {name: archive[name] for name in archive.files}
            os.utime(path)
        except (OSError, ValueError, zipfile.BadZipFile, EOFError, KeyError):
            return None
        return found

    def put(self, key: str, arrays: Mapping[str, np.ndarray]) -> None:
        """Keep arrays, soon, where there is room for them: nobody waits for it."""
        if sum(np.asarray(one).nbytes for one in arrays.values()) <= MOST_BYTES:
            _writing.submit(self._write, key, dict(arrays))

    def settle(self) -> None:
        """Wait until all that was put is on disk."""
        _writing.submit(int).result()

    def _write(self, key: str, arrays: dict[str, np.ndarray]) -> None:
        archive = io.BytesIO()
        np.savez_compressed(archive, allow_pickle=False, **arrays)  # type: ignore[arg-type]
        data = archive.getvalue()
        with suppress(OSError):
            self.folder.mkdir(parents=True, exist_ok=True)
            half = self.folder / f"{HALF}{key}"
            half.write_bytes(_sum(data) + data)  # its sum tells whether all of it came to the disk
            half.replace(self._path(key))
            self._put += 1
            if self._put % TIDIED_EVERY == 1:
                keep_within(self.folder, self.budget)

    def _path(self, key: str) -> Path:
        return self.folder / f"{key}{ENDING}"


def _sum(data: bytes) -> bytes:
    return hashlib.blake2b(data, digest_size=SUM_BYTES).digest()
