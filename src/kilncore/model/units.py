"""Lengths and their units. 1 inch is 25.4 mm (exact, by definition)."""

from typing import Literal

from pydantic import Field

from kilncore.model.base import Model

MM_PER_INCH = 25.4
ORDINALS = "first second third fourth fifth sixth seventh eighth ninth tenth".split()
Unit = Literal["px", "mm", "%"]


class Length(Model):
    """A length on the piece: document pixels, millimetres at the piece's ppi, or per cent of the
    mark's height.
    """

    value: float = Field(ge=-1e5, le=1e5)
    unit: Unit = "px"

    def __str__(self) -> str:
        return f"{format_number(self.value)} {self.unit}"

    def in_px(self, ppi: float, height_px: float) -> float:
        """Document pixels, for a piece at `ppi` and a mark `height_px` tall."""
        if self.unit == "mm":
            return mm_to_px(self.value, ppi)
        if self.unit == "%":
            return self.value * height_px / 100
        return self.value


def mm_to_px(mm: float, ppi: float) -> float:
    """Millimetres in px, at so many px per inch."""
    return mm * ppi / MM_PER_INCH


def px_to_mm(px: float, ppi: float) -> float:
    """Px in millimetres, at so many px per inch."""
    return px * MM_PER_INCH / ppi


def format_number(value: float) -> str:
    """A number with as many decimals as mean something: one from 100 on, two from 1 on, else
    three.
    """
    places = 1 if abs(value) >= 100 else 2 if abs(value) >= 1 else 3
    text = f"{value:.{places}f}".rstrip("0").rstrip(".")
    return "0" if text == "-0" else text


def px(value: float) -> Length:
    """A length in px."""
    return Length(value=value, unit="px")


def ordinal(number: int) -> str:
    """'first', 'second'; from the eleventh on with digits."""
    return ORDINALS[number - 1] if number <= len(ORDINALS) else f"{number}th"
