"""What a wear asks for, from its settings and its frame."""

from dataclasses import dataclass
from typing import Any

from kilncore.model.frame import Frame
from kilncore.planes.region import RegionPlane
from kilncore.wear.bridges import Wanted
from kilncore.wear.settings import WearSettings
from kilncore.wear.sparing import Sparing
from kilncore.wear.tones import Masked

LARGEST_SPECK, WIDE = 0.04, 0.02  # sigma, of the frame's unit


@dataclass(frozen=True)
class Asked:
    """strength : of the landing."""

    settings: WearSettings
    frame: Frame
    strength: float = 1.0

    @property
    def stroke_px(self) -> float:
        """Document px that stay across every stroke."""
        return max(self.frame.length(self.settings.least_stroke) / self.frame.scale, 0.0)

    @property
    def sparing(self) -> Sparing:
        """What it spares, and how it leans to edges."""
        return Sparing(self.settings.bias, self.settings.thin)

    @property
    def specks(self) -> tuple[float, float] | None:
        """(sigma in px of the texture, share), or None."""
        amount = self.settings.specks
        if not amount:
            return None
        unit = self.frame.unit_px / self.settings.placement.scale
        if amount > 0:
            return max(LARGEST_SPECK * amount * amount * unit, 0.3), 1.0
        return max(WIDE * unit, 1.0), amount

    @property
    def region(self) -> RegionPlane | None:
        """Where it is spared; None for nowhere."""
        region = self.settings.region
        if region is None or self.settings.region_share <= 0:
            return None
        shape, middle, size, turn, feather = region.placed(self.frame)
        return RegionPlane(shape, middle, size, turn, feather, self.frame.laid)

    @property
    def bridges(self) -> bool:
        """Whether bridges are looked for: on full-size pixels alone."""
        return self.stroke_px > 0 and self.frame.scale >= 1

    @property
    def reads_shape(self) -> bool:
        """Whether anything depends on the mark's outline."""
        settings = self.settings
        return bool(settings.bias or settings.thin or settings.least_part or self.bridges)

    @property
    def solves(self) -> bool:
        """Whether anything follows from how often tones occur."""
        settings = self.settings
        aimed = settings.aim and settings.held is None
        return aimed or settings.least_part > 0 or settings.deepens(self.strength)

    @property
    def masked(self) -> Masked:
        """The mask, as it is read to be solved; of a frame at scale 1."""
        mask: Any = self.settings.mask_texture
        return Masked(
            mask,
            self.settings.placement,
            self.frame,
            self.settings.invert,
            self.specks,
            self.settings.hides,
            self.sparing,
            self.region,
            self.settings.region_share,
        )

    @property
    def wanted(self) -> Wanted:
        """How the points come about."""
        settings, points = self.settings, None
        if not settings.aim:
            points = (settings.black, settings.gamma, settings.white)
        elif settings.held is not None:
            black, white = points_of(settings, None)
            points = (black, 1.0, white)
        return Wanted(points, settings.share, settings.soft, settings.least_part, settings.invert)


def points_of(settings: WearSettings, tones: Any) -> tuple[float, float]:
    """(black, white) of the texture's own tones: those of the aim, held or solved."""
    if settings.held is not None:
        black, white = settings.held.black, settings.held.white
    else:
        black, white = tones.points(settings.share, settings.soft, settings.least_part)
    return (1 - white, 1 - black) if settings.invert else (black, white)
