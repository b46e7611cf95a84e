"""Firing from 5 to 200 megapixels, each in a process of its own: time, and memory above where it
started.
"""

import json
import subprocess
import sys

from bench.measure import say

SIZES = {5: (2700, 1850), 20: (5400, 3700), 80: (10_800, 7_400), 200: (16_000, 12_500)}


def curve(hashes: dict, folder) -> None:
    first = None
    for megapixels, size in SIZES.items():
        found = alone(hashes, folder, size)
        first = first or found["seconds"] / megapixels
        say(
            f"{megapixels} megapixels fired ({size[0]} x {size[1]} px)",
            f"{found['seconds']:.1f} s",
            f"{found['seconds'] / megapixels / first:.2f} x a megapixel of the first, "
            f"{found['above']:.0f} MB above the start "
            f"of {found['start']:.0f} MB",
        )


def alone(hashes: dict, folder, size) -> dict:
    """Seconds of one firing in a process of its own, MB at its start and MB above that."""
    command = [
        sys.executable,
        "-m",
        "bench.large",
        str(folder / "assets"),
        str(folder / "large.png"),
        json.dumps(hashes),
        json.dumps(size),
    ]
    return json.loads(subprocess.run(command, capture_output=True, check=True, text=True).stdout)


def _one(assets: str, target: str, hashes: str, size: str) -> None:
    """In the child: start with everything loaded and one texture of each read, then fire."""
    from pathlib import Path

    from bench import work
    from kilncore.assets import AssetStore
    from kilncore.output.fire import fire
    from kilncore.prep.texture_ref import TextureRef
    from kilncore.warm_up import warm_up

    warm_up()
    store, hashes = AssetStore(Path(assets)), json.loads(hashes)
    for name in hashes.values():
        store.texture(TextureRef(hash=name))
    start = held("VmRSS")
    done = fire(work.composite(tuple(json.loads(size)), hashes), Path(target), store)
    print(json.dumps({"seconds": done.seconds, "start": start, "above": held("VmHWM") - start}))


def held(what: str) -> float:
    """MB that this process holds (VmRSS), or has held at most (VmHWM); what a parent held is not
    counted.
    """
    with open("/proc/self/status") as status:
        return next(int(line.split()[1]) for line in status if line.startswith(what)) / 1024


if __name__ == "__main__":
    _one(*sys.argv[1:])
