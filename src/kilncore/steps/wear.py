"""Wear: a texture as a mask takes the art away. White reveals, black conceals."""

from dataclasses import dataclass

from kilncore.graph.protocols import View
from kilncore.graph.sources import Sources
from kilncore.model.frame import Frame
from kilncore.model.texture import TexturePlacement
from kilncore.model.units import Length
from kilncore.pixels.colour import hex_to_rgb
from kilncore.pixels.mask import Mask
from kilncore.planes.bridges import Bridges, Wanted, shift_of
from kilncore.planes.mark_shape import MarkShape, shape_factor
from kilncore.planes.region import RegionPlane
from kilncore.planes.sparing import Sparing
from kilncore.planes.wear_tones import Masked, WearTones
from kilncore.solve.tones import Tones
from kilncore.steps.base import Cover, Paint, step
from kilncore.steps.wear_settings import COLOUR, WearSettings, states, summary
from kilncore.textures.registers import premultiplied

LARGEST_SPECK, WIDE = 0.04, 0.02  # sigma, of the frame's unit


@dataclass(frozen=True)
class _Asked:
    """What a wear asks for, from its settings and its frame."""

    settings: WearSettings
    frame: Frame
    strength: float = 1.0

    @property
    def stroke_px(self) -> float:
        """Document px that stay across every stroke."""
        return max(self.frame.length(self.settings.least_stroke) / self.frame.scale, 0.0)

    @property
    def sparing(self) -> Sparing:
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
        region = self.settings.region
        wanted = region is not None and self.settings.region_share > 0
        return RegionPlane(*region.placed(self.frame), self.frame.laid) if wanted else None

    @property
    def bridges(self) -> bool:
        """Whether bridges are looked for: on full-size pixels alone."""
        return self.stroke_px > 0 and self.frame.scale >= 1

    @property
    def reads_shape(self) -> bool:
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
        return Masked(
            self.settings.mask_texture,
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


def _planes(settings: WearSettings, sources: Sources) -> dict:
    """How much of the mark lies under each tone; its shape; where bridges must be; the region."""
    if settings.texture is None:
        return {}
    asked, found, shape, tones = _asked(settings, sources), {}, None, None
    if asked.region:
        found["region"] = asked.region
    if not (asked.reads_shape or asked.solves):
        return found
    full = sources.full_size()
    masked = _Asked(settings, full.frame).masked
    if asked.reads_shape:
        shape = found["shape"] = shape_of(sources)
    if asked.solves:
        sampled = sources.frame.scale < 1
        tones = found["tones"] = WearTones(full.outline, full.whole, masked, shape, sampled)
    if asked.bridges:
        found["bridges"] = Bridges(shape, tones, masked, asked.wanted, asked.stroke_px)
    return found


def _asked(settings: WearSettings, sources: Sources) -> _Asked:
    return _Asked(settings, sources.frame, sources.strength)


def shape_of(sources: Sources) -> MarkShape:
    """The shape of the bare mark that a step treats."""
    full = sources.full_size()
    whole = full.whole.intersection(full.bare.extent.expanded(2))
    return MarkShape(full.bare, whole, shape_factor(*sources.page_px))


def points_of(settings: WearSettings, tones: Tones | None) -> tuple[float, float]:
    """(black, white) of the texture's own tones: those of the aim, held or solved."""
    if settings.held is not None:
        black, white = settings.held.black, settings.held.white
    else:
        black, white = tones.points(settings.share, settings.soft, settings.least_part)
    return (1 - white, 1 - black) if settings.invert else (black, white)


@step(
    "wear",
    title="Wear",
    sentence="A texture takes the art away. White reveals, black conceals.",
    group="Wear it",
    gives=lambda settings: ("paint",) if settings.undercoat else ("cover",),
    settings=WearSettings,
    summary=summary,
    planes=_planes,
    on_ground=lambda settings: settings.rides == "ground",
    own_mode=lambda settings: settings.undercoat,
    states=states,
)
def wear(settings: WearSettings, view: View):
    """How much of the picture stays; or the undercoat, and its rim."""
    if settings.texture is None:
        return None
    worn = _Worn(settings, view)
    shown = worn.shown(settings.placement)
    if settings.undercoat:
        return _undercoat(settings, view, worn, shown)
    return Cover(shown, toned=settings.deepens(view.strength))


class _Worn:
    """The mask of one box."""

    def __init__(self, settings: WearSettings, view: View):
        self.settings, self.view = settings, view
        self.asked = _Asked(settings, view.frame, view.strength)
        self.tones = view.value("tones") if self.asked.solves else None
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
        found = shift_of(masked, shape, lifts, view.box, view.frame.scale)
        return None if found is None else view.loaded(found)

    def _spared(self):
        """What stays whatever the mask says, 0..1; None for nothing."""
        found, view = [], self.view
        if self.asked.reads_shape:
            box, scale = view.box, view.frame.scale
            found.append(self.asked.sparing.spared(view.value("shape"), box, scale))
            found.append(self.bridged.at(box, scale) if self.bridged else None)
        rows = [view.loaded(one) for one in found if one is not None]
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


def _only(mask: Mask, share) -> Mask:
    """Nothing beyond the texture's end."""
    squared = None if mask.squared is None else mask.squared * (share * share)
    return Mask(mask.shown * share, squared)


def _undercoat(settings: WearSettings, view: View, worn: _Worn, shown: Mask):
    """What shows where the art is worn, and the rim of what is left."""
    gone = 1 - shown.clamped().shown
    if settings.under == COLOUR:
        rows = tuple(gone * float(one) for one in hex_to_rgb(settings.under_colour))
        laid = Paint((*rows, gone), mode="normal")
    else:
        rows = premultiplied(*view.texture(settings.under_texture, settings.under_placement))
        rows = rows * 3 if len(rows) == 1 else rows
        alpha = (rows[3],) if len(rows) == 4 else (view.program.constant(1),)
        laid = Paint(tuple(row * gone for row in (*rows[:3], *alpha)), mode="normal")
    rim = _rim(settings, view, worn, shown)
    return laid if rim is None else (laid, rim)


def _rim(settings: WearSettings, view: View, worn: _Worn, shown: Mask):
    """Paint that is left, as far as `rim_width` from where it broke off, darker or lighter."""
    width = view.frame.length(settings.rim_width) / view.frame.scale
    if not settings.rim or width <= 0:
        return None
    least = shown.clamped().shown
    for across, down in ((width, 0), (-width, 0), (0, width), (0, -width)):
        moved = worn.shown(_moved(settings.placement, view.frame, across, down))
        least = view.program.op("min", least, moved.clamped().shown)
    edge = (shown.clamped().shown - least) * abs(settings.rim)
    colour = edge if settings.rim > 0 else edge * 0
    return Paint((colour, colour, colour, edge), mode="normal")


def _moved(placement: TexturePlacement, frame, across: float, down: float) -> TexturePlacement:
    x, y = (frame.length(one) / frame.scale for one in (placement.x, placement.y))
    # as far as it goes: a place in a document is held to bounds, one that is read is not
    x, y = (Length.model_construct(value=one, unit="px") for one in (x + across, y + down))
    return placement.model_copy(update={"x": x, "y": y})
