"""What a Soften is set to."""

from typing import Literal

from kilncore.model.base import Model
from kilncore.model.region import Region
from kilncore.model.units import Length, format_number, px
from kilncore.steps.base import setting

EVEN, ALONG, OUT = "even", "along", "out"
WAYS = ((EVEN, "All round"), (ALONG, "Along a direction"), (OUT, "Out from the middle"))
HOW = "How it softens"


class SoftenSettings(Model):
    """How soft, and how. match : as soft as the surface beneath the mark, or in `place`, is; the
    radius is then what is used where nothing can be measured. ground : of the ground alone, without
    the marks between. varies : softer where the surface under the mark is softer."""

    match: bool = setting(
        False, "As soft as the surface", "Measured under the mark.", "toggle", reload=True
    )
    radius: Length = setting(
        px(1), "Softness", "The spread of the blur, one sigma.", "length", soft=(0, 12),
        if_="!match",
    )  # fmt: skip
    ground: bool = setting(
        False, "The ground alone", "Without the marks that lie between.", "toggle", if_="match",
    )  # fmt: skip
    varies: bool = setting(
        False, "Varies over the mark", "As in a photo with little depth of focus.", "toggle",
        if_="match",
    )  # fmt: skip
    place: Region | None = setting(
        None, "Measured here", "Where the surface has an edge.", "region", if_="match"
    )
    silhouette: bool = setting(
        False, "Keep the silhouette", "Colours soften, outlines stay sharp.", "toggle", group=HOW
    )
    way: Literal["even", "along", "out"] = setting(
        EVEN, "Softens", "As a blur, a shake, or a spray.", "choice", choices=WAYS, reload=True,
        group=HOW,
    )  # fmt: skip
    length: Length = setting(
        px(12), "How far", "From end to end.", "length", soft=(0, 80), if_="way=along", group=HOW
    )
    angle_deg: float = setting(
        0.0, "Direction", "0 is across.", "slider", unit="°", soft=(-90, 90), ge=-360, le=360,
        step=1, if_="way=along", group=HOW,
    )  # fmt: skip
    spread: float = setting(
        0.05, "How far", "Of the way from the middle.", "slider", unit="%", factor=100,
        soft=(0, 30), ge=0, le=1, step=0.5, if_="way=out", group=HOW,
    )  # fmt: skip


def summary(settings: SoftenSettings) -> str:
    """In a few words."""
    if settings.match:
        return "as the surface, all over" if settings.varies else "as the surface"
    if settings.way == ALONG:
        return f"{settings.length} at {format_number(settings.angle_deg)}°"
    return f"{100 * settings.spread:.0f} % outward" if settings.way == OUT else str(settings.radius)


def states(settings: SoftenSettings) -> dict[str, str]:
    """What the closed line of its sheet says."""
    way = dict(WAYS)[settings.way].lower()
    return {HOW: f"{way}, silhouette kept" if settings.silhouette else way}
