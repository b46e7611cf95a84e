"""The child process that takes an SVG in: it reads it, makes it safe, weighs it and draws it once
for trial.
"""

from kilncore.svg.raster_child import drawn
from kilncore.svg.sanitising import sanitise
from kilncore.system.sandbox import answer

TRIAL_PX = 256


def _take_in(request: dict, data: bytes) -> tuple[dict, bytes]:
    safe = sanitise(data)
    scale = TRIAL_PX / max(safe.width, safe.height)
    pixels = drawn(
        safe.data,
        (safe.width, safe.height),
        (scale, 0, 0, scale, TRIAL_PX / 2, TRIAL_PX / 2),
        TRIAL_PX,
        TRIAL_PX,
        scale,
    )
    told = {"width": safe.width, "height": safe.height, "left_out": safe.left_out}
    return told | {"fonts": safe.fonts, "pixels": len(pixels)}, bytes(pixels) + safe.data


if __name__ == "__main__":
    answer(_take_in)
