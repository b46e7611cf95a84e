"""Tones: levels, lift and lower, contrast, lightness, saturation, hue, invert.

Tones go through one curve, the same for red, green and blue; then saturation and hue through the
matrices of W3C Filter Effects Module Level 1 (feColorMatrix, `saturate` and `hueRotate`).
"""

import math

import numpy as np
from pydantic import model_validator

from kilncore.graph.protocols import View
from kilncore.model.base import Model
from kilncore.model.region import Region
from kilncore.model.setting import percent, tone
from kilncore.model.units import format_number
from kilncore.pixels.picture import Picture
from kilncore.planes.surface_facts import Surface, surface_under
from kilncore.steps.base import Remake, setting, step

PLACES = 4096
LUMA = (0.213, 0.715, 0.072)  # as feColorMatrix has it
LEVELS = "Levels"


class TonesSettings(Model):
    """black, white : tones that become the least and the most; middle bends what lies between.

    lift, lower : what the least and the most are. contrast, lightness : -1..1, 0 leaves all as it
    is. saturation : 0 grey, 1 as it is. hue_deg : clockwise. match : what the least and the most
    are is kept within the blacks and whites of the surface beneath the mark, or in `place`.
    """

    match: bool = setting(
        False,
        "Within the surface's tones",
        "Nothing printed on a wall is blacker than its shadows.",
        "toggle",
        reload=True,
    )
    place: Region | None = setting(
        None, "Measured here", "Where the surface has its shadows.", "region", if_="match"
    )
    lift: float = tone(0.0, "Lift blacks to", "What black becomes.", soft=(0, 128), step=1)
    lower: float = tone(1.0, "Lower whites to", "What white becomes.", soft=(127, 255), step=1)
    contrast: float = percent(0.0, "Contrast", "About middle grey.", -1, 1, (-100, 100))
    lightness: float = percent(0.0, "Lightness", "Towards white or black.", -1, 1, (-100, 100))
    saturation: float = percent(1.0, "Saturation", "0 is grey.", 0, 4, (0, 200))
    hue_deg: float = setting(
        0.0,
        "Hue",
        "Round the circle of colours.",
        "slider",
        unit="°",
        soft=(-180, 180),
        ge=-360,
        le=360,
        step=1,
    )
    black: float = tone(0.0, "Black point", "Tones up to here become black.", step=1, group=LEVELS)
    middle: float = setting(
        1.0,
        "Middle",
        "Above 1 is lighter, below 1 darker.",
        "slider",
        soft=(0.2, 4),
        ge=0.1,
        le=10,
        step=0.05,
        group=LEVELS,
    )
    white: float = tone(
        1.0, "White point", "Tones from here on become white.", step=1, group=LEVELS
    )
    invert: bool = setting(False, "Invert", "Light becomes dark.", "toggle", group=LEVELS)

    @model_validator(mode="after")
    def _in_order(self):
        if self.black > self.white:
            raise ValueError("the black point must not lie above the white point")
        if self.lift > self.lower:
            raise ValueError("blacks must not be lifted above what whites are lowered to")
        return self


def summary(settings: TonesSettings) -> str:
    """What is changed, in a few words."""
    fields = type(settings).model_fields
    names = [
        str(info.title).lower()
        for name, info in fields.items()
        if name != "place" and getattr(settings, name) != info.default
    ]
    return ", ".join(names[:2]) + (" …" if len(names) > 2 else "") if names else "as they are"


def states(settings: TonesSettings) -> dict[str, str]:
    """What the closed lines of its sheet say."""
    black, white = (round(255 * one) for one in (settings.black, settings.white))
    middle = "" if settings.middle == 1 else f", middle {format_number(settings.middle)}"
    return {LEVELS: f"{black} to {white}{middle}{', inverted' if settings.invert else ''}"}


def curve(settings: TonesSettings, tones: np.ndarray) -> np.ndarray:
    """What becomes of tones, 0..1."""
    tones = 1 - tones if settings.invert else tones
    span = max(settings.white - settings.black, 1e-6)
    tones = np.clip((tones - settings.black) / span, 0, 1) ** (1 / settings.middle)
    tones = 0.5 + (tones - 0.5) * _steepness(settings.contrast)
    tones = np.clip(tones, 0, 1)
    light = settings.lightness
    tones = tones + light * (1 - tones) if light > 0 else tones * (1 + light)
    return settings.lift + np.clip(tones, 0, 1) * (settings.lower - settings.lift)


def _steepness(contrast: float) -> float:
    """-1 flat, 0 as it is, 1 nearly a threshold."""
    return 1 + contrast if contrast <= 0 else 1 / max(1 - contrast, 0.004)


def matrix(saturation: float, hue_deg: float) -> np.ndarray:
    """(3, 3): saturation, then hue."""
    red, green, blue = LUMA
    grey = np.tile(np.array(LUMA), (3, 1))
    saturate = saturation * np.eye(3) + (1 - saturation) * grey
    cos, sin = math.cos(math.radians(hue_deg)), math.sin(math.radians(hue_deg))
    turned = (
        grey
        + cos * (np.eye(3) - grey)
        + sin
        * np.array([[-red, -green, 1 - blue], [0.143, 0.140, -0.283], [-(1 - red), green, blue]])
    )
    return turned @ saturate


def as_measured(settings: TonesSettings, surface: Surface | None) -> TonesSettings:
    """With blacks and whites no farther apart than the surface's, if they are to be matched."""
    if surface is None:
        return settings
    lift, lower = max(settings.lift, surface.black), min(settings.lower, surface.white)
    return settings.model_copy(update={"lift": min(lift, lower), "lower": max(lift, lower)})


@step(
    "tones",
    title="Tones",
    sentence="Blacks lifted, whites lowered, contrast, saturation, hue.",
    group="Colour",
    gives="remake",
    settings=TonesSettings,
    summary=summary,
    states=states,
    changes={"colour"},
    planes=lambda settings, sources: (
        {"surface": surface_under(sources, settings.place)} if settings.match else {}
    ),
)
def tones(settings: TonesSettings, view: View):
    """Every colour through the curve and the matrix; alpha stays."""
    picture = view.picture()
    if picture is None:
        return None
    settings = as_measured(settings, view.value("surface") if settings.match else None)
    places = np.minimum(np.arange(PLACES + 2) / PLACES, 1)
    table = curve(settings, places).astype(np.float32)
    program = view.program
    rows = [program.lut(row.clamped(), table) for row in picture.unpremultiply().colour]
    mixed = matrix(settings.saturation, settings.hue_deg)
    if not np.allclose(mixed, np.eye(3)):
        rows = [
            program.op("weighted", *rows, numbers=tuple(map(float, row))).clamped() for row in mixed
        ]
    return Remake(Picture(program, tuple(rows), picture.alpha))
