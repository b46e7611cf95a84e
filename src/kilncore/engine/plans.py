"""The plans of documents that were asked for lately: one set of graphs for a document, however many
pictures are made of it.
"""

import threading

from cachetools import LRUCache, cached

from kilncore.document import Piece
from kilncore.engine.plan import Plan

KEPT = 48


@cached(
    LRUCache(KEPT), key=lambda piece, scale=1.0: (id(piece), scale), condition=threading.Condition()
)
def plan_of(piece: Piece, scale: float = 1.0) -> Plan:
    """By the document itself, which never changes. The plan holds the document, so that its id
    stays its own.
    """
    return Plan(piece, scale)
