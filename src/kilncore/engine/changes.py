"""Where two pictures differ: what one change of a piece leaves alone need not be drawn again."""

from typing import Any

from kilncore.engine.nodes import Landed, landing_key
from kilncore.engine.reader import TILE
from kilncore.geometry.box import NOWHERE, Box, tiles_over
from kilncore.graph.node import Node
from kilncore.pixels.pixel_format import PixelFormats

FARTHEST = 100_000  # px across: of what is larger all may differ
Pair = tuple[Any, Any]  # nodes of two pictures that have the same place in them


def changed_box(before: Node, after: Node, formats: PixelFormats) -> Box:
    """The box of output px beyond which the pixels of two nodes are the same to the bit.

    Both are gone through side by side. Nodes that differ in nothing but what they read differ where
    that does; of others all that either fills may differ. However long a stack is, nothing goes
    deep.
    """
    boxes: dict[tuple, Box] = {}
    waiting = [(before, after)]
    while waiting:
        pair = waiting[-1]
        if _name(pair) in boxes:
            waiting.pop()
            continue
        read, whole = _compared(pair, formats)
        missing = [one for one, _ in read if _name(one) not in boxes]
        if missing:
            waiting += missing
            continue
        waiting.pop()
        boxes[_name(pair)] = _joined(pair, whole, [(boxes[_name(one)], by) for one, by in read])
    return boxes[_name((before, after))]


def _name(pair: Pair) -> tuple:
    return pair[0].key, pair[1].key


def _compared(pair: Pair, formats: PixelFormats) -> tuple[list[tuple[Pair, int]], Box]:
    """(pairs that are read, each as far around as it counts; what differs whatever they do)."""
    before, after = pair
    if before.key == after.key:
        return [], NOWHERE
    everything = before.extent.union(after.extent)
    if formats.of(before) != formats.of(after):
        return [], everything
    if isinstance(before, Landed) or isinstance(after, Landed):
        return _stacks(before, after)
    if not _alike(before, after):
        return [], everything
    return _side_by_side(before.sources, after.sources), NOWHERE


def _alike(before: Any, after: Any) -> bool:
    """Whether nodes differ in nothing but the pictures and planes that they read."""
    return (
        type(before) is type(after)
        and before.settings is not None
        and before.settings == after.settings
        and len(before.sources) == len(after.sources)
        and [one.key for one in before.wholes] == [one.key for one in after.wholes]
    )


def _side_by_side(before: tuple, after: tuple) -> list[tuple[Pair, int]]:
    return [
        ((one, other), max(near, far))
        for (one, near), (other, far) in zip(before, after, strict=True)
    ]


def _stacks(before: Node, after: Node) -> tuple[list[tuple[Pair, int]], Box]:
    """What is landed on either side, from the bottom up; items that only one of them has differ
    where they are.
    """
    (ground, old), (floor, new) = _unstacked(before), _unstacked(after)
    old, new = _without_same_ends(old, new)
    read, whole = [((ground, floor), 0)], NOWHERE
    for one, other in zip(old, new, strict=False):
        if _alike(one, other):
            read += _side_by_side(one.sources[1:], other.sources[1:])
        elif _landed_key(one) != _landed_key(other):
            whole = whole.union(one.item.extent).union(other.item.extent)
    for one in old[len(new) :] + new[len(old) :]:
        whole = whole.union(one.item.extent)
    return read, whole


def _unstacked(node: Any) -> tuple[Node, list[Landed]]:
    landed = []
    while isinstance(node, Landed):
        landed.append(node)
        node = node.canvas
    return node, landed[::-1]


def _without_same_ends(old: list, new: list) -> tuple[list, list]:
    keys = [[_landed_key(one) for one in some] for some in (old, new)]
    first, most = 0, min(len(old), len(new))
    while first < most and keys[0][first] == keys[1][first]:
        first += 1
    last = 0
    while last < most - first and keys[0][-1 - last] == keys[1][-1 - last]:
        last += 1
    return old[first : len(old) - last], new[first : len(new) - last]


def _landed_key(node: Landed) -> tuple:
    return node.item.key, landing_key(node)


def _joined(pair: Pair, whole: Box, read: list[tuple[Box, int]]) -> Box:
    """What differs of a pair: where what is read does, of a node on the fixed grid in whole tiles
    of it.
    """
    by_reading = NOWHERE
    for box, around in read:
        by_reading = by_reading.union(box if box.empty else box.expanded(around))
    either = pair[0].extent.union(pair[1].extent)
    by_reading = by_reading.intersection(either)
    if pair[0].on_grid and not by_reading.empty:
        far = max(by_reading.width, by_reading.height) > FARTHEST
        for tile in () if far else tiles_over(by_reading, TILE):
            by_reading = by_reading.union(tile)
        by_reading = either if far else by_reading
    return whole.union(by_reading).intersection(either)
