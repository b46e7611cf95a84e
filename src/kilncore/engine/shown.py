"""What a stage showed last of a piece, exactly: of the next picture only what differs is drawn."""

import threading
from dataclasses import dataclass
from typing import Any

import numpy as np
from cachetools import LRUCache

from kilncore.document import Piece
from kilncore.engine.built import Built
from kilncore.engine.changes import changed_box
from kilncore.engine.draft_textures import with_draft_textures
from kilncore.engine.plan import Plan, Point
from kilncore.engine.plans import plan_of
from kilncore.geometry.box import Box, scaled
from kilncore.graph.node import Node
from kilncore.graph.protocols import Assets
from kilncore.pixels.pixel_format import PixelFormats
from kilncore.system.cache import ByteCache

VIEWS = 4  # of a piece that are remembered
WORTH_IT = 0.9  # of a picture: of what differs more, all is drawn


@dataclass(frozen=True)
class Looked:
    """What is looked at: a region in document px, at a scale, finished or up to a point."""

    region: tuple[float, float, float, float] | None
    scale: float
    point: Point | None = None
    with_ground: bool = True

    def built(self, plan: Plan) -> Built:
        """The picture, by a plan."""
        return plan.up_to(self.point) if self.point else plan.finished(self.with_ground)


class Shown:
    """The last exact pictures of one piece. cache : where their pixels are, as long as there is
    room.
    """

    def __init__(self, cache: ByteCache):
        self._cache, self._lock = cache, threading.Lock()
        self._pieces: LRUCache[Looked, Piece] = LRUCache(VIEWS)
        self._drafts: LRUCache[Looked, tuple[Piece, Plan]] = LRUCache(VIEWS)

    def keep(self, looked: Looked, piece: Piece, pixels: np.ndarray) -> None:
        """Remember an exact picture. pixels : (H, W, 3 or 4) uint8, never written into again."""
        self._cache.put(self._place(looked, piece), pixels)
        with self._lock:
            self._pieces[looked] = piece

    def before(self, looked: Looked) -> tuple[Piece, np.ndarray] | None:
        """The piece as it was shown, with its pixels; None if they are not there."""
        with self._lock:
            piece = self._pieces.get(looked)
        pixels = None if piece is None else self._cache.find(self._place(looked, piece))
        return None if piece is None or pixels is None else (piece, pixels)

    def plan(self, looked: Looked, assets: Assets | None) -> Plan | None:
        """Of a draft of the piece that was shown; None if none was."""
        with self._lock:
            piece, known = self._pieces.get(looked), self._drafts.get(looked)
        if piece is None:
            return None
        if known is None or known[0] is not piece:
            drafts = piece if assets is None else with_draft_textures(piece, assets)
            known = piece, plan_of(drafts, looked.scale)
            with self._lock:
                self._drafts[looked] = known
        return known[1]

    def _place(self, looked: Looked, piece: Piece) -> tuple:
        return "shown", looked, looked.built(plan_of(piece)).node.key


def still_right(
    shown: Shown, looked: Looked, node: Node, wanted: Box, truly: bool, assets: Any
) -> tuple[np.ndarray, Box] | None:
    """(the last exact picture, the box of it that a new one differs in); None if all is to be
    drawn. node : of the new picture, at scale 1 if it is exact. wanted : all of it, in output px.
    """
    before = shown.before(looked)
    if before is None:
        return None
    piece, pixels = before
    plan = plan_of(piece) if truly else shown.plan(looked, assets)
    if plan is None:
        return None
    old = looked.built(plan).node
    formats = PixelFormats(assets)
    if formats.of(old).alpha != formats.of(node).alpha:
        return None
    changed = changed_box(old, node, formats)
    if truly and not changed.empty:
        changed = _shows(changed, looked.scale)
    changed = changed.intersection(wanted)
    if changed.width * changed.height > WORTH_IT * wanted.width * wanted.height:
        return None
    return pixels, changed


def _shows(box: Box, scale: float) -> Box:
    """The output px that show scale-1 pixels: of each, all or a part."""
    return scaled(box.left, box.top, box.width, box.height, scale).expanded(1)
