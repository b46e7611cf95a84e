"""Bringing an SVG in: read, made safe, weighed and drawn once for trial, all in one limited child.

What passes can be drawn: what a block costs depends on how many pixels it has, not on how far the drawing is enlarged. The
largest block has 64 times the trial's pixels, and its child is given as many times longer (`vector.LIMITS`).
"""

import threading

from kilncore.artwork.safe_svg import SafeSvg, sanitise
from kilncore.artwork.svg_parsing import MAX_BYTES, TOO_LARGE
from kilncore.errors import UnusableFile
from kilncore.limited import Limits, answer, run

LIMITS = Limits(memory=500 * 2**20, cpu=2, wall=5)
TURNS = threading.BoundedSemaphore(2)
TRIAL_PX = 256
TOO_MUCH = "This SVG takes too long to read or too much memory to draw. Simplify it, or bring it in as a picture."


def brought_in(data: bytes) -> SafeSvg:
    """The drawing, safe and sure to be drawn; UnusableFile, with the reason, if it cannot be."""
    if len(data) > MAX_BYTES:
        raise UnusableFile(TOO_LARGE)
    told, clean = run("kilncore.artwork.intake", LIMITS, {}, data, TOO_MUCH, TURNS)
    return SafeSvg(clean, told["width"], told["height"], tuple(told["left_out"]))


def _take_in(request: dict, data: bytes) -> tuple[dict, bytes]:
    from kilncore.artwork.raster_child import drawn

    safe = sanitise(data)
    scale = TRIAL_PX / max(safe.width, safe.height)
    drawn(safe.data, (safe.width, safe.height), (scale, 0, 0, scale, TRIAL_PX / 2, TRIAL_PX / 2), TRIAL_PX, TRIAL_PX, scale)
    return {"width": safe.width, "height": safe.height, "left_out": safe.left_out}, safe.data


if __name__ == "__main__":
    answer(_take_in)
