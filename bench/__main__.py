"""`make bench`: how long the things take that a designer waits for. Medians of one run; only ratios travel.

The piece: planks as ground, two marks with the four steps each, at 1280 x 800 px and at A3, 300 ppi.
"""

import statistics
import sys
import tempfile
import time
from pathlib import Path

import numpy as np

from kilncore import edits, engine
from kilncore.assets import AssetStore
from kilncore.document import load
from kilncore.engine.cache import TileCache
from kilncore.output.fire import fire
from kilncore.output.png import as_image
from kilncore.output.preview import encode
from kilncore.textures import makers
from kilncore.warm_up import warm_up

REPEATS = 5
FLOOR_PX = 1_000_000


def main() -> int:
    warm_up()
    with tempfile.TemporaryDirectory() as folder:
        store = AssetStore(Path(folder))
        hashes = {name: _made(store, name) for name in ("planks", "grunge", "concrete")}
        floor = _median(_floor)
        _say("moving a megapixel of four planes once (the floor)", floor, floor)
        for title, size in (("1280 x 800", (1280, 800)), ("A3 at 300 ppi", (4961, 3508))):
            _measure(title, _piece(size, hashes), store, floor, Path(folder))
    for name in makers.MAKERS:
        _say(f"make {name}, 1024 x 1024", _median(lambda name=name: makers.make(name, 1024, 1024, 1), 3), floor)
    return 0


def _measure(title, piece, store, floor, folder):
    few = REPEATS if piece.size_px[0] < 2000 else 3
    engine.render(piece, None, 0.1, store)
    _say(f"{title}: exact, nothing cached", _median(lambda: engine.render(piece, assets=store, cache=TileCache()), few), floor)
    fit = min(1.0, 900 / piece.size_px[0])
    cache = TileCache()
    engine.exact(piece, None, fit, store, cache=cache)
    for label, late in (("the last mark's last step", True), ("the first mark's first step", False)):
        changed = _changes(piece, late)
        _say(f"{title}: exact at {fit:.0%}, {label} changed", _median(lambda c=changed: engine.exact(next(c), None, fit, store, cache=cache), few), floor)
    drafts = TileCache()
    engine.render(piece, None, fit, store, cache=drafts)
    for label, late in (("the last mark's last step", True), ("the first mark's first step", False)):
        changed = _changes(piece, late)
        _say(f"{title}: draft at {fit:.0%}, {label} changed", _median(lambda c=changed: engine.render(next(c), None, fit, store, cache=drafts)), floor)
    dragged = _drags(piece)
    _say(f"{title}: draft at {fit:.0%}, a mark dragged", _median(lambda: engine.render(next(dragged), None, fit, store, cache=drafts)), floor)
    shown = engine.render(piece, None, fit, store, cache=drafts)
    _say(f"{title}: draft as JPEG", _median(lambda: encode(shown, False)), floor)
    _say(f"{title}: exact as PNG", _median(lambda: encode(shown, True)), floor)
    _say(f"{title}: fired", _median(lambda: fire(piece, folder / "out.png", store), few), floor)


def _changes(piece, late: bool):
    """The piece with one number changed a little more each time."""
    mark = piece.stack[-1 if late else 0]
    step, name = (mark.treatment[-1], "radius") if late else (mark.treatment[0], "black")
    path = ["stack", mark.id, "treatment", step.id, "params", name]
    for n in range(1, 1000):
        value = {"value": 1 + n / 50} if late else 0.2 + n / 1000
        yield edits.apply(piece, [{"op": "set", "path": path, "value": value}])


def _drags(piece):
    for n in range(1, 1000):
        path = ["stack", piece.stack[-1].id, "placement", "x"]
        yield edits.apply(piece, [{"op": "set", "path": path, "value": {"value": piece.size_px[0] / 2 + 3.7 * n}}])


def _piece(size, hashes):
    width, height = size

    def px(value):
        return {"value": value, "unit": "px"}

    def treatment():
        grunge, concrete = ({"hash": hashes[name], "edges": "repeat"} for name in ("grunge", "concrete"))
        return [{"kind": "wear", "params": {"texture": grunge}},
                {"kind": "coat", "params": {"texture": concrete, "placement": {"scale": 1.3}}, "landing": {"mode": "multiply"}},
                {"kind": "follow", "params": {"across": px(10), "down": px(10)}}, {"kind": "soften", "params": {"radius": px(1)}}]

    marks = [{"art": {"kind": "lettering", "text": text, "size": px(height * share)}, "treatment": treatment(),
              "placement": {"x": px(width / 2), "y": px(height * y)}}
             for text, share, y in (("PELLWICK", 0.24, 0.4), ("NIGHT FERRY", 0.14, 0.7))]
    ground = {"fill": {"kind": "texture", "texture": {"hash": hashes["planks"], "edges": "repeat"}}}
    return load({"format": 1, "size_px": list(size), "ground": ground, "stack": marks})


def _made(store, name: str) -> str:
    planes = makers.make(name, 1024, 1024, 1)
    return store.keep(as_image(np.moveaxis(planes, 0, 2)).pngsave_buffer(compression=1))


def _floor():
    np.zeros((4, FLOOR_PX), np.float32).copy()


def _median(work, repeats=REPEATS) -> float:
    times = []
    for _ in range(repeats):
        begun = time.perf_counter()
        work()
        times.append(time.perf_counter() - begun)
    return statistics.median(times)


def _say(what: str, seconds: float, floor: float) -> None:
    print(f"{what:64s} {seconds * 1000:9.1f} ms {seconds / floor:8.1f} x", flush=True)


if __name__ == "__main__":
    sys.exit(main())
