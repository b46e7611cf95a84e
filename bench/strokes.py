"""Strokes by hand in the core: the change that brings one, and the picture after it, on a landing
that has none, a hundred, a thousand and five thousand; the first of those taken back, and changed.
`python -m bench.strokes`.
"""

import tempfile
import time
from pathlib import Path
from statistics import median

import numpy as np
from tests.documents import lettering, mark, piece

from kilncore import edits, engine
from kilncore.assets import AssetStore
from kilncore.document import Piece
from kilncore.strokes import Stroke
from kilncore.strokes.tip import SHIPPED
from kilncore.system.cache import ByteCache
from kilncore.warm_up import warm_up

SIZE, VIEW = (2400, 1600), 0.4
PATH = ["stack", "words", "landing"]
TIMES = 5


def strokes(count: int, seed: int) -> list[dict]:
    """With all tips in turn, 60 points each."""
    random, names = np.random.default_rng(seed), ("", *SHIPPED)
    made = []
    for n in range(count):
        start, way = random.uniform(-1.5, 1, 2), random.normal(0, 0.015, (60, 2))
        points = start + np.cumsum(way + (0.01, 0), 0)
        one = Stroke(
            points=points.tolist(), radius=0.06, tip=names[n % len(names)], loaded=0.7, seed=n
        )
        made.append(one.model_dump(mode="json", exclude_defaults=True))
    return made


def with_strokes(document: Piece, told: list[dict], assets: AssetStore) -> Piece:
    """In edits of 100."""
    for at in range(0, len(told), 100):
        edit = {"op": "add_strokes", "path": PATH, "strokes": told[at : at + 100]}
        document = edits.apply(document, [edit], assets)
    return document


def main() -> None:
    """Prints ms, the middle of TIMES: the change, the draft of the piece, the exact picture."""
    warm_up()
    words = {**mark(lettering("HULL", 700), 1200, 800), "id": "words"}
    bare = piece(words, size=SIZE)
    with tempfile.TemporaryDirectory() as folder:
        assets, cache = AssetStore(Path(folder)), ByteCache()
        for count in (0, 99, 999, 4999):
            document = with_strokes(bare, strokes(count, 1), assets)
            for truly in (False, True):
                engine.pixels(document, None, VIEW, assets, truly=truly, cache=cache)
            change, draft, exact = one_more(document, assets, cache)
            told = f"change {change:6.1f}  draft {draft:6.1f}  exact {exact:6.1f} ms"
            print(f"stroke {count + 1:5}: {told}")
        for op, more in (("take_back_stroke", {}), ("change_stroke", {"changes": {"radius": 0.1}})):
            begun = time.perf_counter()
            edits.apply(document, [{"op": op, "path": PATH, "number": 0, **more}], assets)
            print(f"{op} of the first: {1000 * (time.perf_counter() - begun):.0f} ms")


def one_more(document: Piece, assets: AssetStore, cache: ByteCache) -> list[float]:
    """ms of the change that brings one stroke, of the draft and of the exact picture after it."""
    taken: list[list[float]] = [[], [], []]
    for n in range(TIMES):
        begun = time.perf_counter()
        after = with_strokes(document, strokes(1, 50 + n), assets)
        taken[0].append(time.perf_counter() - begun)
        for which, truly in ((1, False), (2, True)):
            begun = time.perf_counter()
            engine.pixels(after, None, VIEW, assets, truly=truly, cache=cache)
            taken[which].append(time.perf_counter() - begun)
    return [1000 * median(one) for one in taken]


if __name__ == "__main__":
    main()
