"""Where the engine gets what a document names by hash. The web side and the command line give it one `AssetStore`."""

import fcntl
import hashlib
import os
import tempfile
import threading
from collections import OrderedDict
from contextlib import contextmanager, suppress
from pathlib import Path

from kilncore.errors import MissingAsset
from kilncore.machine import MEMORY
from kilncore.strokes import strokes_in
from kilncore.textures import reading
from kilncore.textures.texture import Texture

TEXTURE_BUDGET = max(256 * 2**20, MEMORY // 30)
STROKES_KEPT = 3000
HALF = ".half-"  # what the name of a file begins with while it is being written


def content_hash(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


class AssetStore:
    """Files by the SHA-256 of their content, in one folder. Written whole or not at all."""

    def __init__(self, folder: Path):
        self.folder = Path(folder)
        self._textures: OrderedDict[str, Texture] = OrderedDict()
        self._lock, self._reading = threading.Lock(), {}
        self._strokes = OrderedDict()

    def path(self, name: str) -> Path:
        return self.folder / name[:2] / name

    def keep(self, data: bytes) -> str:
        """Store the bytes; returns their hash."""
        name = content_hash(data)
        target = self.path(name)
        if not target.exists():
            write_whole(target, data)
        return name

    def data(self, name: str) -> bytes:
        try:
            return self.path(name).read_bytes()
        except OSError as error:
            raise MissingAsset("A file that this piece uses is not there.", name) from error

    def texture(self, name: str) -> Texture:
        """The texture of that hash, decoded, once however many ask; the most recently used are kept in memory."""
        with self._lock:
            if name in self._textures:
                self._textures.move_to_end(name)
                return self._textures[name]
            reading_it = self._reading.setdefault(name, threading.Lock())
        with reading_it:
            with self._lock:
                if name in self._textures:
                    return self._textures[name]
            texture = reading.read(self.data(name))
            self._hold(name, texture)
            return texture

    def strokes(self, name: str) -> tuple:
        """The strokes of a file of touch-up; those read lately are kept."""
        with self._lock:
            if name in self._strokes:
                self._strokes.move_to_end(name)
                return self._strokes[name]
        found = strokes_in(self.data(name))
        with self._lock:
            self._strokes[name] = found
            while len(self._strokes) > STROKES_KEPT:
                self._strokes.popitem(last=False)
        return found

    def forget(self, name: str) -> None:
        """Decode that texture anew when it is next asked for."""
        with self._lock:
            self._textures.pop(name, None)

    def _hold(self, name: str, texture: Texture) -> None:
        with self._lock:
            self._textures[name] = texture
            self._reading.pop(name, None)
            sizes = {known: one.nbytes for known, one in self._textures.items()}
            while len(self._textures) > 1 and sum(sizes.values()) > TEXTURE_BUDGET:
                dropped, _ = self._textures.popitem(last=False)
                del sizes[dropped]


class Unsaved:
    """Assets, and on top of them what a change that is not saved yet would add: in memory alone."""

    def __init__(self, assets):
        self._assets, self._added = assets, {}

    def keep(self, data: bytes) -> str:
        name = content_hash(data)
        self._added[name] = data
        return name

    def data(self, name: str) -> bytes:
        return self._added[name] if name in self._added else self._assets.data(name)

    def strokes(self, name: str) -> tuple:
        return strokes_in(self._added[name]) if name in self._added else self._assets.strokes(name)

    def texture(self, name: str) -> Texture:
        return self._assets.texture(name)


def write_whole(target: Path, data: bytes) -> None:
    """Write beside the target, then rename: a killed process leaves the old file or the new one, never half."""
    with written_whole(target) as file:
        file.write(data)


@contextmanager
def written_whole(target: Path):
    """A file to write into, which takes the target's place when the block ends well, and is gone if it does not. Once it is
    there it survives a power cut. It is locked while it is written, so that `sweep` knows it is not forgotten."""
    target.parent.mkdir(parents=True, exist_ok=True)
    handle, name = tempfile.mkstemp(dir=target.parent, prefix=HALF)
    try:
        with os.fdopen(handle, "wb") as file:
            fcntl.flock(file, fcntl.LOCK_EX)
            yield file
            file.flush()
            os.fsync(file.fileno())
            os.replace(name, target)
        _settle(target.parent)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise


def _settle(folder: Path) -> None:
    """Bring a folder's list of names to the disk."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def sweep(folder: Path, deep: bool = True) -> int:
    """Remove the half-written files that killed processes left in a folder, and, if deep, in those in it; how many."""
    swept = 0
    for path in (Path(folder).rglob if deep else Path(folder).glob)(f"{HALF}*"):
        with suppress(OSError), path.open("rb") as file:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)  # fails while somebody is writing it
            path.unlink()
            swept += 1
    return swept
