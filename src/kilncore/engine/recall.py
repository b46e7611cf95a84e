"""What was measured a moment ago, for drafts while a hand moves things.

An aim, a surface's facts, a mean tone: they are read from all over an item at full size, and change
little while it is dragged. A draft takes those of the last picture in which they were known; the
exact picture never does. What a draft took is part of its nodes' keys, so that nothing drawn by it
is ever taken for more.
"""

import threading
from dataclasses import replace
from typing import Any

from cachetools import LRUCache

from kilncore.artwork.base import Drawing
from kilncore.document import Piece
from kilncore.engine.reader import SHARED_CACHE
from kilncore.engine.shown import Shown
from kilncore.errors import KilnError
from kilncore.geometry.box import Box
from kilncore.graph.plane import WholeValue
from kilncore.layout.layout import Layout
from kilncore.model.frame import Frame
from kilncore.model.units import Length
from kilncore.system.cache import ByteCache

REMEMBERED, SCALES = 400, 8


class Recall:
    """Of one piece."""

    def __init__(self, cache: ByteCache = SHARED_CACHE):
        self.cache, self._known = cache, LRUCache(REMEMBERED)
        self.shown = Shown(cache)
        self._drawn: LRUCache = LRUCache(REMEMBERED)
        self._noted: LRUCache = LRUCache(REMEMBERED)
        self._scales: LRUCache = LRUCache(SCALES)
        self._rest: dict = {}
        self._layout: Layout | None = None
        self._lock = threading.Lock()

    def of(self, step: Any, planes: dict) -> dict:
        """The planes of a step, with the values of before in the place of those that are not known
        yet. A step that is set otherwise takes none.
        """
        return {name: self._value(step, name, plane) for name, plane in planes.items()}

    def on_whole_px(self, piece: Piece, scale: float) -> Piece:
        """The piece, with what a hand moves on it whole px of a draft away from where it lay: then
        all that lies on it need not be sampled anew.
        """
        moved = {}
        with self._lock:
            for item in piece.stack:
                rest = self._rest.get(item.id)
                if rest is not None and rest != item.placement:
                    moved[item.id] = _whole_px_from(rest, item.placement, piece, scale)
        if not any(moved.values()):
            return piece
        stack = tuple(
            item.model_copy(update={"placement": moved[item.id]}) if moved.get(item.id) else item
            for item in piece.stack
        )
        return piece.model_copy(update={"stack": stack})

    def first_at(self, scale: float) -> bool:
        """Whether nothing was got ready at a scale yet; from now on something is."""
        with self._lock:
            first = scale not in self._scales
            self._scales[scale] = None
        return first

    def forget(self, scale: float) -> None:
        """What was to be got ready at a scale was given up."""
        with self._lock:
            self._scales.pop(scale, None)

    def rests(self, piece: Piece, layout: Layout) -> None:
        """Remember where all lies while nothing moves."""
        with self._lock:
            self._rest = {item.id: item.placement for item in piece.stack}
            self._layout = layout

    def framed(self, item: str, frame: Frame) -> Frame:
        """A frame; where it lies in perspective and not as it did, one that is read coarsely."""
        rest = self._layout
        if frame.projection is None or rest is None:
            return frame
        try:
            before = replace(rest.frame(rest.item(item)[0]), scale=frame.scale)
        except KilnError:
            before = None  # it is new
        if before == frame:
            return frame
        return replace(frame, projection=replace(frame.projection, hasty=True))

    def drawn(self, mark: str, drawing: Drawing, page: Box) -> Drawing:
        """A mark's art as it lies, if that is drawn already; else whole px away from where it was
        drawn last: then it need not be drawn anew, however far it is moved.
        """
        place = mark, drawing.unit
        with self._lock:
            before = self._drawn.get(place)
            near = drawing if before is None else drawing.whole_px_from(before)
            if near is drawing or not drawing.lacking(self, page):
                self._drawn[place] = near = drawing
        return near

    def note(self, built: Any) -> None:
        """Remember what is known of a picture's steps now."""
        for made in built.landings.values():
            if hasattr(made, "step") and self._noted.get(made.step.id) is not made:
                self.of(made.step, made.planes)
                self._noted[made.step.id] = made

    def _value(self, step: Any, name: str, plane: Any):
        if not isinstance(plane, WholeValue):
            return plane
        setting = step.id, name, step.kind, step.params.model_dump_json()
        with self._lock:
            if plane.key in self.cache:
                self._known[setting] = plane
                return plane
            before = self._known.get(setting)
        if before is None or before.key not in self.cache:
            return plane.hasty
        return plane.stand_in(before) or plane.hasty


def _whole_px_from(rest: Any, now: Any, piece: Piece, scale: float) -> Any:
    """A placement whole px of a draft away from another; None where it differs in more than place,
    or lies in perspective.
    """
    told = ("scale", "rotation_deg", "perspective")
    if any(getattr(rest, name) != getattr(now, name) for name in told) or now.perspective:
        return None
    placed = {}
    for name in ("x", "y"):
        before, after = (getattr(one, name) for one in (rest, now))
        start, end = (one.in_px(piece.ppi, piece.size_px[1]) for one in (before, after))
        end = start + round((end - start) * scale) / scale
        # as far as it goes: a place in a document is held to bounds, this one is not
        placed[name] = Length.model_construct(value=end, unit="px")
    return now.model_copy(update=placed)
