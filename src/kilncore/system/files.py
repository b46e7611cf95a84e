"""Files written whole or not at all."""

import fcntl
import os
import tempfile
from contextlib import contextmanager, suppress
from pathlib import Path
from tempfile import NamedTemporaryFile

HALF = ".half-"  # what the name of a file begins with while it is being written


def write_whole(target: Path, data: bytes) -> None:
    """Write beside the target, then rename: a killed process leaves the old file or the new one,
    never half.
    """
    with written_whole(target) as file:
        file.write(data)


@contextmanager
def written_whole(target: Path):
    """A file to write into, which takes the target's place when the block ends well, and is gone if
    it does not. Once it is there it survives a power cut. It is locked while it is written, so that
    `sweep` knows it is not forgotten."""
    target.parent.mkdir(parents=True, exist_ok=True)
    handle, name = tempfile.mkstemp(dir=target.parent, prefix=HALF)
    try:
        os.close(handle)
        with open(name, "wb") as file:
            fcntl.flock(file, fcntl.LOCK_EX)
            yield file
            file.flush()
            os.fsync(file.fileno())
            os.replace(name, target)
        _settle(target.parent)
    except BaseException:
        Path(name).unlink(missing_ok=True)
        raise


@contextmanager
def scratch_file(folder: Path):
    """A file to write into and read from again, gone when the block ends. `sweep` leaves it alone
    as long as it is open.
    """
    with NamedTemporaryFile(dir=folder, prefix=HALF) as file:
        fcntl.flock(file, fcntl.LOCK_EX)
        yield file


def _settle(folder: Path) -> None:
    """Bring a folder's list of names to the disk."""
    handle = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(handle)
    finally:
        os.close(handle)


def sweep(folder: Path, deep: bool = True) -> int:
    """Remove the half-written files that killed processes left in a folder, and, if deep, in those
    in it; how many.
    """
    swept = 0
    for path in (Path(folder).rglob if deep else Path(folder).glob)(f"{HALF}*"):
        with suppress(OSError), path.open("rb") as file:
            fcntl.flock(file, fcntl.LOCK_EX | fcntl.LOCK_NB)  # fails while somebody is writing it
            path.unlink()
            swept += 1
    return swept


def keep_within(folder: Path, budget: int) -> None:
    """Remove those files of a folder that were not used for longest, until it holds no more than
    so many bytes; what is being written stays.
    """
    known = []
    for path in folder.iterdir():
        with suppress(OSError):
            if not path.name.startswith(HALF):
                told = path.stat()
                known.append((told.st_mtime, told.st_size, path))
    over = sum(size for _, size, _ in known) - budget
    for _, size, path in sorted(known):
        if over <= 0:
            return
        with suppress(OSError):
            path.unlink()
            over -= size
