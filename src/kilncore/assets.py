"""Where the engine gets what a document names by hash. The web side and the command line give it one `AssetStore`."""

import hashlib
import os
import tempfile
import threading
from collections import OrderedDict
from pathlib import Path

from kilncore.errors import MissingAsset
from kilncore.textures import reading
from kilncore.textures.texture import Texture

TEXTURE_BUDGET = 600 * 2**20


def content_hash(data: bytes) -> str:
    return hashlib.sha256(data).hexdigest()


class AssetStore:
    """Files by the SHA-256 of their content, in one folder. Written whole or not at all."""

    def __init__(self, folder: Path):
        self.folder = Path(folder)
        self._textures: OrderedDict[str, Texture] = OrderedDict()
        self._lock = threading.Lock()

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
        """The texture of that hash, decoded; the most recently used are kept in memory."""
        with self._lock:
            if name in self._textures:
                self._textures.move_to_end(name)
                return self._textures[name]
        texture = reading.read(self.data(name))
        with self._lock:
            self._textures[name] = texture
            while len(self._textures) > 1 and sum(t.nbytes for t in self._textures.values()) > TEXTURE_BUDGET:
                self._textures.popitem(last=False)
        return texture


def write_whole(target: Path, data: bytes) -> None:
    """Write beside the target, then rename: a killed process leaves the old file or the new one, never half."""
    target.parent.mkdir(parents=True, exist_ok=True)
    handle, name = tempfile.mkstemp(dir=target.parent)
    try:
        with os.fdopen(handle, "wb") as file:
            file.write(data)
            file.flush()
            os.fsync(file.fileno())
        os.replace(name, target)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise
