"""The colours of an SVG, written out: every one as '#rrggbb', or '#rrggbbaa' where it is
see-through, so that they can be told, counted and replaced.

Sources: CSS Color Level 4 (notations; what lies outside sRGB is cut to it), SVG 2 (paint: a
reference may be followed by a colour for when it points nowhere). What is no colour is taken out,
as CSS passes over it. `currentColor` stays, and the `color` that it stands for is written out.
"""

import re
from functools import lru_cache
from typing import Any

from tinycss2 import color5

from kilncore.svg.parsing import SVG

COLOURED = ("fill", "stroke", "stop-color", "color")
PAINTS = ("fill", "stroke")
KEYWORDS = {"none", "inherit", "currentcolor", "context-fill", "context-stroke"}
REFERENCE = re.compile(r"url\(\s*['\"]?#([^)'\"\s]+)['\"]?\s*\)\s*(.*)", re.S)
PLAIN = re.compile("#[0-9a-f]{6}")
LONGEST = 200
# CSS Color 4, section 18: linear display-p3 to XYZ, and XYZ (D65) to linear sRGB
P3_TO_XYZ = (
    (0.4865709486482162, 0.26566769316909306, 0.1982172852343625),
    (0.2289745640697488, 0.6917385218365064, 0.079286914093745),
    (0.0, 0.04511338185890264, 1.043944368900976),
)
D50_TO_D65 = (
    (0.9554734527042182, -0.023098536874261423, 0.0632593086610217),
    (-0.028369706963208136, 1.0099954580058226, 0.021041398966943008),
    (0.012314001688319899, -0.020507696433477912, 1.3303659366080753),
)
XYZ_TO_SRGB = (
    (3.2409699419045226, -1.537383177570094, -0.4986107602930034),
    (-0.9692436362808796, 1.8759675015077202, 0.04155505740717559),
    (0.05563007969699366, -0.20397695888897652, 1.0569715142428786),
)


def write_out(root: Any) -> None:
    """Every colour of a drawing in hex notation; what its root and its stops leave unsaid, too."""
    ids: set[str] = set(root.xpath("//@id"))
    for element in root.iter():
        attributes = element.attrib
        for name in COLOURED:
            value = attributes.get(name)
            if value is None or PLAIN.fullmatch(value):
                continue
            plain = _paint(value, ids) if name in PAINTS else _colour(value)
            if plain is None:
                del attributes[name]
            elif plain != value:
                attributes[name] = plain
    for stop in root.iter(f"{{{SVG}}}stop"):
        if stop.get("stop-color") is None:
            stop.set("stop-color", "#000000")
    root.set("fill", root.get("fill", "#000000"))


def _paint(value: str, ids: set[str]) -> str | None:
    reference = REFERENCE.fullmatch(value.strip())
    if reference is None:
        return _colour(value)
    name, otherwise = reference.groups()
    return f"url(#{name})" if name in ids else _colour(otherwise) or "none"


def _colour(value: str) -> str | None:
    value = value.strip()
    if PLAIN.fullmatch(value):
        return value
    if value.lower() in KEYWORDS:
        return "currentColor" if value.lower() == "currentcolor" else value.lower()
    if not value or len(value) > LONGEST:
        return None
    return hex_of(value)


@lru_cache(maxsize=4096)
def hex_of(text: str) -> str | None:
    """A CSS colour as '#rrggbb' or '#rrggbbaa', None if it is none."""
    try:
        colour = color5.parse_color(text)
        if colour is None or isinstance(colour, str):
            return None
        rgb = _srgb(colour)
    except (ValueError, NotImplementedError, TypeError, KeyError, OverflowError):
        return None
    channels = [round(255 * min(max(0.0, float(c or 0)), 1.0)) for c in (*rgb, colour.alpha)]
    digits = "".join(f"{channel:02x}" for channel in channels)
    return "#" + (digits[:6] if digits[6:] == "ff" else digits)


def _srgb(colour: Any) -> tuple[float, ...]:
    if colour.space == "display-p3":
        return _of_xyz(_times(P3_TO_XYZ, [_linear(float(c or 0)) for c in colour.coordinates]))
    if colour.space in ("srgb", "hsl", "hwb"):
        return colour.to("srgb").coordinates
    if colour.space == "srgb-linear":
        return tuple(_encoded(float(c or 0)) for c in colour.coordinates)
    if colour.space in ("lab", "lch", "xyz-d50"):
        return _of_xyz(_times(D50_TO_D65, colour.to("xyz-d50").coordinates))
    return _of_xyz(colour.to("xyz-d65").coordinates)


def _of_xyz(xyz: list | tuple) -> tuple[float, ...]:
    return tuple(_encoded(c) for c in _times(XYZ_TO_SRGB, xyz))


def _times(matrix: tuple, vector: list | tuple) -> list[float]:
    return [sum(m * float(v or 0) for m, v in zip(row, vector, strict=True)) for row in matrix]


def _linear(value: float) -> float:
    return value / 12.92 if value <= 0.04045 else ((value + 0.055) / 1.055) ** 2.4


def _encoded(value: float) -> float:
    return value * 12.92 if value <= 0.0031308 else 1.055 * max(value, 0) ** (1 / 2.4) - 0.055
