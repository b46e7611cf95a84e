"""A colour in plain words, for lines that say what something is kept to.

The lightness, chroma and hue are those of Oklab (Ottosson, A perceptual color space for image
processing, 2020); the words and where they end are ours.
"""

import math

import numpy as np

from kilncore.pixels.colour import hex_to_rgb

TO_LMS = (
    (0.4122214708, 0.5363325363, 0.0514459929),
    (0.2119034982, 0.6806995451, 0.1073969566),
    (0.0883024619, 0.2817188376, 0.6299787005),
)
TO_LAB = (
    (0.2104542553, 0.7936177850, -0.0040720468),
    (1.9779984951, -2.4285922050, 0.4505937099),
    (0.0259040371, 0.7827717662, -0.8086757660),
)
GREY = 0.035  # chroma below which there is no hue
GREYS = ((0.28, "black"), (0.45, "dark grey"), (0.75, "grey"), (0.93, "pale grey"), (2, "white"))
HUES = (
    (12, "pink"),
    (40, "red"),
    (75, "orange"),
    (115, "yellow"),
    (165, "green"),
    (220, "teal"),
    (280, "blue"),
    (335, "violet"),
    (361, "pink"),
)
DARK, PALE = 0.45, 0.82
BROWN, OLIVE = 0.62, 0.68
TINGE, WEAK = 0.018, 0.08  # chroma of a beige
BEIGE, CREAM = 0.72, 0.87  # from what lightness on
STRONG = 0.16  # chroma of what is not pale, however light


def lightness_chroma_hue(colour: str) -> tuple[float, float, float]:
    """(0..1, 0 to about 0.4, degrees 0..360) of '#rrggbb' in Oklab."""
    encoded = hex_to_rgb(colour).astype(float)
    linear = np.where(encoded <= 0.04045, encoded / 12.92, ((encoded + 0.055) / 1.055) ** 2.4)
    lightness, a, b = np.array(TO_LAB) @ np.cbrt(np.array(TO_LMS) @ linear)
    return float(lightness), math.hypot(a, b), math.degrees(math.atan2(b, a)) % 360


def colour_words(colour: str) -> str:
    """'dark blue' of '#1d2c45'."""
    lightness, chroma, hue = lightness_chroma_hue(colour)
    word = next(word for most, word in HUES if hue < most)
    if word in ("orange", "yellow") and lightness > BEIGE and TINGE < chroma < WEAK:
        return "cream" if lightness > CREAM else "beige"
    if chroma < GREY:
        return next(word for most, word in GREYS if lightness < most)
    if word in ("red", "orange") and lightness < BROWN and (word == "orange" or chroma < 0.1):
        return "dark brown" if lightness < DARK else "brown"
    if word == "yellow" and lightness < OLIVE:
        return "olive"
    pale = lightness > PALE and chroma < STRONG and word != "yellow"
    return ("dark " if lightness < DARK else "pale " if pale else "") + word
