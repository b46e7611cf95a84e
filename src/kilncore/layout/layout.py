"""Where the items of a piece lie: maps, boxes, frames. Nothing is drawn here, and edits need no
more.
"""

import math
from collections.abc import Iterable
from dataclasses import dataclass
from functools import cached_property

from kilncore.document import Group, Mark, Piece
from kilncore.errors import KilnError
from kilncore.geometry.affine import Affine
from kilncore.model.frame import Frame

EXACT = 6  # decimals of a px: what an older document's middle is told to


@dataclass(frozen=True)
class ItemBox:
    """Where an item lies: its middle, its size before turning, in document px, and its turn in
    degrees.
    """

    x: float
    y: float
    width: float
    height: float
    rotation_deg: float

    def corners(self) -> list[tuple[float, float]]:
        """Its corners on the piece."""
        return Affine.similarity(self.x, self.y, 1.0, math.radians(self.rotation_deg)).corners(
            self.width, self.height
        )


@dataclass(frozen=True)
class Upright:
    """A box that is not turned, in document px."""

    left: float
    top: float
    right: float
    bottom: float

    @property
    def middle(self) -> tuple[float, float]:
        """Of it."""
        return (self.left + self.right) / 2, (self.top + self.bottom) / 2


def upright(box: ItemBox) -> Upright:
    """The upright box around an item's."""
    return joint_box([box])


def middle_within(placed: Affine, boxes: Iterable[ItemBox]) -> tuple[float, float]:
    """The middle of the box around several, upright as `placed` has it, on the piece."""
    back = placed.inverse
    corners = [back.point(*corner) for box in boxes for corner in box.corners()]
    xs, ys = zip(*corners, strict=True)
    return placed.point((min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2)


def joint_box(boxes: Iterable[ItemBox]) -> Upright:
    """The upright box around several; ValueError if there are none."""
    xs, ys = zip(*(corner for box in boxes for corner in box.corners()), strict=True)
    return Upright(min(xs), min(ys), max(xs), max(ys))


class Layout:
    """The layout of one piece, at scale 1."""

    def __init__(self, piece: Piece):
        self.piece = piece
        self.ppi, self.tall = piece.ppi, piece.size_px[1]

    @cached_property
    def _found(self) -> dict[str, tuple[Mark | Group, Group | None]]:
        return dict(_with_groups(self.piece.stack, None))

    def item(self, item_id: str) -> tuple[Mark | Group, Group | None]:
        """An item with the group it is in, if any; KilnError if it is not there."""
        if item_id not in self._found:
            raise KilnError("There is no such mark on this piece.", str(item_id)[:60])
        return self._found[item_id]

    def map(self, item: Mark | Group) -> Affine:
        """From the middle of an item's own box, in its own size, to document px."""
        own, group = self._own_map(item), self.item(item.id)[1]
        return self.map(group).of(own) if group else own

    def _own_map(self, item: Mark | Group) -> Affine:
        place = item.placement
        x, y = (length.in_px(self.ppi, self.tall) for length in (place.x, place.y))
        return Affine.similarity(x, y, place.scale, math.radians(place.rotation_deg))

    def _size(self, item: Mark | Group) -> tuple[float, float]:
        """The size of an item in its own scale, before its placement."""
        if isinstance(item, Mark):
            return item.art.box_px(self.ppi, self.tall)
        corners = [
            corner
            for member in item.members
            for corner in self._own_map(member).corners(*self._size(member))
        ]
        return 2 * max(abs(x) for x, _ in corners), 2 * max(abs(y) for _, y in corners)

    def box(self, item: Mark | Group) -> ItemBox:
        """Where an item lies on the piece."""
        placed, (width, height) = self.map(item), self._size(item)
        return ItemBox(
            placed.e,
            placed.f,
            width * placed.scale,
            height * placed.scale,
            math.degrees(placed.rotation),
        )

    def boxes(self) -> dict[str, ItemBox]:
        """The boxes of all items, by id."""
        return {item_id: self.box(item) for item_id, (item, _) in self._found.items()}

    @property
    def page_frame(self) -> Frame:
        """The frame of the ground and of the whole piece: its middle and its height, as they were
        before it was cropped, enlarged or turned.
        """
        (width, height), own = self.piece.size_px, self.piece.frame
        x, y = round(width / 2) + own.x, round(height / 2) + own.y
        turn = math.radians(90 * own.quarters)
        return Frame(x, y, turn, height * own.unit, self.ppi, 1.0, width, height)

    def frame(self, item: Mark | Group) -> Frame:
        """The frame of an item: in it lie its textures and strokes."""
        placed = self.map(item)
        x, y, unit = self._own_frame(item)
        x, y = placed.point(x, y)
        page = self.piece.size_px
        return Frame(x, y, placed.rotation, unit * placed.scale, self.ppi, 1.0, *page)

    def _own_frame(self, item: Mark | Group) -> tuple[float, float, float]:
        if isinstance(item, Group):
            x, y, unit = 0.0, 0.0, self._size(item)[1]
        else:
            x, y, unit = item.art.frame_px(self.ppi, self.tall)
        shift = item.frame
        return round(x + shift.x * unit, EXACT), round(y + shift.y * unit, EXACT), unit * shift.unit

    def frames(self) -> dict[str, Frame]:
        """The frames of all items, by id."""
        return {item_id: self.frame(item) for item_id, (item, _) in self._found.items()}


def _with_groups(items, group: Group | None):
    """(id, (item, the group it is in)) of all items, however deep."""
    for item in items:
        yield item.id, (item, group)
        yield from _with_groups(getattr(item, "members", ()), item)
