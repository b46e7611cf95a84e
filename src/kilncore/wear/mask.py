"""How much a wear leaves of each pixel of a box."""

from typing import Any

from kilncore.graph.protocols import View
from kilncore.model.texture import TexturePlacement
from kilncore.pixels.mask import Mask
from kilncore.wear.asked import Asked
from kilncore.wear.bridges import shift_of
from kilncore.wear.settings import WearSettings


class Worn:
    """The mask of one box."""

    def __init__(self, settings: WearSettings, view: View):
        self.settings, self.view = settings, view
        self.asked = Asked(settings, view.frame, view.strength)
        self.tones: Any = view.value("tones") if self.asked.solves else None
        self.bridged = view.value("bridges") if self.asked.bridges else None
        self.points = self.bridged.points if self.bridged else self.asked.wanted.solved(self.tones)
        self.shift, self.spared = self._shift(), self._spared()
        if settings.deepens(view.strength):
            self.points = self._less_deep()

    def _less_deep(self) -> tuple[float, float, float]:
        """The points, with a black point so far down that the strength's share of what they take
        is taken: most where the texture is darkest, and ever less towards the rims.
        """
        (black, gamma, white), inverted = self.points, self.settings.invert
        if inverted:
            black, white = 1 - white, 1 - black
        least, strength = self.settings.least_part, self.view.strength
        black = self.tones.weaker(black, white, gamma, least, strength)
        return (1 - white, gamma, 1 - black) if inverted else (black, gamma, white)

    def _shift(self):
        """What is added to the texture's own tones."""
        if not self.asked.reads_shape:
            return None
        view = self.view
        shape, masked = view.value("shape"), self.asked.masked
        lifts = self.asked.wanted.lifts(self.tones, self.points, shape.parts)
        shift = shift_of(masked, shape, lifts, view.box, view.frame.scale)
        return None if shift is None else view.loaded(shift)

    def _spared(self):
        """What stays whatever the mask says, 0..1; None for nothing."""
        planes, view = [], self.view
        if self.asked.reads_shape:
            box, scale = view.box, view.frame.scale
            planes.append(self.asked.sparing.spared(view.value("shape"), box, scale))
            planes.append(self.bridged.at(box, scale) if self.bridged else None)
        rows = [view.loaded(one) for one in planes if one is not None]
        if self.asked.region:
            rows.append(view.plane("region").clamped() * self.settings.region_share)
        spared = None
        for row in rows:
            spared = row if spared is None else 1 - (1 - spared) * (1 - row)
        return spared

    def shown(self, placement: TexturePlacement) -> Mask:
        """How much stays, with the texture placed so."""
        settings = self.settings
        mask, share = self.view.mask(
            settings.mask_texture, placement, self.points, self.shift, self.asked.specks
        )
        mask = mask.inverted() if settings.invert else mask
        if share is not None:  # beyond the texture's end nothing is taken, or all
            mask = _only(mask, share) if settings.hides else mask.faded(share)
        return mask if self.spared is None else mask.faded(1 - self.spared)


def _only(mask: Mask, share: Any) -> Mask:
    """Nothing beyond the texture's end."""
    squared = None if mask.squared is None else mask.squared * (share * share)
    return Mask(mask.shown * share, squared)
