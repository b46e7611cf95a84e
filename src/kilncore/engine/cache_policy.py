"""Which nodes of a graph are worth keeping tiles of, and how far around the picture each is needed.

Drawing a step anew costs about as much as storing its tile, so a treatment runs through without
storing anything but:

- what more than one node reads, or it would be drawn once for each;
- what is read from afar (a wide blur, or several narrow ones in a row), or every tile would draw
  much of its neighbours;
- where a change begins: a node that an earlier picture had, read by one that it had not. While a
  control moves, that is the picture just before the step that it belongs to.
"""

import threading
from collections.abc import Callable, Iterable
from dataclasses import dataclass, field
from typing import Any

from cachetools import LRUCache

from kilncore.geometry.box import EVERYWHERE, NOWHERE, Box
from kilncore.system.hardware import MEMORY

FAR_PX = 64
# of steps in a row that look around themselves, between one that is kept and the next
RUN_PX, RUN_STEPS = 192, 6
ROUNDED_PX = 64  # so that a margin which grows a little still finds its tiles
REMEMBERED = 20_000
# of margin around a picture: then what is read from afar is drawn whole, level by level
DEEP_PX = 1000
# of the longer side of what counts of a node: what looks around it reads little, wherever it lies
SMALL_PX = 512
ROOM_FOR_MORE = 4  # times what is read from afar: more than that is kept beside it
HELD_AT_MOST = MEMORY // 6


class Recent:
    """The keys of nodes that pictures had lately."""

    def __init__(self):
        self._keys: LRUCache = LRUCache(REMEMBERED)
        self._lock = threading.Lock()

    def __contains__(self, key: str) -> bool:
        return key in self._keys

    def add(self, keys: Iterable[str]) -> None:
        """Note keys as seen just now."""
        with self._lock:
            for key in keys:
                self._keys[key] = None


RECENT = Recent()


@dataclass
class Analysis:
    """One walk over a graph, from one root or several. nodes : by key, a node after all that read
    it. margins : px around the picture. far : what is read from afar. used : the box beyond which
    nothing of a node counts for any that reads it. looked : px around the picture of what is large:
    a row of small marks, each read by the next, is long and yet little."""

    nodes: dict[str, Any] = field(default_factory=dict)
    margins: dict[str, int] = field(default_factory=dict)
    readers: dict[str, int] = field(default_factory=dict)
    far: set[str] = field(default_factory=set)
    used: dict[str, Box] = field(default_factory=dict)
    looked: dict[str, int] = field(default_factory=dict)


def analysed(*roots: Any) -> Analysis:
    """Walk a graph once, from all its roots."""
    analysis, runs = Analysis(), {}
    for root in roots:
        analysis.margins[root.key] = 0
        analysis.used[root.key] = EVERYWHERE
    for node in reversed(in_order(*roots)):
        analysis.nodes[node.key] = node
        run = runs.get(node.key, (0, 0))
        if run[0] > RUN_PX or run[1] > RUN_STEPS:
            analysis.far.add(node.key)
        if node.key in analysis.far:
            run, analysis.margins[node.key] = (0, 0), _rounded(analysis.margins[node.key])
        here = node.extent.intersection(analysis.used[node.key])
        for source, margin in node.sources:
            used = NOWHERE if here.empty else here.expanded(margin)
            analysis.used[source.key] = analysis.used.get(source.key, NOWHERE).union(used)
            analysis.readers[source.key] = analysis.readers.get(source.key, 0) + 1
            analysis.margins[source.key] = max(
                analysis.margins.get(source.key, 0), analysis.margins[node.key] + margin
            )
            looked = analysis.looked.get(node.key, 0) if _large(here) else 0
            analysis.looked[source.key] = max(analysis.looked.get(source.key, 0), looked + margin)
            if margin >= FAR_PX:
                analysis.far.add(source.key)
            known, steps = runs.get(source.key, (0, 0)), int(source is not node.onto)
            runs[source.key] = max(known[0], run[0] + margin), max(known[1], run[1] + steps)
    return analysis


def _large(box: Box) -> bool:
    return not box.empty and max(box.width, box.height) > SMALL_PX


def in_order(*roots: Any, also: Callable = lambda node: ()) -> list:
    """All nodes that can be come by from the roots, each after those it reads. also : more nodes
    that one reads.
    """
    order, visited, waiting = [], set(), list(reversed(roots))
    while waiting:
        node = waiting[-1]
        if node.key in visited:
            waiting.pop()
            continue
        below = [
            source
            for source in (*(source for source, _ in node.sources), *also(node))
            if source.key not in visited
        ]
        if below:
            waiting += reversed(below)
            continue
        visited.add(node.key)
        order.append(waiting.pop())
    return order


def kept(
    root: Any, wanted: Box, seen: Recent | None = None, analysis: Analysis | None = None
) -> dict[str, Box]:
    """Key -> the box in which its tiles are needed, of every node worth keeping. `seen` is brought
    up to date.
    """
    analysis = analysis or analysed(root)
    chosen = {key for key, count in analysis.readers.items() if count > 1} | analysis.far
    if seen is not None:
        chosen |= _where_changes_begin(root, seen)
        seen.add(analysis.nodes)
    return {
        key: wanted.expanded(_rounded(analysis.margins[key]))
        for key in chosen
        if not analysis.nodes[key].cheap
    }


def _rounded(margin: int) -> int:
    return -(-margin // ROUNDED_PX) * ROUNDED_PX


def deep(analysis: Analysis, wanted: Box, room: int) -> list[tuple[object, Box]]:
    """The nodes of a stack of steps that together look very far around, deepest first, each with
    the box in which it is needed. Tile by tile each would be drawn again and again for its
    neighbours' sake. room : bytes of the cache; what is small, and all of it fits there, is not
    held."""
    far = analysis.far
    if max((analysis.margins[key] for key in far), default=0) <= DEEP_PX:
        return []
    nodes = [
        node
        for key, node in analysis.nodes.items()
        if key in far and not node.cheap and not node.on_grid
    ]
    levels = [
        (node, wanted.expanded(analysis.margins[node.key]).intersection(node.extent))
        for node in reversed(nodes)
    ]
    small = max((analysis.looked.get(key, 0) for key in far), default=0) <= DEEP_PX
    fits = _bytes_of(nodes, analysis, wanted) <= room // ROOM_FOR_MORE
    return [] if small and fits else levels


def _bytes_of(nodes: list, analysis: Analysis, wanted: Box) -> int:
    """Of what counts of nodes, about: four numbers a pixel."""
    total = 0
    for node in nodes:
        around = wanted.expanded(analysis.looked.get(node.key, 0))
        box = around.intersection(node.extent).intersection(analysis.used[node.key])
        total += 0 if box.empty else 16 * box.width * box.height
    return total


def cached_together(analysis: Analysis, wanted: Box) -> dict[str, Box]:
    """The same for pictures that are drawn in one program, where all that is read pixel by pixel is
    shared as it is: the nodes that look around themselves."""
    return {
        key: wanted.expanded(analysis.margins[key])
        for key, node in analysis.nodes.items()
        if any(margin for _, margin in node.sources)
    }


def _where_changes_begin(root: Any, seen: Recent) -> set[str]:
    known, visited, waiting = set(), set(), [root]
    while waiting:
        node = waiting.pop()
        if node.key in visited:
            continue
        visited.add(node.key)
        if node.key in seen:
            known.add(node.key)
        else:
            waiting += [source for source, _ in node.sources]
    return known
