"""The plans of documents that were asked for lately: one set of graphs for a document, however many pictures are made of it."""

import threading
from collections import OrderedDict

from kilncore.document import Piece
from kilncore.engine.plan import Plan

KEPT = 24


class Plans:
    """By the document itself, which never changes, and the scale."""

    def __init__(self, kept: int = KEPT):
        self._kept, self._plans, self._lock = kept, OrderedDict(), threading.Lock()

    def of(self, piece: Piece, scale: float = 1.0) -> Plan:
        with self._lock:
            known = self._plans.setdefault(id(piece), (piece, {}))  # the document is held, so that its id stays its own
            self._plans.move_to_end(id(piece))
            plan = known[1].get(scale)
            if plan is None:
                plan = known[1][scale] = Plan(piece, scale)
            while len(known[1]) > self._kept:
                known[1].pop(next(iter(known[1])))
            while len(self._plans) > self._kept:
                self._plans.popitem(last=False)
        return plan


plan_of = Plans().of
