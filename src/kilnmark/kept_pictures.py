"""Pictures that outlive the server, on disk by key: written whole, those not asked for longest go.
Nothing here is truth: whatever is missing is drawn again.
"""

import os
from contextlib import suppress
from pathlib import Path

from kilncore.system.files import keep_within, write_whole

TYPES = {"image/jpeg": ".jpg", "image/png": ".png"}
TIDIED_EVERY = 50  # pictures


class KeptPictures:
    """In one folder. budget : bytes."""

    def __init__(self, folder: Path, budget: int):
        self.folder, self.budget, self._put = Path(folder), budget, 0

    def find(self, key: str) -> tuple[bytes, str] | None:
        """(bytes, media type), None if it is not there."""
        for kind, ending in TYPES.items():
            path = self.folder / f"{key}{ending}"
            with suppress(OSError):
                found = path.read_bytes()
                os.utime(path)
                return found, kind
        return None

    def __contains__(self, key: str) -> bool:
        return any((self.folder / f"{key}{ending}").exists() for ending in TYPES.values())

    def put(self, key: str, picture: tuple[bytes, str]) -> tuple[bytes, str]:
        """The same picture, kept where there is room for it."""
        content, kind = picture
        with suppress(OSError):
            write_whole(self.folder / f"{key}{TYPES[kind]}", content)
            self._put += 1
            if self._put % TIDIED_EVERY == 1:
                keep_within(self.folder, self.budget)
        return picture
