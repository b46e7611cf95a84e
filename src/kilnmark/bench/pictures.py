"""Pictures for the bench: the stage, the strip, the cards."""

from dataclasses import dataclass

import numpy as np

from kilncore import engine
from kilncore.colour import BT709, hex_to_rgb
from kilncore.document import Piece
from kilncore.engine.keys import key_of
from kilncore.engine.plan import Plan, Point
from kilncore.errors import KilnError
from kilncore.output.preview import encode
from kilncore.planes import from_planes, to_planes
from kilncore.reduce import resized
from kilnmark.bench.asking import number
from kilnmark.storage import assets

MOST_VIEW_PIXELS = 12_000_000
STRIP_SIZE = (232, 152)
CARD_SIZE = (640, 440)
OVERSAMPLED = 2  # a worn edge averaged from larger pixels looks as it will in the file
EMBER, FADED, LOUDER = "#c2451a", 0.6, 4.0
ROOM = 0.12  # around a mark on its strip


@dataclass(frozen=True)
class View:
    region: tuple[float, float, float, float]
    scale: float


def view_of(asked) -> View:
    """The part of the piece that is asked for, and how large; KilnError if it cannot be shown."""
    asked = asked if isinstance(asked, dict) else {}
    names = ("x", "y", "width", "height")
    region = tuple(number(asked.get(name), -1e6, 1e6, name) for name in names)
    scale = number(asked.get("scale"), 0.005, 16, "scale")
    if region[2] * region[3] * scale * scale > MOST_VIEW_PIXELS:
        raise KilnError("The view is too large to show at once.", str(asked))
    return View(region, scale)


def stage(piece: Piece, view: View, exact: bool, point: Point | None, cancelled) -> tuple[bytes, str]:
    """(bytes, media type) of the stage's picture."""
    found = engine.pixels(piece, view.region, view.scale, assets(), truly=exact or view.scale > 1, point=point,
                          cancelled=cancelled)
    return encode(found, lossless=exact)


def strip_picture(piece: Piece, point: Point) -> tuple[bytes, str]:
    """The piece as it stands at a point, near the mark that is treated."""
    return _draft(_small(piece, _strip_region(piece, point.part), STRIP_SIZE, point))


def alone_picture(piece: Piece, point: Point) -> tuple[bytes, str]:
    """What the step at a point alone changed: the piece faded to grey, the change in ember, stronger where it is more."""
    region = _strip_region(piece, point.part)
    points = (Point(point.part, steps, on_stock=False) for steps in (max(point.steps - 1, 0), point.steps))
    before, after = (_small(piece, region, STRIP_SIZE, at) for at in points)
    change = np.abs(to_planes(after) - to_planes(before)).max(0)
    share = np.clip(change * LOUDER, 0, 1)[..., None]
    grey = FADED + (1 - FADED) * (after[..., :3] @ BT709)[..., None]
    out = after.copy()
    out[..., :3], out[..., 3] = grey + share * (hex_to_rgb(EMBER) - grey), 1
    return _draft(out)


def card(piece: Piece) -> tuple[bytes, str]:
    return _draft(_small(piece, (0, 0, *piece.size_px), CARD_SIZE, None))


def _draft(image: np.ndarray) -> tuple[bytes, str]:
    found = np.rint(image * 255).astype(np.uint8)
    return encode(np.ascontiguousarray(found[..., :3]) if found[..., 3].min() == 255 else found, lossless=False)


def point_key(piece: Piece, point: Point) -> str:
    """The key of a strip picture: the same as long as the picture is."""
    return key_of(Plan(piece).up_to(point).key, _strip_region(piece, point.part), STRIP_SIZE)


def card_key(piece: Piece) -> str:
    return key_of(Plan(piece).finished().key, piece.size_px, CARD_SIZE)


def _strip_region(piece: Piece, part: str) -> tuple[float, float, float, float]:
    """The part of the piece a strip shows: all of it, or the mark with some room, in the picture's proportions."""
    width, height = piece.size_px
    if part in ("ground", "piece"):
        return 0, 0, width, height
    plan = Plan(piece)
    box = plan.extent(part).met(plan.page)
    if box.empty:
        return 0, 0, width, height
    room = ROOM * max(box.width, box.height)
    wide = max(box.width + 2 * room, (box.height + 2 * room) * STRIP_SIZE[0] / STRIP_SIZE[1])
    wide, tall = min(wide, width), min(wide * STRIP_SIZE[1] / STRIP_SIZE[0], height)
    x = min(max((box.left + box.right - wide) / 2, 0), width - wide)
    y = min(max((box.top + box.bottom - tall) / 2, 0), height - tall)
    return round(x), round(y), round(wide), round(tall)


def _small(piece: Piece, region, size, point: Point | None) -> np.ndarray:
    """Drawn larger than shown and averaged."""
    scale = min(1.0, OVERSAMPLED * min(size[0] / region[2], size[1] / region[3]))
    image = engine.render(piece, region, scale, assets(), point=point, keeps_all=True)
    planes = to_planes(image)
    ratio = min(1.0, size[0] / planes.shape[2], size[1] / planes.shape[1])
    return from_planes(resized(planes, max(1, round(planes.shape[2] * ratio)), max(1, round(planes.shape[1] * ratio))))
