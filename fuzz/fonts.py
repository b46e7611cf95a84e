"""Broken fonts: each ends in words that are set, within bounds, or in a refusal in words.

python -m fuzz.fonts SEED COUNT; what is taken in is set and drawn here, so that a crash ends this
process and is told.
"""

import faulthandler
import sys
import tempfile
from pathlib import Path

import numpy as np

from fuzz.files import broken
from kilncore.artwork.lettering import Lettering
from kilncore.assets import AssetStore
from kilncore.errors import KilnError, UnusableFile
from kilncore.model.units import px
from kilncore.typesetting.intake import font_of
from kilncore.typesetting.shipped import FOLDER

WHOLE = ("courier-prime-bold", "fraunces", "rubik-bold", "lobster")
WORDS = ("Pellwick Night Ferry 0417", "מעבורת 417 (x) fi", "office\nAVATAR ÅÉ“”", "x" * 500)
GENTLE = 0.7  # of all: a few bytes of glyphs or of features, which the sanitiser lets pass


def damaged(data: bytes, rng) -> bytes:
    """Broken as files are, or gently: in a few bytes behind the tables' list."""
    if rng.random() > GENTLE:
        return broken(data, rng)
    found = bytearray(data)
    for _ in range(rng.integers(1, 12)):
        found[int(rng.integers(400, len(found)))] = rng.integers(0, 256)
    return bytes(found)


def tried(data: bytes, store: AssetStore) -> str:
    """'set', 'too much' or 'refused'; anything else is raised."""
    try:
        found = font_of(data)
    except UnusableFile as refused:
        assert refused.message
        return "refused"
    name = store.keep(found.data)
    axes = {axis["tag"]: axis["most"] for axis in found.axes}
    try:
        for text in WORDS:
            art = Lettering(text=text, font=name, size=px(90), axes=axes, tracking=30)
            assert np.isfinite(art.outline().edges).all() and art.notes() is not None
    except KilnError as told:
        assert told.message
        return "too much"
    return "set"


def main() -> int:
    faulthandler.enable()
    number, count = int(sys.argv[1]), int(sys.argv[2])
    rng = np.random.default_rng(number)
    last = Path(tempfile.gettempdir()) / f"kilnmark-fuzz-font-{number}"
    with tempfile.TemporaryDirectory() as folder:
        store = AssetStore(Path(folder))
        for _ in range(count):
            name = str(rng.choice(WHOLE))
            data = damaged((FOLDER / f"{name}.ttf").read_bytes(), rng)
            last.write_bytes(data)
            print(f"{name}: {tried(data, store)}", flush=True)
    last.unlink(missing_ok=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())
