"""Which nodes of a graph are worth keeping tiles of, and how far around the picture each is needed.

Drawing a step anew costs about as much as storing its tile, so a treatment runs through without storing anything but:

- what more than one node reads, or it would be drawn once for each;
- what is read from afar (a wide blur), or every tile would draw much of its neighbours;
- where a change begins: a node that an earlier picture had, read by one that it had not. While a control moves, that
  is the picture just before the step that it belongs to.
"""

import threading
from collections import OrderedDict
from dataclasses import dataclass, field

from kilncore.box import Box

FAR_PX = 64
ROUNDED_PX = 64  # so that a margin which grows a little still finds its tiles
REMEMBERED = 20_000


class Seen:
    """The keys of nodes that pictures had lately."""

    def __init__(self):
        self._keys: OrderedDict[str, None] = OrderedDict()
        self._lock = threading.Lock()

    def __contains__(self, key: str) -> bool:
        return key in self._keys

    def add(self, keys) -> None:
        with self._lock:
            for key in keys:
                self._keys[key] = None
                self._keys.move_to_end(key)
            while len(self._keys) > REMEMBERED:
                self._keys.popitem(last=False)


SEEN = Seen()


@dataclass
class Study:
    """One walk over a graph, from one root or several. nodes : by key, a node after all that read it. margins : px around the picture."""

    nodes: dict[str, object] = field(default_factory=dict)
    margins: dict[str, int] = field(default_factory=dict)
    readers: dict[str, int] = field(default_factory=dict)
    far: set[str] = field(default_factory=set)


def studied(*roots) -> Study:
    study = Study()
    order, visited = [], set()

    def visit(node):
        if node.key not in visited:
            visited.add(node.key)
            for source, _ in node.sources:
                visit(source)
            order.append(node)

    for root in roots:
        visit(root)
        study.margins[root.key] = 0
    for node in reversed(order):
        study.nodes[node.key] = node
        for source, margin in node.sources:
            study.readers[source.key] = study.readers.get(source.key, 0) + 1
            study.margins[source.key] = max(study.margins.get(source.key, 0), study.margins[node.key] + margin)
            if margin >= FAR_PX:
                study.far.add(source.key)
    return study


def kept(root, wanted: Box, seen: Seen | None = None) -> dict[str, Box]:
    """Key -> the box in which its tiles are needed, of every node worth keeping. `seen` is brought up to date."""
    study = studied(root)
    chosen = {key for key, count in study.readers.items() if count > 1} | study.far
    if seen is not None:
        chosen |= _where_changes_begin(root, seen)
        seen.add(study.nodes)
    return {key: wanted.grown(-(-study.margins[key] // ROUNDED_PX) * ROUNDED_PX)
            for key in chosen if not study.nodes[key].cheap}


def kept_between(roots, wanted: Box) -> dict[str, Box]:
    """The same for pictures that are drawn on one tape, where all that is read pixel by pixel is shared as it is: the
    nodes that look around themselves."""
    study = studied(*roots)
    return {key: wanted.grown(study.margins[key]) for key, node in study.nodes.items() if any(margin for _, margin in node.sources)}


def _where_changes_begin(root, seen: Seen) -> set[str]:
    found, visited, waiting = set(), set(), [root]
    while waiting:
        node = waiting.pop()
        if node.key in visited:
            continue
        visited.add(node.key)
        if node.key in seen:
            found.add(node.key)
        else:
            waiting += [source for source, _ in node.sources]
    return found
