"""Wear: a texture as a mask takes the art away. White reveals, black conceals."""

import math
from dataclasses import dataclass
from typing import Literal

from pydantic import Field, model_validator

from kilncore.graph.protocols import View
from kilncore.graph.sources import Sources
from kilncore.model.base import Model
from kilncore.model.frame import Frame
from kilncore.model.region import Region
from kilncore.model.texture import TexturePlacement
from kilncore.model.units import Length, format_number, px
from kilncore.pixels.colour import HexColour, hex_to_rgb
from kilncore.pixels.mask import Mask
from kilncore.planes.bridges import Bridges, Wanted, shift_of
from kilncore.planes.mark_shape import MarkShape, shape_factor
from kilncore.planes.region import RegionPlane
from kilncore.planes.sparing import Sparing
from kilncore.planes.wear_tones import Masked, WearTones
from kilncore.prep.texture_ref import TextureRef
from kilncore.solve.tones import Tones
from kilncore.steps.base import Cover, Paint, setting, step
from kilncore.textures.registers import premultiplied

POINTS, READABLE = "Black and white", "Kept readable"
UNDER, LIES = "Undercoat", "Texture's place"
NOTHING, COLOUR, TEXTURE = "nothing", "colour", "texture"
UNDERCOATS = (
    (NOTHING, "What lies beneath"),
    (COLOUR, "An undercoat of one colour"),
    (TEXTURE, "An undercoat of a texture"),
)
RIDES = (("mark", "Travels with the mark"), ("ground", "Stays with the ground"))
LARGEST_SPECK, WIDE = 0.04, 0.02  # sigma, of the frame's unit


class Points(Model):
    """The points that an aim solved to before words or art were changed."""

    black: float = Field(ge=-4, le=4)
    white: float = Field(ge=-4, le=4)


def _percent(default: float, title: str, text: str, least: float, **more):
    return setting(
        default,
        title,
        text,
        "slider",
        unit="%",
        factor=100,
        soft=(100 * least, 100),
        ge=least,
        le=1,
        step=1,
        **more,
    )


class WearSettings(Model):
    """The mask and its levels. aim : whether the points are solved so that `share` of the mark is
    taken away, `contrast` apart. black, white : 0 to 1, where there is no aim. gamma : above 0, 1
    is straight. bias : -1 heavier in the middle, 1 heavier at edges. specks : -1 finest, 0 as they
    are, 1 largest.

    least_stroke : what is kept of the middle of every stroke. least_part : the share that every
    letter or shape keeps. thin, region_share : how much of thin strokes, and within the region, is
    spared. held : the points that stay while words or art change.
    """

    texture: TextureRef | None = setting(
        None, "Texture", "Its dark parts take the art away.", "texture"
    )
    aim: bool = setting(
        False, "Aim: take away a share", "The points are solved for it.", "toggle", reload=True
    )
    share: float = setting(
        0.15,
        "Take away",
        "How much of the mark goes.",
        "slider",
        unit="% of the mark",
        factor=100,
        soft=(0, 80),
        ge=0,
        le=1,
        step=0.5,
        if_="aim",
    )
    contrast: float = setting(
        0.25,
        "Softness",
        "From hidden to shown, in tones.",
        "slider",
        factor=255,
        soft=(1, 160),
        ge=0.002,
        le=1,
        step=1,
        if_="aim",
        group=POINTS,
    )
    black: float = setting(
        0.3, "Hidden up to", "Tones up to here are taken away.", "levels", ge=0, le=1, group=POINTS
    )
    gamma: float = setting(
        1.0,
        "Middle",
        "Above 1 keeps more, below 1 takes more.",
        "levels",
        ge=0.1,
        le=10,
        group=POINTS,
    )
    white: float = setting(
        0.6, "Shown from", "Tones from here on are left whole.", "levels", ge=0, le=1, group=POINTS
    )
    invert: bool = setting(
        False, "Invert", "Swap what is taken and what is kept.", "toggle", reload=True, group=POINTS
    )
    bias: float = _percent(
        0.0,
        "Where it wears",
        "By how deep it lies.",
        -1,
        ends=("in the middle", "evenly", "at the edges"),
    )
    specks: float = _percent(
        0.0,
        "Size of what is taken",
        "By softening.",
        -1,
        ends=("fine specks", "as it is", "big flakes"),
    )
    least_stroke: Length = setting(
        px(0), "Stroke kept", "Of the middle of every stroke.", "number_length", group=READABLE
    )
    least_part: float = _percent(
        0.0, "Letter keeps", "The least that is left of any letter or shape.", 0, group=READABLE
    )
    thin: float = _percent(
        0.0, "Spare thin strokes", "How far thinner strokes are let off.", 0, group=READABLE
    )
    region: Region | None = setting(
        None, "A region", "Drawn on the piece.", "region", group=READABLE
    )
    region_share: float = _percent(
        1.0, "Spared in it", "How far the wear is let off there.", 0, group=READABLE, if_="region"
    )
    under: Literal["nothing", "colour", "texture"] = setting(
        NOTHING, "Shows", "What shows where it is worn.", "choice", choices=UNDERCOATS,
        reload=True, group=UNDER,
    )  # fmt: skip
    under_colour: HexColour = setting(
        "#8a4b2c", "Undercoat", "Its colour.", "colour", if_="under=colour", group=UNDER
    )
    under_texture: TextureRef | None = setting(
        None, "Undercoat", "Its texture.", "texture", if_="under=texture", group=UNDER
    )
    under_placement: TexturePlacement = setting(
        TexturePlacement(),
        "In its frame",
        "Where it lies.",
        "placement",
        if_="under=texture",
        group=UNDER,
    )
    rim: float = _percent(
        -0.5, "Rim", "Below 0 darker, above 0 lighter, where paint broke off.", -1,
        if_="under=colour,texture", group=UNDER,
    )  # fmt: skip
    rim_width: Length = setting(
        Length(value=0.25, unit="mm"), "Rim's width", "Of what is left.", "number_length",
        if_="under=colour,texture", group=UNDER,
    )  # fmt: skip
    placement: TexturePlacement = setting(
        TexturePlacement(), "In its frame", "Where the texture lies.", "placement", group=LIES
    )
    rides: Literal["mark", "ground"] = setting(
        "mark", "It", "When the mark is moved.", "choice", choices=RIDES, group=LIES
    )
    hides: bool = setting(
        False,
        "Take away beyond its end",
        "Of a texture that does not repeat.",
        "toggle",
        group=LIES,
    )
    held: Points | None = None

    @model_validator(mode="after")
    def _in_order(self):
        if self.black > self.white:
            raise ValueError("the black point must not lie above the white point")
        return self

    @property
    def undercoat(self) -> bool:
        """Whether something of its own shows where it is worn."""
        return self.under == COLOUR or self.under == TEXTURE and self.under_texture is not None


def summary(settings: WearSettings) -> str:
    """In a few words."""
    if settings.texture is None:
        return "no texture yet"
    turned = ", inverted" if settings.invert else ""
    if settings.aim:
        return f"takes away {format_number(100 * settings.share)} %{turned}"
    return f"hidden to {_tone(settings.black)}{turned}"


def states(settings: WearSettings) -> dict[str, str]:
    """What the closed lines of its sheet say."""
    kept = [
        words
        for words, there in (
            (f"strokes {settings.least_stroke}", settings.least_stroke.value > 0),
            (f"letters {100 * settings.least_part:.0f} %", settings.least_part),
            ("thin strokes", settings.thin),
            ("a region", settings.region and settings.region_share),
        )
        if there
    ]
    under = {COLOUR: settings.under_colour, TEXTURE: "a texture", NOTHING: "what lies beneath"}
    lies = "with the mark" if settings.rides == "mark" else "with the ground"
    points = "solved" if settings.aim else f"{_tone(settings.black)} to {_tone(settings.white)}"
    points += ", inverted" if settings.invert else ""
    return {
        POINTS: points,
        READABLE: ", ".join(kept) or "nothing spared",
        UNDER: under[settings.under],
        LIES: f"{lies}, {format_number(100 * settings.placement.scale)} %",
    }


def _tone(value: float) -> int:
    """0 to 255, rounded as the field beside it is."""
    return math.floor(value * 255 + 0.5)


@dataclass(frozen=True)
class _Asked:
    """What a wear asks for, from its settings and its frame."""

    settings: WearSettings
    frame: Frame

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
        return RegionPlane(*region.placed(self.frame)) if wanted else None

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
        return self.settings.aim and self.settings.held is None or self.settings.least_part > 0

    @property
    def masked(self) -> Masked:
        """The mask, as it is read to be solved; of a frame at scale 1."""
        return Masked(
            self.settings.texture,
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
        return Wanted(
            points, settings.share, settings.contrast, settings.least_part, settings.invert
        )


def _planes(settings: WearSettings, sources: Sources) -> dict:
    """How much of the mark lies under each tone; its shape; where bridges must be; the region."""
    if settings.texture is None:
        return {}
    asked, found, shape, tones = _Asked(settings, sources.frame), {}, None, None
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
        black, white = tones.points(settings.share, settings.contrast, settings.least_part)
    return (1 - white, 1 - black) if settings.invert else (black, white)


@step(
    "wear",
    title="Wear",
    sentence="A texture takes the art away. White reveals, black conceals.",
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
    return _undercoat(settings, view, worn, shown) if settings.undercoat else Cover(shown)


class _Worn:
    """The mask of one box."""

    def __init__(self, settings: WearSettings, view: View):
        self.settings, self.view, self.asked = settings, view, _Asked(settings, view.frame)
        self.tones = view.value("tones") if self.asked.solves else None
        self.bridged = view.value("bridges") if self.asked.bridges else None
        self.points = self.bridged.points if self.bridged else self.asked.wanted.solved(self.tones)
        self.shift, self.spared = self._shift(), self._spared()

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
            settings.texture, placement, self.points, self.shift, self.asked.specks
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
    return placement.model_copy(update={"x": px(x + across), "y": px(y + down)})
