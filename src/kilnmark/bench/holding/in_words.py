"""What holds a landing, in words."""

import math
from collections.abc import Callable

from kilncore.landing.model import BlendRange, Fade
from kilncore.model.units import Length

WHOSE = {
    "own": "the {} it lays on",
    "input": "the {} of the art",
    "beneath": "the {} of the surface",
}
TONES = {  # of (low, high, middle) ones
    "luminance": ("darks", "lights", "middle tones"),
    "lightness": ("darks", "lights", "middle tones"),
    "saturation": ("dull colours", "strong colours", "middling colours"),
}
STRENGTHS = ("weak", "strong", "middling")  # of one channel
WAYS = ("right", "down", "left", "up")


def range_words(found: BlendRange) -> str:
    """What a range lets through: 'only in the darks beneath'."""
    low, high = _ends(found)
    if low == 0 and high == 255:
        return "in no tone" if found.outside else "in all tones"
    which = 0 if low == 0 else 1 if high == 255 else 2
    side, whose = "not" if found.outside else "only", WHOSE[found.of]
    if found.reads not in TONES:
        return f"{side} where {whose.format(found.reads)} is {STRENGTHS[which]}"
    return f"{side} in {whose.format(TONES[found.reads][which])}"


def range_numbers(found: BlendRange) -> str:
    """Its tones as numbers, 0 to 255: 'from 92'."""
    low, high = _ends(found)
    reads = "" if found.reads == "luminance" else f"{found.reads} "
    told = f"from {low}" if high == 255 and low else f"{low} to {high}"
    told = f"up to {high}" if low == 0 and high < 255 else told
    return f"{'all but ' if found.outside else ''}{reads}{told}"


def _ends(found: BlendRange) -> tuple[int, int]:
    return round(255 * found.shown_from), round(255 * found.shown_to)


def fade_words(fade: Fade, length: Callable[[Length], float]) -> str:
    """Where it weakens to: 'fading down'. length : of a length, px."""
    if fade.start == fade.end:
        return f"{100 * fade.start:.0f} % all over"
    weakens = fade.start > fade.end
    if fade.shape == "round":
        return "fading outwards" if weakens else "fading inwards"
    if fade.shape == "sweep":
        return "fading round"
    across, down = length(fade.x1) - length(fade.x0), length(fade.y1) - length(fade.y0)
    turn = math.degrees(math.atan2(down, across)) + (0 if weakens else 180)
    return f"fading {WAYS[round(turn / 90) % 4]}"


def fade_numbers(fade: Fade) -> str:
    """Its strengths at both ends."""
    return f"{100 * fade.start:.0f} to {100 * fade.end:.0f} %"
