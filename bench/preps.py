"""Preparing textures: a draft and the exact pixels of a 24-megapixel scan, what is measured of it,
and firing a piece with a prepared 100-megapixel texture, in a process of its own.

`python -m bench.preps` measures this alone.
"""

import json
import subprocess
import sys
import time
from pathlib import Path
from tempfile import TemporaryDirectory

import numpy as np

from bench.measure import ms, p95, say, times
from kilncore.assets import AssetStore
from kilncore.pixels.vips import as_image
from kilncore.prep.texture_ref import DraftRef, TextureRef
from kilncore.system.opencv import cv2
from kilncore.textures import makers
from kilncore.textures.examining import examined
from kilncore.textures.prep import chain_of

LARGE, HUGE = (6000, 4000), (11_500, 8600)
PATCH = {"points": [[0.6, 0.33], [0.7, 0.4]], "width": 0.05}


def chain(share: float = 0.12, least: float = 4):
    return chain_of(
        [
            {"kind": "grey"},
            {"kind": "flatten"},
            {"kind": "clean", "patches": [PATCH]},
            {"kind": "two-tone", "share": share},
            {"kind": "specks", "least_px": least},
        ]
    )


def scan(size: tuple[int, int]) -> bytes:
    """A JPEG of concrete, enlarged to that size, with grain, lit from one side."""
    planes = makers.make("concrete", 1500, 1000, 5, makers.MAKERS["concrete"].settings())
    light = np.linspace(1.1, 0.6, size[0], dtype=np.float32)
    rng = np.random.default_rng(1)
    pixels = np.empty((size[1], size[0], 3), np.uint8)
    grain = rng.normal(0, 5, (512, 512)).astype(np.float32)
    tall, wide = -(-size[1] // 512), -(-size[0] // 512)
    for n in range(3):
        plane = planes[min(n, len(planes) - 1)]
        large = cv2.resize(plane, size, interpolation=cv2.INTER_CUBIC).astype(np.float32)
        large *= light
        large += np.tile(grain, (tall, wide))[: size[1], : size[0]]
        pixels[..., n] = np.clip(large, 0, 255)
    return as_image(pixels).jpegsave_buffer(Q=88)


def report() -> None:
    with TemporaryDirectory() as folder:
        store = AssetStore(Path(folder) / "assets")
        data = scan(LARGE)
        begun = time.monotonic()
        examined(data)
        say("a 24-MP scan brought in and measured", f"{time.monotonic() - begun:.1f} s")
        _drafts(store, store.keep(data))
        _fired(folder, store.keep(scan(HUGE)))


def _drafts(store: AssetStore, name: str) -> None:
    begun = time.monotonic()
    store.texture(DraftRef(hash=name, chain=chain(), level=3))
    say("its prep of five operations, the first draft", ms(time.monotonic() - begun))
    shares = iter(np.linspace(0.05, 0.4, 30))
    aims = times(
        lambda: store.texture(DraftRef(hash=name, chain=chain(float(next(shares))), level=3)), 12
    )
    say("its aim moved, a draft", ms(aims[6]), f"p95 {ms(p95(aims))}")
    sizes = iter(np.linspace(3, 9, 30))
    specks = times(
        lambda: store.texture(DraftRef(hash=name, chain=chain(0.12, float(next(sizes))), level=3)),
        12,
    )
    say("its specks' size moved, a draft", ms(specks[6]))
    begun = time.monotonic()
    ready = store.texture(TextureRef(hash=name, chain=chain()))
    say("its exact pixels, all five operations", f"{time.monotonic() - begun:.1f} s")
    dark = 1 - ready.planes.mean(dtype=float) / 65535
    two_tone = store.texture(TextureRef(hash=name, chain=chain()[:4])).planes
    say(
        "12 % black asked for",
        f"{100 * (1 - two_tone.mean(dtype=float) / 65535):.2f} %",
        f"{100 * dark:.2f} % once its small specks are gone",
    )
    again = AssetStore(store.folder)
    begun = time.monotonic()
    again.texture(TextureRef(hash=name, chain=chain()))
    say("the same by another process, from the disk", ms(time.monotonic() - begun))


def _fired(folder: str, name: str) -> None:
    command = [sys.executable, "-m", "bench.preps", folder, name]
    found = json.loads(subprocess.run(command, capture_output=True, check=True, text=True).stdout)
    say(
        "an A3 fired with a prepared 100-MP texture",
        f"{found['seconds']:.1f} s",
        f"{found['above']:.0f} MB above the start; fired again, ready, {found['again']:.1f} s, "
        f"{found['above_again']:.0f} MB",
    )


def _one(folder: str, name: str) -> None:
    """In the child: fire twice; the first time the texture is prepared too."""
    from bench.large import held
    from kilncore.document import load
    from kilncore.output.fire import fire
    from kilncore.warm_up import warm_up

    warm_up()
    texture = {"hash": name, "chain": [one.model_dump(mode="json") for one in chain()]}
    wear = {"kind": "wear", "params": {"texture": texture, "placement": {"scale": 0.4}}}
    words = {"kind": "lettering", "text": "NIGHT", "size": {"value": 1200, "unit": "px"}}
    middle = {"x": {"value": 50, "unit": "%"}, "y": {"value": 50, "unit": "%"}}
    mark = {"kind": "mark", "art": words, "placement": middle, "treatment": [wear]}
    ground = {"fill": {"kind": "colour", "colour": "#cdb893"}}
    document = load(
        {"format": 7, "size_px": [3508, 4961], "ppi": 300, "ground": ground, "stack": [mark]}
    )
    start, target = held("VmRSS"), Path(folder) / "fired.png"
    first = fire(document, target, AssetStore(Path(folder) / "assets"))
    above = held("VmHWM") - start
    Path("/proc/self/clear_refs").write_text("5")  # the peak is counted anew
    low = held("VmRSS")
    again = fire(document, target, AssetStore(Path(folder) / "assets"))
    told = {"seconds": first.seconds, "above": above, "again": again.seconds}
    print(json.dumps(told | {"above_again": held("VmHWM") - low}))


if __name__ == "__main__":
    _one(*sys.argv[1:]) if sys.argv[1:] else report()
