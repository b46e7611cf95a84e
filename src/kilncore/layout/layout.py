"""Where the items of a piece lie: maps, boxes, frames. Nothing is drawn here, and edits need no
more.
"""

import math
from collections.abc import Callable, Iterable
from dataclasses import dataclass
from functools import cached_property

from kilncore.document import Group, Mark, Piece
from kilncore.errors import KilnError
from kilncore.geometry.affine import Affine
from kilncore.model.frame import Frame
from kilncore.model.perspective import laid, projection_of
from kilncore.perspective.projection import Projection

SIDE_POINTS = 12  # of each side of a box in perspective
EXACT = 6  # decimals of a px: what an older document's middle is told to


@dataclass(frozen=True)
class ItemBox:
    """Where an item lies: its middle, its size before turning, in document px, and its turn in
    degrees. outline : of an item in perspective, the points around it, and `ring`, its own four
    corners; all else is as it would lie flat.
    """

    x: float
    y: float
    width: float
    height: float
    rotation_deg: float
    outline: tuple[tuple[float, float], ...] = ()
    ring: tuple[tuple[float, float], ...] = ()

    def corners(self) -> list[tuple[float, float]]:
        """Its corners on the piece, or the points around it."""
        if self.outline:
            return list(self.outline)
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


def joint_box(boxes: Iterable[ItemBox]) -> Upright:
    """The upright box around several; ValueError if there are none."""
    xs, ys = zip(*(corner for box in boxes for corner in box.corners()), strict=True)
    return Upright(min(xs), min(ys), max(xs), max(ys))


class Layout:
    """Where the items of one piece lie, at scale 1; nothing is drawn. `boxes()` and `frames()` tell
    it by id.

    Parameters
    ----------
    piece : Piece
        Any.

    Raises
    ------
    KilnError
        By what asks for an item that is not there.
    """

    def __init__(self, piece: Piece):
        self.piece = piece
        self.ppi, self.tall = piece.ppi, piece.size_px[1]
        self._kept: dict = {}

    @cached_property
    def _found(self) -> dict[str, tuple[Mark | Group, Group | None]]:
        return dict(_with_groups(self.piece.stack, None))

    def item(self, item_id: str) -> tuple[Mark | Group, Group | None]:
        """An item with the group it is in, if any; KilnError if it is not there."""
        if item_id not in self._found:
            raise KilnError("There is no such mark on this piece.", str(item_id)[:60])
        return self._found[item_id]

    def map(self, item: Mark | Group) -> Affine:
        """From the middle of an item's own box, in its own size, to document px, as it would lie
        flat.
        """
        own, group = self._own_map(item), self.item(item.id)[1]
        return self.map(group).of(own) if group else own

    def _own_map(self, item: Mark | Group) -> Affine:
        place = item.placement
        x, y = (length.in_px(self.ppi, self.tall) for length in (place.x, place.y))
        return Affine.similarity(x, y, place.scale, math.radians(place.rotation_deg))

    def projection(self, item: Mark | Group) -> Projection | None:
        """From document px where an item would lie flat to where it lies, with all groups around
        it; None if nothing of them is in perspective.
        """
        return self._once(("projection", item.id), lambda: projection_of(self._levels(item)))

    def _levels(self, item: Mark | Group) -> list:
        group = self.item(item.id)[1]
        return [*(self._levels(group) if group else ()), (self._own_map(item), self._laid(item))]

    def _laid(self, item: Mark | Group) -> tuple:
        own = item.placement.perspective
        height = self._size(item)[1] if own else 0.0
        return laid(self._own_map(item), own, self.ppi, height, self.map(item).scale)

    def _once(self, key: tuple, make: Callable):
        if key not in self._kept:
            self._kept[key] = make()
        return self._kept[key]

    def _size(self, item: Mark | Group) -> tuple[float, float]:
        """The size of an item in its own scale, before its placement."""
        if isinstance(item, Mark):
            return item.art.box_px(self.ppi, self.tall)
        corners = [corner for member in item.members for corner in self._ends(member)]
        return 2 * max(abs(x) for x, _ in corners), 2 * max(abs(y) for _, y in corners)

    def size(self, item_id: str) -> tuple[float, float]:
        """The width and height of an item in its own size."""
        return self._size(self.item(item_id)[0])

    def middle_of_members(self, group: Group) -> tuple[float, float]:
        """The middle of the box around a group's members, in the group's own size, from where its
        middle is now.
        """
        corners = [corner for member in group.members for corner in self._ends(member)]
        xs, ys = zip(*corners, strict=True)
        return (min(xs) + max(xs)) / 2, (min(ys) + max(ys)) / 2

    def _ends(self, member: Mark | Group) -> list[tuple[float, float]]:
        """The corners of a member in its group, or the points around it."""
        size = self._size(member)
        if member.placement.perspective is None:
            return self._own_map(member).corners(*size)
        points = Projection.chain(*self._laid(member)).points(_around(*size))
        return [(float(x), float(y)) for x, y in points]

    def box(self, item: Mark | Group) -> ItemBox:
        """Where an item lies on the piece."""
        placed, (width, height) = self.map(item), self._size(item)
        projection = self.projection(item)
        outline: tuple[tuple[float, float], ...] = ()
        if projection:
            flat = [placed.point(*point) for point in _around(width, height)]
            outline = tuple((float(x), float(y)) for x, y in projection.points(flat))
        return ItemBox(
            placed.e,
            placed.f,
            width * placed.scale,
            height * placed.scale,
            math.degrees(placed.rotation),
            outline,
            outline[::SIDE_POINTS],
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
        turn, unit = placed.rotation, unit * placed.scale
        return Frame(x, y, turn, unit, self.ppi, 1.0, *page, self.projection(item))

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


def _with_groups(items: tuple, group: Group | None):
    """(id, (item, the group it is in)) of all items, however deep."""
    for item in items:
        yield item.id, (item, group)
        yield from _with_groups(getattr(item, "members", ()), item)


def _around(width: float, height: float) -> list[tuple[float, float]]:
    """Points around a box from its upper left, clockwise, so many on each side."""
    x, y = width / 2, height / 2
    ring = [(-x, -y), (x, -y), (x, y), (-x, y)]
    return [
        (a + (c - a) * n / SIDE_POINTS, b + (d - b) * n / SIDE_POINTS)
        for (a, b), (c, d) in zip(ring, [*ring[1:], ring[0]], strict=True)
        for n in range(SIDE_POINTS)
    ]
