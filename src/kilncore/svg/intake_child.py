"""The child process that takes an SVG in: it reads it, makes it safe, weighs it and draws it once
for trial. What was easy it also looks at; what was not is left to a child of its own.
"""

import time

from kilncore.svg.looking_child import made_of
from kilncore.svg.raster_child import drawn
from kilncore.svg.sanitising import sanitise
from kilncore.system.sandbox import answer

TRIAL_PX = 256
EASY_SECONDS = 0.8  # of the processor


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
    answer = {"width": safe.width, "height": safe.height, "left_out": safe.left_out}
    answer |= {"fonts": safe.fonts, "pixels": len(pixels)}
    if time.process_time() < EASY_SECONDS:
        answer["facts"] = made_of(safe.data, bytes(pixels))
    return answer, bytes(pixels) + safe.data


if __name__ == "__main__":
    answer(_take_in)
