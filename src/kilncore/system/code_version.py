"""The version of the code itself: a hash of the core's own files, fonts included, and of the
libraries that draw.
"""

import hashlib
from functools import cache
from importlib.metadata import version
from pathlib import Path

LIBRARIES = (
    "numba",
    "numpy",
    "pyvips-binary",
    "uharfbuzz",
    "skia-pathops",
    "fonttools",
    "simplejpeg",
    "opencv-python-headless",
)
ROOT = Path(__file__).parent.parent


@cache
def code_version(*places: Path) -> str:
    """A hash of all files in the folders, or of the files themselves, and of the libraries that
    draw.
    """
    digest = hashlib.blake2b(
        " ".join(f"{name} {version(name)}" for name in LIBRARIES).encode(), digest_size=8
    )
    for place in places:
        for path in [place] if place.is_file() else sorted(place.rglob("*")):
            if path.suffix in (".py", ".ttf"):
                digest.update(path.read_bytes())
    return digest.hexdigest()


VERSION = code_version(ROOT)
