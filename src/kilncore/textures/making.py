"""Making a texture in a process of its own: it can be stopped, tells how far it is, and its memory
goes with it.

`python -m kilncore.textures.making` reads a request as JSON from its standard input, writes a share
0..1 on a line of its own as it goes on, and at the end leaves a PNG of each map that it was asked
for.
"""

import json
import os
import resource
import subprocess
import sys
import time
from collections.abc import Callable, Mapping
from pathlib import Path
from types import MappingProxyType
from typing import Any

from kilncore.errors import KilnError, Superseded
from kilncore.system import hardware

# of address space: the largest texture takes 4 to 8 GB, all maps together
MEMORY = min(12 * 2**30, hardware.MEMORY * 3 // 4)
LOOK_EVERY_SECONDS = 0.2
COUNTED_AT_PX = 64
FAILED = (
    "The texture could not be made: there is not enough memory or room on the disk. Make "
    "it smaller, or try again when less is going on."
)


def make_files(
    targets: dict[str, Path],
    maker: str,
    width: int,
    height: int,
    seed: int,
    settings: dict,
    *,
    ppi: float = 300,
    drawings: Mapping[str, bytes] = MappingProxyType({}),
    progress: Callable[[float], None] = lambda share: None,
    cancelled: Callable[[], bool] = lambda: False,
) -> None:
    """Write PNGs of a texture's maps, by their names. KilnError if it cannot be made, Superseded
    when `cancelled` says so; what is left then is no texture.
    """
    request = {
        "targets": {name: str(target) for name, target in targets.items()},
        "ppi": ppi,
        "drawings": {name: svg.decode() for name, svg in drawings.items()},
        "maker": maker,
        "width": width,
        "height": height,
        "seed": seed,
        "settings": settings,
    }
    child = subprocess.Popen(
        [sys.executable, "-m", "kilncore.textures.making"],
        stdin=subprocess.PIPE,
        stdout=subprocess.PIPE,
        stderr=subprocess.DEVNULL,
    )
    assert child.stdin and child.stdout
    try:
        child.stdin.write(json.dumps(request).encode())
        child.stdin.close()
        shares = _Lines(child.stdout)
        while child.poll() is None:
            if cancelled():
                raise Superseded
            progress(shares.last())
            time.sleep(LOOK_EVERY_SECONDS)
        if child.returncode:
            raise KilnError(FAILED)
    finally:
        child.kill()
        child.wait()
        child.stdout.close()


class _Lines:
    """The last share that a child told, without waiting for it."""

    def __init__(self, pipe: Any):
        os.set_blocking(pipe.fileno(), False)
        self._pipe, self._last = pipe, 0.0

    def last(self) -> float:
        for line in (self._pipe.read() or b"").split():
            self._last = float(line)
        return self._last


def main() -> None:
    """The child: make what is asked for, tell how far it is, leave a file."""
    request = json.load(sys.stdin)
    resource.setrlimit(resource.RLIMIT_AS, (MEMORY, MEMORY))
    resource.setrlimit(resource.RLIMIT_CORE, (0, 0))
    import numpy as np

    from kilncore.compiled.allocator import retain_freed
    from kilncore.pixels.vips import as_image
    from kilncore.textures import makers
    from kilncore.textures.makers.parts.fields import Fields

    retain_freed()
    made = []
    Fields.told = staticmethod(lambda: made.append(1))
    settings = makers.MAKERS[request["maker"]].settings.model_validate(request["settings"])
    drawings = {name: svg.encode() for name, svg in request["drawings"].items()}
    asked = {"seed": request["seed"], "settings": settings, "ppi": request["ppi"]}
    asked["drawings"] = drawings
    makers.make(request["maker"], COUNTED_AT_PX, COUNTED_AT_PX, **asked)
    count, steps = len(made) + 3, [0]

    def told():
        steps[0] += 1
        print(f"{steps[0] / count:.3f}", flush=True)

    Fields.told = staticmethod(told)
    maps = makers.maps(request["maker"], request["width"], request["height"], **asked)
    told()
    for name, target in request["targets"].items():
        as_image(np.moveaxis(maps.named(name), 0, 2)).pngsave(target, compression=4)


if __name__ == "__main__":
    main()
