"""The weight with which something lands, apart from its strength: blend ranges and planes (limits,
fade, touch-up), multiplied.
"""

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from kilncore.compiled.program import Register
from kilncore.graph.protocols import LandingView
from kilncore.landing import BlendRange, Landing
from kilncore.landing.model import BENEATH, INPUT
from kilncore.pixels.picture import Picture

LANDING_PLANES = ("in", "out", "fade", "touch")
OWN = "own"
CHANNELS = ("red", "green", "blue")


@dataclass(frozen=True)
class Ranged:
    """A blend range of tones that one pixel of a draft stands for. of : whose they are: OWN, INPUT
    or BENEATH. slope : its mean slope over them."""

    of: str
    variance: Register
    slope: Register


def weight_of(
    landing: Landing, view: LandingView, own: Picture | None, variance: Register | None = None
) -> Register | float:
    """0..1, a number or a register.

    own : what lands, or None if it has no tones (a move). variance : in a draft, of the tones that
    a pixel of it stands for.
    """
    return _product(factor for factor, _ in _factors(landing, view, own, variance))


def shared_ranges(
    landing: Landing, view: LandingView, own: Picture, variance: Register | None
) -> list[tuple[Ranged, Register | float]]:
    """The ranges of a draft that go with the very tones that are laid down or laid upon, each with
    all other weights.
    """
    factors = list(_factors(landing, view, own, variance))
    return [
        (ranged, _product(factor for factor, other in factors if other is not ranged))
        for _, ranged in factors
        if ranged
    ]


def _product(factors: Iterable) -> Register | float:
    weight: Register | float = 1.0
    for factor in factors:
        weight = factor if isinstance(weight, float) else weight * factor
    return weight


def _factors(
    landing: Landing, view: LandingView, own: Picture | None, variance: Register | None
) -> Iterator[tuple[Register, Ranged | None]]:
    for one in landing.ranges:
        if one.of != OWN or own is not None:
            yield _through(one, view, own, variance)
    held = []
    for name in view.plane_names:
        if name.split()[0] in LANDING_PLANES:
            plane = view.plane(name)
            factor = 1 - plane if name.startswith("out") else plane
            if landing.together == "any" and name.split()[0] in ("in", "out"):
                held.append(factor)
            else:
                yield factor, None
    if held:
        yield _any(held), None


def _any(factors: list[Register]) -> Register:
    """1 where one of them is."""
    left = 1 - factors[0]
    for factor in factors[1:]:
        left = left * (1 - factor)
    return 1 - left


def _variance(view: LandingView, name: str) -> Register | None:
    return view.plane(name) if name in view.plane_names else None


def _through(
    blend_range: BlendRange, view: LandingView, own: Picture | None, variance: Register | None
) -> tuple[Register, Ranged | None]:
    """The range of a picture's tones; where a pixel stands for many, the mean of their ranges.

    Channels and lightness are taken to vary as the luma does, which grain and most textures are
    near to; saturation hardly varies where tones do.
    """
    program, of = view.program, blend_range.of
    picture, variance = {
        OWN: lambda: (own, variance),
        "input": lambda: (view.picture(), _variance(view, INPUT)),
        "beneath": lambda: (view.beneath(), _variance(view, BENEATH)),
    }[of]()
    tones = program.constant(0) if picture is None else read(picture, blend_range.reads)
    if picture is None or variance is None or blend_range.reads == "saturation":
        weight = program.op("trapezoid", tones, numbers=blend_range.points)
        return 1 - weight if blend_range.outside else weight, None
    variance = picture.where_there(variance)
    slope = program.op("trapezoid_slope", tones, variance, numbers=blend_range.points)
    weight = program.op("trapezoid_mean", tones, variance, numbers=blend_range.points)
    plane = {"input": INPUT, "beneath": BENEATH}.get(of, of)
    if blend_range.outside:
        return 1 - weight, Ranged(plane, variance, slope * -1)
    return weight, Ranged(plane, variance, slope)


def read(picture: Picture, reads: str) -> Register:
    """What a range reads of a picture's straight colours, 0..1: BT.709 luma, a channel, or the
    lightness or saturation of HSL (CSS Color Module Level 4)."""
    if reads == "luminance":
        return picture.tones()
    channels = picture.seen()
    if reads in CHANNELS:
        return channels[CHANNELS.index(reads)]
    program = picture.program
    most = program.op("max", program.op("max", channels[0], channels[1]), channels[2])
    least = program.op("min", program.op("min", channels[0], channels[1]), channels[2])
    if reads == "lightness":
        return (most + least) * 0.5
    room = 1 - program.op("abs", most + least - 1)
    return program.op(
        "ratio", most - least, program.op("max", room, program.constant(1e-6))
    ).clamped()
