"""Where the engine gets the files that a document refers to. The web side and the command line give
it one `AssetStore`.
"""

import hashlib
import os
import threading
from pathlib import Path

from cachetools import LRUCache, cached

from kilncore.errors import MissingAsset
from kilncore.model.files import TextureHash
from kilncore.model.texture import TextureRef
from kilncore.prep import Operation
from kilncore.prep.chain import in_use, meaning, prepared, size_of
from kilncore.strokes import Drawn, strokes_in
from kilncore.system.cache import ByteCache
from kilncore.system.files import write_whole
from kilncore.system.hardware import MEMORY
from kilncore.textures import reading
from kilncore.textures.texture import Texture
from kilncore.typesetting.fonts import look_in

TEXTURE_BUDGET = max(256 * 2**20, MEMORY // 30)
STROKES_KEPT = 3000


def content_hash(data: bytes) -> str:
    """The name of a file: the SHA-256 of its bytes, in hex."""
    return hashlib.sha256(data).hexdigest()


class AssetStore:
    """Files by the SHA-256 of their content, in one folder. Written whole or not at all."""

    def __init__(self, folder: Path):
        self.folder = Path(folder)
        look_in(self)  # for own fonts
        self._textures = ByteCache(TEXTURE_BUDGET)
        self._prepared = ByteCache(TEXTURE_BUDGET)
        self.strokes = cached(LRUCache(STROKES_KEPT), condition=threading.Condition())(
            self._strokes
        )

    def path(self, name: str) -> Path:
        """Where the file of that hash lies."""
        return self.folder / name[:2] / name

    def keep(self, data: bytes) -> str:
        """Store the bytes; returns their hash."""
        name = content_hash(data)
        target = self.path(name)
        try:
            os.utime(target)  # it is wanted again: what sweeps up leaves it
        except OSError:
            write_whole(target, data)
        return name

    def data(self, name: str) -> bytes:
        """The bytes of that hash; MissingAsset if they are not there."""
        try:
            return self.path(name).read_bytes()
        except OSError as error:
            raise MissingAsset("A file that this piece uses is not there.", name) from error

    def texture(self, ref: TextureRef) -> Texture:
        """The texture that a reference names, decoded once however many ask; the most recently used
        are kept in memory.
        """
        return self._textures.get(ref.hash, lambda: self._read(ref.hash))

    def prepared(self, name: str, chain: tuple[Operation, ...], level: int = 0) -> Texture:
        """A picture, prepared by a chain of operations, as a texture of its own size; made once
        however many ask. level : how often the copy of the picture is halved that it is made from.
        """
        source = self.texture(TextureRef(hash=TextureHash(name)))
        if not level and not in_use(chain):
            return source
        key = (name, meaning(chain), level)
        return self._prepared.get(key, lambda: self._prepare(key, source, chain, level))

    def _prepare(self, key, source: Texture, chain: tuple[Operation, ...], level: int) -> Texture:
        planes = prepared(chain, source.level(level), 0.5**level)
        texture = Texture(planes, size_of(chain, *source.size))
        texture.grown = lambda: self._prepared.recount(key, texture)
        return texture

    def _read(self, name: str) -> Texture:
        texture = reading.read(self.data(name))
        texture.grown = lambda: self._textures.recount(name, texture)
        return texture

    def _strokes(self, name: str) -> tuple[Drawn, ...]:
        """The strokes of a file of touch-up; those read lately are kept."""
        return strokes_in(self.data(name))

    def forget(self, name: str) -> None:
        """Decode the texture of that hash anew when it is next asked for."""
        self._textures.drop(name)


class Unsaved:
    """Assets, and on top of them what a change that is not saved yet would add: in memory alone."""

    def __init__(self, assets: AssetStore):
        self._assets, self._added = assets, {}

    def keep(self, data: bytes) -> str:
        """Hold the bytes; returns their hash."""
        name = content_hash(data)
        self._added[name] = data
        return name

    def data(self, name: str) -> bytes:
        """As of an `AssetStore`."""
        return self._added[name] if name in self._added else self._assets.data(name)

    def strokes(self, name: str) -> tuple[Drawn, ...]:
        """As of an `AssetStore`."""
        return strokes_in(self._added[name]) if name in self._added else self._assets.strokes(name)

    def texture(self, ref: TextureRef) -> Texture:
        """As of an `AssetStore`."""
        return self._assets.texture(ref)

    def prepared(self, name: str, chain: tuple[Operation, ...], level: int = 0) -> Texture:
        """As of an `AssetStore`."""
        return self._assets.prepared(name, chain, level)
