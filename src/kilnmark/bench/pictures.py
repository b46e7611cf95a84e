"""Pictures for the bench: the stage, the strip, the cards."""

import threading
from pathlib import Path

import numpy as np
from cachetools import LRUCache, cached

from kilncore import engine
from kilncore.document import Piece
from kilncore.engine import lifted as lifting
from kilncore.engine.draft_textures import with_draft_textures
from kilncore.engine.plan import Point
from kilncore.engine.plans import plan_of
from kilncore.engine.pool import REST
from kilncore.engine.recall import Recall
from kilncore.engine.reduced import reduced
from kilncore.engine.shown import Looked
from kilncore.errors import KilnError
from kilncore.graph.keys import key_of
from kilncore.measure.difference import Difference, difference
from kilncore.output.preview import encode
from kilncore.pixels.colour import BT709, hex_to_rgb
from kilncore.pixels.planes import to_planes
from kilncore.pixels.vips import from_bytes
from kilncore.system.code_version import code_version
from kilnmark import door
from kilnmark.bench import at_rest
from kilnmark.bench.at_rest import Area, View
from kilnmark.pictures import PICTURES, draft, pixels_of
from kilnmark.storage import assets

MOST_VIEW_PIXELS, MOST_LIFTED_PIXELS = 12_000_000, 5_000_000
RECALLS = 60  # pieces of which is remembered what was measured
STRIP_SIZE, LARGE_SIZE = (232, 152), (760, 420)
SHAPES = {"wide": (440, 220), "square": (300, 300), "tall": (260, 390)}  # of a card, px
WIDE_FROM, TALL_BELOW = 1.4, 0.8  # times as wide as tall
CLOSE_RATIO = 8.0  # of what is wider for its height only the middle is tried
EMBER, FADED, LOUDER = "#c2451a", 0.6, 4.0
MEASURED, FINER = 600_000, 0.6  # px of a part that is tried; of what its large picture shows
ROOM = 0.12  # around a mark on its strip
LEAST_AREA = 24  # px of the piece that a strip shows across
DRAWN_BY = code_version(
    Path(__file__).parent
)  # how a picture is cut out and marked is part of what it depends on


def view_of(asked: door.Region) -> View:
    """The part of the piece that is asked for, and how large; KilnError if it cannot be shown."""
    if asked.width * asked.height * asked.scale * asked.scale > MOST_VIEW_PIXELS:
        raise KilnError("The view is too large to show at once.", str(asked))
    return View((asked.x, asked.y, asked.width, asked.height), asked.scale)


@cached(LRUCache(RECALLS), condition=threading.Condition())
def recall_of(piece_id) -> Recall:
    """What was measured of a piece a moment ago."""
    return Recall()


def stage(
    piece: Piece,
    view: View,
    exact: bool,
    point: Point | None,
    cancelled,
    files,
    recall: Recall | None = None,
    owner: int | None = None,
) -> tuple[bytes, str]:
    """(bytes, media type) of the stage's picture. files : the assets, with what unsaved edits
    bring. recall : what drafts may take of what was measured before. owner : of a stored piece,
    whose exact picture outlives the server.
    """
    key = None if owner is None else at_rest.key_of_exact(owner, piece, view, point)
    known = at_rest.exact_pictures().find(key) if key else None  # it will do for a draft, too
    if known:
        if recall:
            recall.rests(piece, plan_of(piece).layout)
            looked = Looked(view.region, view.scale, point)
            if recall.shown.before(looked) is None:
                recall.shown.keep(looked, piece, from_bytes(known[0]).numpy())
        return known
    truly = exact or view.scale > 1
    found = engine.pixels(
        piece if truly else with_draft_textures(piece, files),
        view.region,
        view.scale,
        files,
        truly=truly,
        point=point,
        recall=recall,
        cancelled=cancelled,
    )
    picture = encode(found, lossless=exact)
    return at_rest.exact_pictures().put(key, picture) if key and exact else picture


def lifted(
    piece: Piece, marks: list[str], view: View, cancelled, recall: Recall
) -> tuple[bytes, str]:
    """(bytes, media type): what lies beneath marks, and below it the marks as a cut-out."""
    _, _, width, height = view.region
    if width * height * view.scale**2 > MOST_LIFTED_PIXELS:
        raise KilnError("This view is too large for its marks to be lifted.", str(view))
    beneath, cut_out = lifting.lifted(
        piece, marks, view.region, view.scale, assets(), recall, cancelled=cancelled, patience=REST
    )
    both = np.full((2 * cut_out.shape[0], cut_out.shape[1], 4), 255, np.uint8)
    both[: len(cut_out), :, : beneath.shape[2]] = beneath
    both[len(cut_out) :] = cut_out
    return encode(both, lossless=True)


def quick(piece: Piece, view: View, cancelled) -> tuple[bytes, str]:
    """A draft of the stage's picture, of a copy that is no larger than it shows."""
    small = reduced(piece, "piece", MEASURED, view.scale)
    by = small.size_px[0] / piece.size_px[0]
    x, y, width, height = (side * by for side in view.region)
    shown = View((x, y, width, height), view.scale / by)
    return stage(small, shown, False, None, cancelled, assets())


def change_picture(
    before: Piece, after: Piece, view: View, cancelled
) -> tuple[bytes, str, Difference]:
    """(bytes, media type, what changed) of two versions as the stage shows them: the later one
    faded to grey, the change in ember.
    """
    if before.size_px != after.size_px:
        raise KilnError("These versions have different sizes: they cannot be laid over another.")
    shown = [
        engine.pixels(one, view.region, view.scale, assets(), truly=True, cancelled=cancelled)
        for one in (before, after)
    ]
    told = difference(*shown)
    content, media_type = encode(_in_ember(_float(shown[1]), told.change), lossless=True)
    return content, media_type, told


def _in_ember(picture: np.ndarray, change: np.ndarray) -> np.ndarray:
    """(H, W, 3) uint8: a picture faded to grey, and where it changed ember, more where it is
    more."""
    share = np.clip(change * LOUDER, 0, 1)[..., None]
    grey = FADED + (1 - FADED) * (picture[..., :3] @ BT709)[..., None]
    return np.rint((grey + share * (hex_to_rgb(EMBER) - grey)) * 255).astype(np.uint8)


def found(owner: int, key: str, alone: bool) -> tuple[bytes, str] | None:
    """A picture that was drawn before, by the key that the strip's page told."""
    return PICTURES.find((owner, alone, key))


def strip_picture(
    owner: int, state, point: Point, alone: bool, area: Area | None = None
) -> tuple[bytes, str]:
    """The piece as it stands at a point, near the mark that is treated, or in an area of its own;
    or what the step there alone changed.

    The pictures of one strip are asked for at once: whoever comes first has all drawn that are not
    there yet, and the others wait.
    """
    piece, key = state.document, point_key(state.document, point, area)
    if alone:
        return PICTURES.get((owner, True, key), lambda: alone_picture(piece, point, area))
    PICTURES.get(
        (owner, "strip", state.digest, point.part, area),
        lambda: _draw_strip(owner, piece, point.part, area),
    )
    return PICTURES.get((owner, False, key), lambda: draft(_small(piece, [point], area)[0]))


def _draw_strip(owner: int, piece: Piece, part: str, area: Area | None) -> bool:
    points = points_of(piece, part)
    keys = {point: (owner, False, point_key(piece, point, area)) for point in points}
    missing = [point for point, key in keys.items() if key not in PICTURES]
    drawn = _small(piece, missing, area) if missing else ()
    for point, pixels in zip(missing, drawn, strict=True):
        PICTURES.put(keys[point], draft(pixels))
    return True


def points_of(piece: Piece, part: str) -> list[Point]:
    """All that a strip shows: the part bare, after each of its steps, and, of an item, landed."""
    most = len(piece.treatments()[part]) + (part not in ("ground", "piece"))
    return [Point(part, steps) for steps in range(most + 1)]


def alone_picture(piece: Piece, point: Point, area: Area | None = None) -> tuple[bytes, str]:
    """What the step at a point alone changed: the piece faded to grey, the change in ember,
    stronger where it is more.
    """
    points = [
        Point(point.part, steps, on_stock=False) for steps in (max(point.steps - 1, 0), point.steps)
    ]
    before, after = (_float(found) for found in _small(piece, points, area))
    change = np.abs(to_planes(after) - to_planes(before)).max(0)
    return draft(_in_ember(after, change))


def tried(owner: int, piece: Piece, part: str, large: bool = False) -> tuple[bytes, str]:
    """A part of a piece that is not stored, finished, as small as on a strip; or large."""
    shown, point, key = _to_try(owner, piece, part)
    if large:
        return PICTURES.get((*key, "large"), lambda: draft(_whole(shown, point, part)))
    return PICTURES.get(key, lambda: draft(_close([(shown, point)], part)[0]))


def _whole(piece: Piece, point: Point, part: str) -> np.ndarray:
    region = strip_region(piece, part)
    scale = min(1.0, LARGE_SIZE[0] / region[2], LARGE_SIZE[1] / region[3])
    return engine.together([(piece, point)], region, scale, assets())[0]


def tried_together(owner: int, pieces: list[Piece], part: str) -> list[np.ndarray]:
    """(H, W, 3) uint8 of several of one size, as `tried` gives them; those that are not there yet
    are drawn at once.
    """
    found = [_to_try(owner, piece, part) for piece in pieces]
    missing = [one for one in found if one[2] not in PICTURES]
    drawn = _close([one[:2] for one in missing], part) if missing else ()
    fresh = {key: draft(pixels) for (*_, key), pixels in zip(missing, drawn, strict=True)}
    for key, picture in fresh.items():
        PICTURES.put(key, picture)
    return [
        pixels_of((fresh.get(one[2]) or tried(owner, piece, part))[0])
        for one, piece in zip(found, pieces, strict=True)
    ]


def _to_try(owner: int, piece: Piece, part: str) -> tuple[Piece, Point, tuple]:
    """The piece with drafts of textures, finished at a part; the key of its picture."""
    if part not in piece.treatments():
        raise KilnError("There is no such mark on this piece.", part)
    region = close_region(piece, part)
    least = FINER * max(size / side for size, side in zip(LARGE_SIZE, region[2:], strict=True))
    shown = with_draft_textures(reduced(piece, part, MEASURED, least), assets())
    point = Point(part, len(shown.treatments()[part]) + (part not in ("ground", "piece")))
    return shown, point, (owner, "tried", point_key(shown, point))


def _close(wanted: list[tuple[Piece, Point]], part: str) -> list[np.ndarray]:
    """A part of pieces close by."""
    region, size = close_region(wanted[0][0], part), SHAPES[shape_of(wanted[0][0], part)]
    scale = min(1.0, size[0] / region[2], size[1] / region[3])
    return engine.together(wanted, region, scale, assets())


def shape_of(piece: Piece, part: str) -> str:
    """Of SHAPES, that in which the cards of a part show most of it."""
    box = _box_of(plan_of(piece), part)
    ratio = box.width / box.height
    return "wide" if ratio > WIDE_FROM else "tall" if ratio < TALL_BELOW else "square"


def _box_of(plan, part: str):
    """What is on the page of a part; the page, if nothing is."""
    box = plan.page if part in ("ground", "piece") else plan.extent(part).intersection(plan.page)
    return plan.page if box.empty else box


def close_region(piece: Piece, part: str) -> Area:
    """What a card shows, in its proportions: a part with some room; of what is very wide, the
    middle.
    """
    plan, size = plan_of(piece), SHAPES[shape_of(piece, part)]
    box, proportion = _box_of(plan, part), size[0] / size[1]
    high = box.height * proportion
    wide = max(min(box.width, CLOSE_RATIO * box.height), high) * (1 + ROOM)
    wide = max(min(wide, plan.page.width), LEAST_AREA)
    tall = min(wide / proportion, plan.page.height)
    x = min(max((box.left + box.right - wide) / 2, 0), max(plan.page.width - wide, 0))
    y = min(max((box.top + box.bottom - tall) / 2, 0), max(plan.page.height - tall, 0))
    return round(x), round(y), max(round(wide), 1), max(round(tall), 1)


def _float(pixels: np.ndarray) -> np.ndarray:
    """Straight (H, W, 4), 0..1."""
    out = np.ones((*pixels.shape[:2], 4), np.float32)
    out[..., : pixels.shape[2]] = pixels / np.float32(255)
    return out


def point_at(piece: Piece, part: str, number: int) -> Point:
    """The point after `number` steps; KilnError if there are not that many."""
    known = part in piece.treatments() and isinstance(number, int)
    if not known or not 0 <= number < len(points_of(piece, part)):
        raise KilnError("This point is no longer on the piece.", f"{part}, {number}")
    return Point(part, number)


def point_key(piece: Piece, point: Point, area: Area | None = None) -> str:
    """The key of a strip picture: the same as long as the picture is."""
    region = strip_region(piece, point.part, area)
    return key_of(plan_of(piece).up_to(point).node.key, region, STRIP_SIZE, DRAWN_BY)


def strip_region(piece: Piece, part: str, area: Area | None = None) -> Area:
    """The part of the piece a strip shows: all of it, or the mark with some room, in the picture's
    proportions; or what lies around an area, as far as it is on the piece.
    """
    width, height = piece.size_px
    if area is not None:
        return _around(piece, area)
    if part in ("ground", "piece"):
        return 0, 0, width, height
    plan = plan_of(piece)
    box = plan.extent(part).intersection(plan.page)
    if box.empty:
        return 0, 0, width, height
    room = ROOM * max(box.width, box.height)
    grown = box.left - room, box.top - room, box.width + 2 * room, box.height + 2 * room
    return _around(piece, grown)


def _around(piece: Piece, area: Area) -> Area:
    """In the picture's proportions, on the piece."""
    (width, height), (left, top, across, down) = piece.size_px, area
    wide = max(across, down * STRIP_SIZE[0] / STRIP_SIZE[1], LEAST_AREA)
    wide, tall = min(wide, width), min(wide * STRIP_SIZE[1] / STRIP_SIZE[0], height)
    x = min(max(left + (across - wide) / 2, 0), width - wide)
    y = min(max(top + (down - tall) / 2, 0), height - tall)
    return round(x), round(y), max(round(wide), 1), max(round(tall), 1)


def _small(piece: Piece, points: list[Point], area: Area | None = None) -> list[np.ndarray]:
    """Pictures for the strip of a part."""
    region = strip_region(piece, points[0].part, area)
    scale = min(1.0, STRIP_SIZE[0] / region[2], STRIP_SIZE[1] / region[3])
    return engine.together([(piece, point) for point in points], region, scale, assets())
