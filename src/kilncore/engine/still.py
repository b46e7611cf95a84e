"""What of a piece a hand leaves alone while it moves something: items whose graphs are taken as
they were built for the piece at rest.

Building a graph costs as much as drawing what a hand changes. An item is taken if it is the very
same, lies where it lay, and looks at nothing that changed beneath it.
"""

import threading
from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any

from kilncore.document import Group, Mark
from kilncore.engine.built import Built
from kilncore.engine.tone_variance import ToneVariance
from kilncore.geometry.box import EVERYWHERE, FAR, NOWHERE, Box, scaled
from kilncore.graph.node import Node
from kilncore.landing.model import BENEATH
from kilncore.model.frame import Frame

if TYPE_CHECKING:
    from kilncore.engine.plan import Plan

Item = Mark | Group
OF_BENEATH = BENEATH, "variance"
_READING = threading.local()


@contextmanager
def looking() -> Iterator[list[Box]]:
    """The boxes, in document px, in which a step or a landing looks at what lies around it, while
    it is built.
    """
    around = getattr(_READING, "boxes", None)
    _READING.boxes = boxes = []
    try:
        yield boxes
    finally:
        _READING.boxes = around


def looks_at(box: Box, scale: float) -> None:
    """Note a box of output px at a scale."""
    boxes = getattr(_READING, "boxes", None)
    if boxes is not None:
        boxes.append(in_document_px(box, scale))


def in_document_px(box: Box, scale: float) -> Box:
    """A box of output px, widened to whole document px."""
    if box.empty or scale == 1.0:
        return box
    if max(map(abs, box)) >= FAR // 2:
        return EVERYWHERE
    return scaled(box.left, box.top, box.width, box.height, 1 / scale)


def joined(boxes: list[Box]) -> Box:
    """The least box that holds them all."""
    whole = NOWHERE
    for box in boxes:
        whole = whole.union(box)
    return whole


class Still:
    """The items of one plan, as they are built, beside those of the plan at rest. before : that
    plan; None, and nothing is taken from it.
    """

    def __init__(self, plan: "Plan", before: "Plan | None"):
        self.items: dict[str, tuple[Item, Built]] = {}
        self._plan, self._before, self._changed = plan, before, NOWHERE

    def begins(self, ground: Node, items: list[Item]) -> None:
        """A stack is built from its ground up."""
        before = self._before
        if before is None:
            return
        before.finished()  # so that its items are there
        if ground.key != before.ground().node.key or _page(self._plan) != _page(before):
            self._changed = EVERYWHERE
            return
        self._goes_on(items, [one for one in before.piece.stack if not one.left_out])

    def enters(self, group: Group, members: list[Item]) -> None:
        """The members of a group are built."""
        old = self._before and self._before.still.items.get(group.id)
        if old and isinstance(old[0], Group) and old[0] is not group:
            self._goes_on(members, [one for one in old[0].members if not one.left_out])

    def _goes_on(self, items: list[Item], before: list[Item]) -> None:
        """What is no longer there leaves a gap; in another order, nothing is as it was."""
        new, old = ([one.id for one in some] for some in (items, before))
        if [one for one in new if one in old] != [one for one in old if one in new]:
            self._changed = EVERYWHERE
        for name in set(old) - set(new):
            self._differs_where(self._before, name)

    def taken(self, item: Item) -> Built | None:
        """An item as it was built at rest, treated, not yet landed; None if it has to be built."""
        before = self._before
        known = before and before.still.items.get(item.id)
        if not before or not known or known[0] is not item or not self._lies_still(item, before):
            return None
        return known[1] if known[1].looks_at.intersection(self._changed).empty else None

    def with_variances(self, name: str, frame: Frame, planes: dict) -> dict:
        """The planes of a step or a landing where it lies as it did, with the variances of what
        lies beneath it as they were at rest: they hardly follow what a hand does there, and cost as
        much as the picture.
        """
        old: Any = self._before and self._before.finished().landings.get(name)
        if old is None or old.frame != frame:
            return planes
        rest = {
            key: plane
            for key, plane in old.planes.items()
            if key in OF_BENEATH and isinstance(planes.get(key), ToneVariance)
        }
        return planes | rest

    def _lies_still(self, item: Item, before: "Plan") -> bool:
        if any(one is item for one in before.piece.stack):
            self._plan.once(("frame", item.id), lambda: before.frame(item))
            return True
        return self._plan.frame(item) == before.frame(item)

    def notes(self, item: Item, built: Built, taken: bool) -> None:
        """An item was built, or taken."""
        self.items[item.id] = item, built
        if self._before is not None and not taken:
            self._differs_where(self._plan, item.id)
            self._differs_where(self._before, item.id)

    def _differs_where(self, plan: "Plan | None", name: str) -> None:
        known = plan and plan.still.items.get(name)
        if plan and known:
            extent = in_document_px(known[1].node.extent, plan.scale)
            self._changed = self._changed.union(extent)


def _page(plan: "Plan") -> tuple:
    piece = plan.piece
    return piece.size_px, piece.ppi, piece.frame, piece.light
