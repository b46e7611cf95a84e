"""What comes in: a 24-megapixel photo from its bytes to the bench, a knock-out that changes, and
how soon broken files are refused.
"""

import tempfile
import time
from pathlib import Path

import cv2
import numpy as np
from fuzz.files import whole

from bench.measure import median, ms, say
from kilncore import edits, engine
from kilncore.artwork.intake import brought_in
from kilncore.assets import AssetStore
from kilncore.document import load
from kilncore.errors import UnusableFile
from kilncore.pixels.vips import as_image

SIZE, FITTED = (6000, 4000), 800 / 6000
PAPER = "#f5f5f5"


def photo() -> bytes:
    """Many coloured discs on noisy paper, as a JPEG: more edge than art has."""
    rng = np.random.default_rng(0)
    pixels = np.full((SIZE[1], SIZE[0], 3), 245, np.uint8)
    for _ in range(400):
        place = (int(rng.integers(SIZE[0])), int(rng.integers(SIZE[1])))
        ink = tuple(int(c) for c in rng.integers(0, 200, 3))
        cv2.circle(pixels, place, int(rng.integers(10, 200)), ink, -1, cv2.LINE_AA)
    noisy = pixels + rng.normal(0, 2, pixels.shape)
    return as_image(np.clip(noisy, 0, 255).astype(np.uint8)).jpegsave_buffer(Q=92)


def report() -> None:
    data = photo()
    with tempfile.TemporaryDirectory() as folder:
        store = AssetStore(Path(folder))
        begun = time.monotonic()
        found = brought_in(data)
        taken = time.monotonic() - begun
        document = _document(store.keep(found.data))
        begun = time.monotonic()
        engine.pixels(document, None, FITTED, store)
        drawn = time.monotonic() - begun
        say(
            "24 MP photo: from its bytes to a draft on the bench",
            ms(taken + drawn),
            f"{ms(taken)} taken in, {ms(drawn)} drawn",
        )
        _changed(document, store)
    _refused(data)


def _document(name: str):
    chain = [{"kind": "knock-out", "id": "paper", "colours": [PAPER]}]
    art = {"kind": "picture", "hash": name, "width": SIZE[0], "height": SIZE[1], "chain": chain}
    place = {axis: {"value": side / 2} for axis, side in zip("xy", SIZE, strict=True)}
    mark = {"kind": "mark", "id": "photo", "art": art, "placement": place}
    fill = {"kind": "colour", "colour": "#14646b"}
    return load({"format": 4, "size_px": list(SIZE), "ground": {"fill": fill}, "stack": [mark]})


def _changed(document, store) -> None:
    tolerances = iter(np.linspace(0.05, 0.2, 60))

    def draw(scale: float, truly: bool):
        path = ["stack", "photo", "art", "chain", "paper", "tolerance"]
        edit = {"op": "set", "path": path, "value": float(next(tolerances))}
        engine.pixels(edits.apply(document, [edit]), None, scale, store, truly=truly)

    say(
        "24 MP photo: its knock-out changed, as a draft",
        ms(median(lambda: draw(FITTED, False), 11)),
    )
    say("24 MP photo: the same, exact", ms(median(lambda: draw(FITTED, True), 3)))


def _refused(data: bytes) -> None:
    """The slowest refusal of files that are cut short, of every format."""
    broken = {kind: found[: len(found) * 2 // 3] for kind, found in whole().items()}
    broken["24 MP jpeg"] = data[: len(data) * 2 // 3]
    slowest, slow = 0.0, ""
    for kind, found in broken.items():
        begun = time.monotonic()
        try:
            brought_in(found)
        except UnusableFile:
            seconds = time.monotonic() - begun
            slowest, slow = max((slowest, slow), (seconds, kind))
    say("files cut short, the slowest refusal", ms(slowest), slow)
