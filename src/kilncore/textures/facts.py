"""What is measured of a texture, and what follows from it in words."""

from dataclasses import asdict, dataclass

import numpy as np

from kilncore.measure import coarseness, direction, evenness, seam, softness
from kilncore.measure.directions import SHOWN_FROM
from kilncore.measure.histogram import histogram
from kilncore.measure.lighting import lit_from
from kilncore.measure.piece_size import piece_for
from kilncore.measure.structure import structure
from kilncore.model.units import px_to_mm
from kilncore.pixels.stored import full_of
from kilncore.system.opencv import cv2

PRINT_PPI = 300.0
NEAR = 26  # of 256 tones at each end: near black, near white
CROP_PX, SMALL_PX = 1024, 1600
GREY_UP_TO = 0.03  # mean difference of channels
EVEN_FROM, UNEVEN_BELOW = 0.8, 0.7
SEAMLESS_UP_TO, SEAM_FROM = 1.35, 1.8
SOFT_FROM, SMALL_SIDE_PX = 2.5, 700
LONG_FROM = 0.45  # boards have 0.55 to 0.8; stained and speckled things up to 0.3, or 0.4 if small
FLAT_BELOW, BOLD_FROM = 0.03, 0.25
USES = ("mask", "coat", "map", "fill")


@dataclass(frozen=True)
class Facts:
    """chroma : mean difference of the channels, 0 grey. dark : the mean of how dark it is, 0..1.
    black, white : shares near them. coarse_px
    : a typical speck. degrees, strength : of its lines. even : the light of the dimmest part over
    that of the brightest. lit_from : a side, or ''. across, down : how visible its seam is, 1 not.
    soft_px : sigma of its sharpest edges. contrast : the spread of its tones. piece_px : size of
    the pieces in which it is laid endlessly. structure : how far it goes on beyond them, 0..1.
    """

    width: int
    height: int
    chroma: float
    dark: float
    black: float
    white: float
    coarse_px: float
    degrees: float
    strength: float
    even: float
    lit_from: str
    across: float
    down: float
    soft_px: float
    contrast: float
    piece_px: float
    structure: float

    @property
    def suits_endless(self) -> bool:
        """Whether nothing in it is longer than the pieces in which it would be laid."""
        return self.structure < LONG_FROM

    def as_dict(self) -> dict:
        """As JSON."""
        return asdict(self)


def facts_of(planes: np.ndarray) -> Facts:
    """What is measured of a texture. Fine things are read in the middle at full size, wide ones on
    a small copy.

    Parameters
    ----------
    planes : (C, H, W) array
        uint8, uint16 or float32, as files have them.

    Returns
    -------
    Facts
        Of its tones, grain, seams and light.
    """
    count, height, width = planes.shape
    middle = planes[
        :,
        max((height - CROP_PX) // 2, 0) : max((height - CROP_PX) // 2, 0) + CROP_PX,
        max((width - CROP_PX) // 2, 0) : max((width - CROP_PX) // 2, 0) + CROP_PX,
    ]
    small = _small(planes)
    close, wide = _grey(_floats(middle)), _grey(small)
    counts = np.array(histogram(planes), float)
    shares = counts / max(counts.sum(), 1)
    tones = np.linspace(0, 1, 256)
    mean = float((shares * tones).sum())
    degrees, strength = direction(close)
    coarse = coarseness(close)
    if coarse > CROP_PX / 16:
        coarse = coarseness(wide) * max(width, height) / max(wide.shape)
    across, down = _seam(planes)
    piece = piece_for((width, height), close, coarse)
    return Facts(
        width=width,
        height=height,
        chroma=round(float(np.ptp(small[:3], axis=0).mean()) if count > 2 else 0.0, 4),
        dark=round(1 - mean, 4),
        black=round(float(shares[:NEAR].sum()), 4),
        white=round(float(shares[-NEAR:].sum()), 4),
        coarse_px=round(coarse, 2),
        degrees=round(degrees, 1),
        strength=round(strength, 3),
        even=round(evenness(wide), 3),
        lit_from=lit_from(wide),
        across=round(across, 2),
        down=round(down, 2),
        soft_px=round(softness(close), 2),
        contrast=round(float(np.sqrt((shares * (tones - mean) ** 2).sum())), 4),
        piece_px=round(piece),
        structure=round(structure(wide, piece * max(wide.shape) / max(width, height)), 3),
    )


def _floats(planes: np.ndarray) -> np.ndarray:
    return planes[:3].astype(np.float32) / np.float32(full_of(planes))


def _grey(planes: np.ndarray) -> np.ndarray:
    return planes[0] if len(planes) == 1 else np.tensordot(_LUMA, planes[:3], 1)


_LUMA = np.array([0.2126, 0.7152, 0.0722], np.float32)


def _small(planes: np.ndarray) -> np.ndarray:
    _, height, width = planes.shape
    scale = min(1.0, SMALL_PX / max(height, width))
    size = max(8, round(width * scale)), max(8, round(height * scale))
    return np.stack(
        [cv2.resize(plane, size, interpolation=cv2.INTER_AREA) for plane in planes[:3]]
    ).astype(np.float32) / np.float32(full_of(planes))


def _seam(planes: np.ndarray) -> tuple[float, float]:
    """Read at full size along the edges, neighbours on every few rows and columns."""
    _, height, width = planes.shape
    rows = np.unique(np.linspace(0, height - 1, min(height, 400)).astype(int))
    columns = np.unique(np.linspace(0, width - 1, min(width, 400)).astype(int))
    across = seam(np.moveaxis(_floats(planes[:, rows]), 0, 2))[0]
    return across, seam(np.moveaxis(_floats(planes[:, :, columns]), 0, 2))[1]


def good_for(facts: Facts) -> tuple[str, ...]:
    """Of USES, what its tones serve best, the best first."""
    uses = []
    if facts.contrast >= BOLD_FROM or facts.black + facts.white > 0.5:
        uses.append("mask")
    if FLAT_BELOW / 3 < facts.contrast < BOLD_FROM:
        uses.append("coat")
    if facts.contrast < BOLD_FROM and min(facts.width, facts.height) >= SMALL_SIDE_PX:
        uses.append("fill")
    if facts.coarse_px > 5 and FLAT_BELOW < facts.contrast < BOLD_FROM:
        uses.append("map")
    if "mask" not in uses and facts.contrast > FLAT_BELOW:
        uses.append("mask, when prepared")
    return tuple(uses) or ("fill",)


def warnings(facts: Facts, repeats: bool = False) -> tuple[str, ...]:
    """What to look out for, in words. repeats : whether it is repeated where it ends."""
    told = []
    enough = px_to_mm(min(facts.width, facts.height), PRINT_PPI)
    if min(facts.width, facts.height) < SMALL_SIDE_PX:
        told.append(f"{facts.width} × {facts.height} px: enough for {enough:.0f} mm at 300 ppi.")
    if facts.contrast < FLAT_BELOW:
        told.append("Hardly any contrast: even it out before it can be a mask.")
    if facts.even < UNEVEN_BELOW:
        side = f"Lit from {facts.lit_from}" if facts.lit_from else "Unevenly lit"
        told.append(f"{side}: flatten it before masking.")
    if repeats and max(facts.across, facts.down) > SEAM_FROM:
        told.append("Shows a seam when repeated: make it seamless.")
    if facts.soft_px > SOFT_FROM:
        told.append(f"Soft: its sharpest edges are {facts.soft_px:.1f} px wide.")
    return tuple(told)


def sentences(facts: Facts, ppi: float = PRINT_PPI) -> tuple[tuple[str, str], ...]:
    """(what, value) of all of it, with units."""
    wide, tall = (px_to_mm(side, ppi) for side in (facts.width, facts.height))
    largest = [px_to_mm(side, PRINT_PPI) for side in (facts.width, facts.height)]
    lines = f"{facts.degrees:.0f}° from across" if facts.strength >= SHOWN_FROM else "no direction"
    seamless = max(facts.across, facts.down) <= SEAMLESS_UP_TO
    return (
        ("Size", f"{facts.width} × {facts.height} px, {wide:.0f} × {tall:.0f} mm at {ppi:.0f} ppi"),
        ("Largest print", f"{largest[0]:.0f} × {largest[1]:.0f} mm at 300 ppi"),
        ("Colour", "grey" if facts.chroma <= GREY_UP_TO else "in colour"),
        ("Near black, white", f"{100 * facts.black:.0f} %, {100 * facts.white:.0f} %"),
        ("Specks", f"about {facts.coarse_px:.3g} px, {px_to_mm(facts.coarse_px, ppi):.2g} mm"),
        ("Lines", lines),
        (
            "Light",
            "even"
            if facts.even >= EVEN_FROM
            else f"dimmest part {100 * facts.even:.0f} % of the brightest",
        ),
        (
            "Repeated",
            "no seam" if seamless else f"seam {facts.across:.1f} across, {facts.down:.1f} down",
        ),
        (
            "Endless",
            f"suits it, in pieces of {facts.piece_px:.0f} px"
            if facts.suits_endless
            else "boards, joints or long shapes: repeat it",
        ),
        ("Sharpness", f"edges {facts.soft_px:.1f} px soft"),
    )
