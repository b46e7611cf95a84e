"""Content keys: a hash over everything a result depends on, and nothing else. Ids never enter.

The code is part of what a result depends on. VERSION stands for it: a hash of the core's own files,
fonts included, and of the libraries that draw. After an upgrade every key is another, so that
nothing old is ever shown.
"""

import hashlib
from functools import cache
from importlib.metadata import version
from pathlib import Path
from typing import Any

from kilncore.model.meaning import MEANING

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


def key_of(*parts: Any) -> str:
    """A key of numbers, strings, and models, by what of them counts for a picture."""
    digest = hashlib.blake2b(VERSION.encode(), digest_size=16)
    for part in parts:
        is_model = hasattr(part, "model_dump_json")
        text = part.model_dump_json(context=MEANING) if is_model else repr(part)
        digest.update(text.encode() + b"\0")
    return digest.hexdigest()
