"""The folder in which everything is stored: its owner's alone, and every file in it whole or not
there at all.
"""

import hashlib
import os
import secrets
import shutil
import time
from pathlib import Path

from kilncore.system.files import HALF, sweep, write_whole

GIVEN_UP_SECONDS = 3600  # no texture takes so long to make


def made_private(folder: Path) -> Path:
    """The folder, which nobody but its owner may look into; so are the files that this process
    makes from now on.
    """
    os.umask(0o077)
    folder.mkdir(parents=True, exist_ok=True)
    if folder.stat().st_mode & 0o077 and folder.stat().st_uid == os.getuid():
        folder.chmod(0o700)
    return folder


def secret_key(folder: Path) -> str:
    """Made once and kept with the data. A file that is empty was cut off while it was made, and is
    made anew.
    """
    path = folder / "secret-key"
    if not path.exists() or not path.read_text().strip():
        write_whole(path, secrets.token_urlsafe(50).encode())
    return path.read_text().strip()


def digest_of(*folders: Path) -> str:
    """A hash of the files in some folders: their names, and when and how large they are."""
    digest = hashlib.blake2b(digest_size=8)
    for folder in folders:
        for path in sorted(folder.rglob("*")):
            if path.is_file():
                digest.update(
                    f"{path.relative_to(folder)} {path.stat().st_size} "
                    f"{path.stat().st_mtime_ns}\0".encode()
                )
    return digest.hexdigest()


def tidy(folder: Path) -> int:
    """Remove what killed processes left half-written, and nothing that one which lives is writing;
    how many files.
    """
    for left in (*(folder / "making").glob(f"{HALF}*"), *(folder / "saving").glob(f"{HALF}*")):
        if time.time() - left.stat().st_mtime > GIVEN_UP_SECONDS:
            shutil.rmtree(left, ignore_errors=True)
    return sum(
        sweep(place)
        for place in (
            folder / "assets",
            folder / "fired",
            folder / "samples",
            folder / "ready",
            folder / "measured",
        )
    ) + sweep(folder, deep=False)
