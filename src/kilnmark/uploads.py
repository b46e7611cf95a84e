"""Files as they are sent, read within bounds."""

from kilncore.errors import KilnError, UnusableFile
from kilncore.pixels.reading import MAX_BYTES, too_large
from kilnmark.pieces.bringing import Upload

MOST_FILES = 40
MOST_BYTES = 200 * 2**20  # of all files of one request


def uploads(request) -> list[Upload]:
    """All files of a request; KilnError if there are none, or too many."""
    files = request.FILES.getlist("file")
    if not files:
        raise KilnError("Choose a file to bring in: an SVG, a PDF or a picture.")
    if len(files) > MOST_FILES:
        raise KilnError(f"Bring in {MOST_FILES} files at a time at most; you sent {len(files)}.")
    if sum(file.size for file in files) > MOST_BYTES:
        raise UnusableFile(
            f"Together these files are larger than {MOST_BYTES >> 20} MB. Bring them in in parts."
        )
    return [Upload(file.name, _read(file)) for file in files]


def _read(file) -> bytes:
    if file.size > MAX_BYTES:
        raise UnusableFile(f"{file.name[:40]}: {too_large()}")
    return file.read()
