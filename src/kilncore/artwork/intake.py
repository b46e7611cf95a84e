"""Bringing an SVG in: read, made safe, weighed and drawn once for trial, all in one limited child.

What passes can be drawn: what a block costs depends on how many pixels it has, not on how far the
drawing is enlarged. The largest block has 64 times the trial's pixels, and its child is given as
many times longer (`vector.LIMITS`).
"""

import threading

from kilncore.errors import UnusableFile
from kilncore.svg.parsing import MAX_BYTES, TOO_LARGE
from kilncore.svg.sanitising import SafeSvg
from kilncore.system.sandbox import Limits, run

LIMITS = Limits(memory=500 * 2**20, cpu=2, wall=5)
TURNS = threading.BoundedSemaphore(2)
TOO_MUCH = (
    "This SVG takes too long to read or too much memory to draw. Simplify it, or bring "
    "it in as a picture."
)


def brought_in(data: bytes) -> SafeSvg:
    """The drawing, safe and sure to be drawn; UnusableFile, with the reason, if it cannot be."""
    if len(data) > MAX_BYTES:
        raise UnusableFile(TOO_LARGE)
    told, clean = run("kilncore.svg.intake_child", LIMITS, {}, data, TOO_MUCH, TURNS)
    return SafeSvg(clean, told["width"], told["height"], tuple(told["left_out"]))
