"""Broken files of every format: each ends in a picture, a drawing or a refusal in words.

python -m fuzz.files SEED COUNT; what is taken in is also decoded and prepared here, so that a crash
ends this process and is told.
"""

import faulthandler
import io
import sys
import tempfile
from pathlib import Path

import numpy as np
import pyvips
from PIL import Image

from kilncore.artwork.intake import brought_in
from kilncore.artwork.vector import rasterised
from kilncore.errors import UnusableFile
from kilncore.pixels.reading import planes_of
from kilncore.prep.base import Copy
from kilncore.prep.ink import Ink
from kilncore.prep.knock_out import KnockOut

MOST_CHANGED = 30
SVG = b"""<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 90 60"><style>.a{fill:#a03}</style>
<linearGradient id="g"><stop stop-color="gold"/><stop offset="1" stop-color="hsl(9 9% 9%)"/>
</linearGradient><g id="k" opacity=".9"><rect class="a" width="40" height="30"/><circle r="20"
cx="50" cy="30" fill="url(#g)" stroke="#123" stroke-width="3"/></g><use href="#k" x="9"/>
<text x="5 9" y="50" font-family="serif" font-size="9">Gull <tspan dx="2">key</tspan></text>
</svg>"""


def whole() -> dict[str, bytes]:
    """A sound file of every format."""
    rng = np.random.default_rng(3)
    pixels = rng.integers(0, 256, (120, 160, 4), dtype=np.uint8)
    image = pyvips.Image.new_from_memory(pixels.tobytes(), 160, 120, 4, "uchar")
    image = image.copy(interpretation="srgb")
    flat = Image.fromarray(pixels[..., :3]).quantize(40)
    gif = io.BytesIO()
    flat.save(gif, "GIF", save_all=True, append_images=[flat])
    deep = (image.cast("ushort") * 257).cast("ushort").copy(interpretation="rgb16")
    return {
        "png": image.pngsave_buffer(),
        "png 16": deep.pngsave_buffer(),
        "jpeg": image.extract_band(0, n=3).jpegsave_buffer(),
        "webp": image.webpsave_buffer(),
        "tiff": image.tiffsave_buffer(compression="lzw"),
        "tiff 16": deep.tiffsave_buffer(compression="deflate", tile=True),
        "avif": image.heifsave_buffer(compression="av1"),
        "gif": gif.getvalue(),
        "svg": SVG,
    }


def broken(data: bytes, rng) -> bytes:
    """Bytes changed, cut out, doubled, or the end cut off."""
    found = bytearray(data)
    head = rng.random() < 0.5  # what is told first does most harm
    for _ in range(rng.integers(1, MOST_CHANGED)):
        place = int(rng.integers(0, min(len(found), 200) if head else len(found)))
        sort = rng.integers(0, 10)
        if sort < 7:
            found[place] = rng.integers(0, 256)
        elif sort < 8:
            del found[place : place + int(rng.integers(1, 9))]
        elif sort < 9:
            found[place:place] = found[place : place + int(rng.integers(1, 99))]
        else:
            found[place : place + 4] = b"\xff\xff\xff\x7f"
        if len(found) < 20:
            break
    return bytes(found[: rng.integers(1, len(found))] if rng.random() < 0.1 else found)


def tried(data: bytes) -> str:
    """'taken in' or 'refused'; anything else is raised."""
    try:
        found = brought_in(data)
    except UnusableFile as refused:
        assert refused.message
        return "refused"
    if found.kind == "vector":
        rasterised(found.data, (found.width, found.height), (0.1, 0, 0, 0.1, 20, 20), 40, 40)
    elif found.width * found.height < 4_000_000:
        planes = planes_of(data)
        for operation in (KnockOut(connected=False), Ink(flatten=True)):
            assert operation.prepared(planes, Copy()).shape == (4, *planes.shape[1:])
    return "taken in"


def main() -> int:
    faulthandler.enable()
    number, count = int(sys.argv[1]), int(sys.argv[2])
    rng, files = np.random.default_rng(number), whole()
    last = Path(tempfile.gettempdir()) / f"kilnmark-fuzz-file-{number}"
    for _ in range(count):
        kind = str(rng.choice(list(files)))
        data = broken(files[kind], rng)
        last.write_bytes(data)
        print(f"{kind}: {tried(data)}", flush=True)
    last.unlink(missing_ok=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())
