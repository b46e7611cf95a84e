"""Where the engine gets the files that a document refers to. The web side and the command line give
it one `AssetStore`.
"""

import hashlib
import os
import threading
from pathlib import Path
from typing import Any

import numpy as np
from cachetools import LRUCache, cached

from kilncore.errors import MissingAsset
from kilncore.graph.keys import key_of
from kilncore.prep import Operation
from kilncore.prep.chain import in_use, meaning, size_of
from kilncore.prep.cut_tones import CutTones
from kilncore.prep.texture_ref import TextureRef
from kilncore.strokes import Drawn, strokes_in
from kilncore.system.budget import budget_of
from kilncore.system.cache import ByteCache
from kilncore.system.files import write_whole
from kilncore.system.hardware import PROCESSORS
from kilncore.system.kept_values import KeptValues
from kilncore.textures import reading
from kilncore.textures.preparing import Preparing
from kilncore.textures.ready import ReadyFiles
from kilncore.textures.texture import Texture
from kilncore.typesetting.fonts import look_in

STROKES_KEPT = 3000
PREPARED_AT_ONCE = threading.BoundedSemaphore(max(1, PROCESSORS // 2))
LARGE_BYTES = 12 * 2**20  # of a file that is prepared without being kept


def content_hash(data: bytes) -> str:
    """The name of a file: the SHA-256 of its bytes, in hex."""
    return hashlib.sha256(data).hexdigest()


def ready_key(name: str, chain: tuple[Operation, ...], wraps: bool, level: int = 0) -> str:
    """The name of what a chain makes of a file."""
    return key_of("ready", str(name), meaning(chain), wraps, level)


class AssetStore:
    """Files by the SHA-256 of their content, in one folder. Written whole or not at all.

    ready : the folder of ready pixels, which are made again whenever they are missing; 'ready' in
    the first one if it is None. measured : the folder of measured values, which are measured again;
    without one they are kept in memory alone.
    """

    def __init__(self, folder: Path, ready: Path | None = None, measured: Path | None = None):
        self.folder = Path(folder)
        look_in(self)  # for own fonts
        self._textures = ByteCache(budget_of("textures"))
        self._prepared = ByteCache(budget_of("prepared"))
        self._ready = ReadyFiles(ready or self.folder / "ready")
        self.measured = KeptValues(measured) if measured else None
        self._preparing = Preparing(self.measured)
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
        """The texture that a reference names, prepared by its chain, or a smaller copy of it that a
        DraftRef asks for; made once however many ask.
        """
        level = getattr(ref, "level", 0)
        return self.prepared(ref.hash, ref.chain, level, ref.wraps)

    def source(self, name: str) -> Texture:
        """A file as it came, decoded once however many ask; those used lately are kept in
        memory.
        """
        return self._textures.get(str(name), lambda: self._read(name))

    def prepared(
        self, name: str, chain: tuple[Operation, ...], level: int = 0, wraps: bool = False
    ) -> Texture:
        """A file, prepared by a chain of operations, as a texture of its own size; made once
        however many ask. level : how often the copy of it is halved that a draft is made from.
        wraps : whether it repeats beyond its edges.

        What is made at full size lies on disk, and is mapped from there.
        """
        chain = self._needed(name, chain, wraps)
        if not in_use(chain) and not level:
            return self.source(name)
        key = ready_key(name, chain, wraps, level)
        make = self._draft if level else self._exact
        return self._prepared.get((level, key), lambda: make(key, name, chain, level, wraps))

    def is_ready(self, ref: TextureRef) -> bool:
        """Whether its pixels are at hand at full size."""
        return self.has_ready(ref.hash, ref.chain, ref.wraps)

    def has_ready(self, name: str, chain: tuple[Operation, ...], wraps: bool) -> bool:
        """The same of a file and a chain."""
        chain = self._needed(name, chain, wraps)
        key = ready_key(name, chain, wraps)
        return not in_use(chain) or (0, key) in self._prepared or key in self._ready

    def grows_specks(self, ref: TextureRef) -> bool:
        """Whether an aim moves the edges of a texture's specks, since it has two tones only."""
        return bool(self._needed(ref.hash, ref.chain, ref.wraps)[-1:] == (CutTones(),))

    def _needed(self, name: str, chain: tuple[Operation, ...], wraps: bool) -> tuple:
        """The chain, without what makes tones to cut where there are some already."""
        if not chain or not isinstance(chain[-1], CutTones):
            return chain
        source = lambda: self.source(name)  # noqa: E731
        cuts = self._preparing.has_two_tones(name, chain[:-1], wraps, source)
        return chain if cuts else chain[:-1]

    def counts(self, name: str, chain: tuple[Operation, ...], wraps: bool) -> np.ndarray:
        """How often each tone occurs in what a chain makes of a file (`prep.tone_counts`): of all
        its pixels where they were made at full size, else of many full-size parts of it.
        """
        chain = self._needed(name, chain, wraps)
        return self._preparing.counts(name, chain, wraps, lambda: self.source(name))

    def _exact(
        self, key: str, name: Any, chain: tuple[Operation, ...], level: int, wraps: bool
    ) -> Texture:
        known = self._ready.find(key)
        if known is None:
            with PREPARED_AT_ONCE:  # each may take most of a gigabyte
                planes = self._preparing.exact(name, chain, wraps, lambda: self._planes(name))
                known = self._ready.put(key, Texture(planes))
        return self._counted((level, key), known)

    def _planes(self, name: str) -> np.ndarray:
        """Of a file; those of a very large one are not kept for anybody else."""
        if str(name) in self._textures or len(data := self.data(name)) < LARGE_BYTES:
            return self.source(name).planes
        return reading.read(data).planes

    def _draft(
        self, key: str, name: Any, chain: tuple[Operation, ...], level: int, wraps: bool
    ) -> Texture:
        source = self.source(name)
        planes = self._preparing.draft(name, chain, wraps, source, level)
        return self._counted((level, key), Texture(planes, size_of(chain, *source.size)))

    def _counted(self, key: tuple, texture: Texture) -> Texture:
        texture.grown = lambda: self._prepared.recount(key, texture)
        return texture

    def _read(self, name: str) -> Texture:
        texture = reading.read(self.data(name))
        texture.grown = lambda: self._textures.recount(str(name), texture)
        return texture

    def _strokes(self, name: str) -> tuple[Drawn, ...]:
        """The strokes of a file of touch-up; those read lately are kept."""
        return strokes_in(self.data(name))

    def forget(self, name: str) -> None:
        """Decode the texture of that hash anew when it is next asked for."""
        self._textures.drop(str(name))


class Unsaved:
    """Assets, and on top of them what a change that is not saved yet would add: in memory alone.

    Parameters
    ----------
    assets : AssetStore
        What is stored.
    """

    def __init__(self, assets: AssetStore):
        self._assets, self._added, self.measured = assets, {}, assets.measured
        self._textures: dict[str, Texture] = {}
        self._preparing = Preparing()

    def keep(self, data: bytes) -> str:
        """Hold the bytes; returns their hash."""
        name = content_hash(data)
        self._added[name] = data
        return name

    def keep_texture(self, planes: np.ndarray) -> str:
        """Hold a texture that is no file yet, (C, H, W) uint8; returns the name it goes by."""
        shape = "x".join(map(str, planes.shape)).encode()
        name = content_hash(shape + np.ascontiguousarray(planes).tobytes())
        self._textures[name] = Texture(planes)
        return name

    def data(self, name: str) -> bytes:
        """As of an `AssetStore`."""
        return self._added[name] if name in self._added else self._assets.data(name)

    def strokes(self, name: str) -> tuple[Drawn, ...]:
        """As of an `AssetStore`."""
        return strokes_in(self._added[name]) if name in self._added else self._assets.strokes(name)

    def texture(self, ref: TextureRef) -> Texture:
        """As of an `AssetStore`."""
        if str(ref.hash) not in self._textures:
            return self._assets.texture(ref)
        return self.prepared(ref.hash, ref.chain, getattr(ref, "level", 0), ref.wraps)

    def prepared(
        self, name: str, chain: tuple[Operation, ...], level: int = 0, wraps: bool = False
    ) -> Texture:
        """As of an `AssetStore`."""
        held = self._textures.get(str(name))
        if held is None:
            return self._assets.prepared(name, chain, level, wraps)
        if not in_use(chain):
            return held
        key = ready_key(name, chain, wraps)
        if key not in self._textures:
            planes = self._preparing.exact(str(name), chain, wraps, lambda: held.planes)
            self._textures[key] = Texture(planes)
        return self._textures[key]

    def is_ready(self, ref: TextureRef) -> bool:
        """As of an `AssetStore`."""
        return str(ref.hash) in self._textures or self._assets.is_ready(ref)

    def grows_specks(self, ref: TextureRef) -> bool:
        """As of an `AssetStore`."""
        return str(ref.hash) not in self._textures and self._assets.grows_specks(ref)

    def source(self, name: str) -> Texture:
        """As of an `AssetStore`."""
        held = self._textures.get(str(name))
        return self._assets.source(name) if held is None else held
