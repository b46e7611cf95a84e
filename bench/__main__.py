"""`make bench`: what a designer waits for, in ratios that travel: beside plain NumPy, libvips and
Skia doing the same twelve-step composite, and beside the time that moving the bytes alone would
take. One run; nothing here is a test."""

import sys
import tempfile
import threading
from functools import partial
from pathlib import Path

import numpy as np

from bench import (
    by_libvips,
    by_numpy,
    by_skia,
    drafts,
    feel,
    gestures,
    laid,
    large,
    making,
    marks,
    memory,
    pictures,
    preps,
    release,
    strokes,
    work,
)
from bench.measure import bandwidth, median, ms, p95, say, times
from kilncore import edits, engine
from kilncore.blending.modes import MODES
from kilncore.engine.cache_policy import Recent
from kilncore.engine.plan import Point
from kilncore.output.fire import fire
from kilncore.output.preview import encode
from kilncore.prep.base import Copy
from kilncore.prep.endless import Endless
from kilncore.prep.texture_ref import TextureRef
from kilncore.system.cache import ByteCache
from kilncore.textures import makers
from kilncore.warm_up import warm_up

STRIP_SCALE = 232 / 1280  # pictures of 232 px, shown at 116


def main() -> int:
    say("kernels compiled or loaded", f"{warm_up():.1f} s")
    with tempfile.TemporaryDirectory() as name:
        folder = Path(name)
        store, hashes = work.store_with_textures(folder / "assets")
        for title, size in work.SIZES.items():
            compared(title, size, store, hashes)
        interactive(store, hashes)
        bench_side(store, hashes)
        fired(
            "A3 at 300 ppi",
            work.composite(work.SIZES["A3 at 300 ppi"], hashes),
            store,
            hashes,
            folder,
        )
        large.curve(hashes, folder)
    drafts.report()
    pictures.report()
    preps.report()
    laid.report()
    strokes.main()
    release.report(marks.report, feel.report)
    gestures.main([])
    memory.report()
    making.report()
    scan = makers.make("concrete", 1024, 1024, 1)
    larger = Endless(times=4, piece=170)
    say(
        "a scan of 1024 x 1024, laid 4096 x 4096",
        ms(median(lambda: larger.prepared(scan, Copy()), 3)),
    )
    return 0


def compared(title, size, store, hashes) -> None:
    """The composite alone, no encoding, nothing kept from an earlier picture but textures in
    memory, in one run with others.
    """
    small = size[0] < 2000
    piece, art, textures = inputs(size, store, hashes)
    ours = median(
        lambda: engine.pixels(piece, assets=store, cache=ByteCache(200 * 2**20), seen=None),
        7 if small else 3,
    )
    moved = sum(t.nbytes for t in textures.values()) * 2 + art.nbytes + size[0] * size[1] * 3
    say(
        f"{title}: the composite, from nothing",
        ms(ours),
        f"{ours * bandwidth() / moved:.0f} x moving its bytes",
    )
    scaled = {name: t / np.float32(255) for name, t in textures.items()}
    skia_art, skia_pictures = by_skia.prepared(art, textures)
    others = {
        "plain NumPy": lambda: by_numpy.composite(art / np.float32(255), scaled),
        "libvips": lambda: by_libvips.composite(art, textures),
        "Skia": lambda: by_skia.composite(skia_art, skia_pictures),
    }
    found = {name: median(run, 3 if small else 1) for name, run in others.items()}
    for name, seconds in found.items():
        say(f"{title}: the same by {name}", ms(seconds), f"{seconds / ours:.1f} x ours")
    if small:
        changing(title, piece, store, found)


def inputs(size, store, hashes):
    """The piece; its bare lettering, (H, W) uint8; and its textures repeated over the piece."""
    piece = work.composite(size, hashes)
    mark = piece.stack[0].model_copy(
        update={"treatment": (), "landing": type(piece.stack[0].landing)()}
    )
    bare = piece.model_copy(update={"treatment": (), "stack": (mark,)})
    art = engine.pixels(bare, assets=store, with_ground=False)[..., 3]
    return (
        piece,
        np.ascontiguousarray(art),
        {
            name: spread(store.texture(TextureRef(hash=texture_hash)).planes, size)
            for name, texture_hash in hashes.items()
        },
    )


def spread(planes, size) -> np.ndarray:
    rows = (np.arange(size[1]) - (round(size[1] / 2) - planes.shape[1] // 2)) % planes.shape[1]
    columns = (np.arange(size[0]) - (round(size[0] / 2) - planes.shape[2] // 2)) % planes.shape[2]
    return np.ascontiguousarray(np.moveaxis(planes[:, rows][:, :, columns], 0, 2))


def changing(title, piece, store, others) -> None:
    """A control that moves: the picture of each change, then the picture as it goes to the
    browser.
    """
    for label, late in (("the first parameter", False), ("the last step", True)):
        draw = live(work.changed(piece, late), 1.0, store)
        drawn = median(draw, 15)
        ratios = ", ".join(f"{seconds / drawn:.0f} x {name}" for name, seconds in others.items())
        say(f"{title}: {label} changed, the composite", ms(drawn), "" if late else ratios)
        encoded(f"{title}: {label} changed, to encoded preview", draw, 21)


def live(changes, scale: float, store, **how):
    """A function that draws the next change as a bench does, after a few that bring it into its
    stride.
    """
    cache, seen = ByteCache(), Recent()

    def draw():
        return engine.pixels(next(changes), None, scale, store, cache=cache, seen=seen, **how)

    for _ in range(1 if how else 4):
        draw()
    return draw


def encoded(what: str, draw, repeats: int = 15) -> None:
    found = times(lambda: encode(draw(), False), repeats)
    say(what, ms(found[repeats // 2]), f"p95 {ms(p95(found))}")


def interactive(store, hashes) -> None:
    for title, size in work.SIZES.items():
        piece = work.composite(size, hashes)
        fit = min(1.0, 900 / size[0], 700 / size[1])
        for label, scale in (("", fit), (" at half resolution", fit / 2)):
            encoded(
                f"{title}: a mark dragged, draft{label} ({scale:.0%}), encoded",
                live(work.dragged(piece), scale, store),
            )
        truly = live(work.changed(piece, False), fit, store, truly=True)
        exact = median(partial(lambda draw: encode(draw(), True), truly), 3)
        say(f"{title}: exact picture at {fit:.0%}, first parameter changed", ms(exact))
    whole = work.composite(work.SIZES["1280 x 800"], hashes)
    encoded(
        "1280 x 800: a mark dragged, half-resolution draft of all of it",
        live(work.dragged(whole), 0.5, store),
    )


def bench_side(store, hashes) -> None:
    """The strip, a wall of blend modes, two people at once."""
    piece = work.composite(work.SIZES["1280 x 800"], hashes)
    part, steps = piece.stack[0].id, len(piece.stack[0].treatment)
    preview = median(
        lambda: encode(engine.pixels(piece, assets=store, cache=ByteCache(), seen=None), False)
    )

    def strip():
        points = [Point(part, n) for n in range(steps + 2)] + [
            Point("piece", n) for n in range(1, 5)
        ]
        for found in engine.together(
            [(piece, point) for point in points], None, STRIP_SCALE, store, ByteCache()
        ):
            encode(found, False)

    drawn = median(strip, 3)
    say(
        "the strip's pictures of all 12 steps",
        ms(drawn),
        f"{drawn / preview:.2f} x one preview from nothing",
    )
    say("a wall of 24 blend modes, 300 x 200 each", ms(median(lambda: wall(piece, store), 3)))
    alone, together = dragging(piece, store, 1), dragging(piece, store, 2)
    say("a draft while one drags", ms(alone), "")
    say("a draft while two drag at once", ms(together), f"{together / alone:.1f} x alone")


def wall(piece, store) -> None:
    mark, offered = piece.stack[0], []
    for name, _ in MODES[:24]:
        path = ["stack", mark.id, "treatment", mark.treatment[3].id, "landing", "mode"]
        offered.append((edits.apply(piece, [{"op": "set", "path": path, "value": name}]), None))
    for found in engine.together(offered, None, 300 / piece.size_px[0], store, ByteCache()):
        encode(found, False)


def dragging(piece, store, people: int) -> float:
    """The median draft of each of `people` who drag a mark at the same time."""
    cache, found = ByteCache(), []

    def one():
        seen, drags = Recent(), work.dragged(piece)
        found.extend(
            times(
                lambda: encode(
                    engine.pixels(next(drags), None, 0.6, store, cache=cache, seen=seen), False
                ),
                12,
            )
        )

    threads = [threading.Thread(target=one) for _ in range(people)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    return sorted(found)[len(found) // 2]


def fired(title, piece, store, hashes, folder) -> None:
    found = median(lambda: fire(piece, folder / "out.png", store), 3)
    size = (folder / "out.png").stat().st_size / 1e6
    alone = large.alone(hashes, folder, piece.size_px)
    say(
        f"{title}: fired to a PNG of {size:.0f} MB",
        ms(found),
        f"a process that only fires holds {alone['start'] + alone['above']:.0f} MB at most",
    )


if __name__ == "__main__":
    sys.exit(main())
