"""What a Grain is set to."""

from typing import Literal

from kilncore.model.base import Model
from kilncore.model.region import Region
from kilncore.model.units import Length, format_number, px
from kilncore.steps.base import setting

GAUSSIAN, UNIFORM, CLUMPED, FILM = "gaussian", "uniform", "clumped", "film"
SORTS = ((GAUSSIAN, "Gaussian"), (UNIFORM, "Uniform"), (CLUMPED, "Clumped"), (FILM, "Film-like"))
TONES = (
    ("all", "All tones"),
    ("lights", "Only the lights"),
    ("mids", "Only the mids"),
    ("darks", "Only the darks"),
)
SORT = "Sort of grain"


class GrainSettings(Model):
    """How strong, how large, of what sort, and whether in colours. match : as the surface beneath
    the mark, or in `place`, is grained; amount and size are then its own."""

    match: bool = setting(
        False, "As grainy as the surface", "Measured in its flat areas.", "toggle", reload=True
    )
    place: Region | None = setting(
        None, "Measured here", "Where the surface is flat.", "region", if_="match"
    )
    amount: float = setting(
        18,
        "Amount",
        "How far tones stray from middle grey.",
        "slider",
        unit="%",
        ge=0,
        le=100,
        soft=(0, 50),
        if_="!match",
    )
    size: Length = setting(
        px(1), "Grain size", "The width of one grain.", "length", soft=(1, 8), if_="!match"
    )
    coloured: bool = setting(
        False, "Coloured", "Grain of its own in red, green and blue.", "toggle", if_="!match"
    )
    sort: Literal["gaussian", "uniform", "clumped", "film"] = setting(
        GAUSSIAN, "Sort", "Film has most in the mids.", "choice", choices=SORTS, group=SORT
    )
    tones: Literal["all", "lights", "mids", "darks"] = setting(
        "all", "Shows in", "Which tones of the art it is laid on.", "choice", choices=TONES,
        group=SORT,
    )  # fmt: skip


def summary(settings: GrainSettings) -> str:
    """In a few words."""
    if settings.match:
        return "as the surface"
    return f"{format_number(settings.amount)} %, {settings.size}"


def states(settings: GrainSettings) -> dict[str, str]:
    """What the closed line of its sheet says."""
    words = [dict(SORTS)[settings.sort].lower()]
    words += [] if settings.tones == "all" else [dict(TONES)[settings.tones].lower()]
    return {SORT: ", ".join(words)}
