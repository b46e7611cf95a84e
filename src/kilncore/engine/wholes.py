"""Whole-item values, worked out before anything that needs them is drawn: once for each content
key.
"""

from functools import partial

from kilncore.engine import cache_policy, pool
from kilncore.engine.reader import SHARED_CACHE, Reader
from kilncore.geometry.box import Box
from kilncore.graph.node import Node
from kilncore.graph.plane import WholeValue
from kilncore.system.cache import ByteCache


def prepare(*roots: Node, reader: Reader, at_once: int = pool.THREADS) -> None:
    """Work out the whole-item values that the nodes of a graph need, what is read first before what
    reads it.

    They are held by the reader as long as its picture is drawn, whatever the cache's budget.
    """
    for node in cache_policy.in_order(*roots, also=_first):
        for value in node.wholes:
            if value.key not in reader.values:
                found = reader.cache.get(value.key, partial(_solved, value, reader, at_once))
                reader.values[value.key] = found


def value_of(value: WholeValue, assets, cache: ByteCache = SHARED_CACHE):
    """One whole-item value by itself."""
    reader = Reader(assets, cache)
    prepare(_Asks(value), reader=reader)
    return reader.values[value.key]


def _first(node: Node) -> list[Node]:
    """What is read for a node's whole-item values."""
    return [value.reads for value in node.wholes]


def _solved(value: WholeValue, reader: Reader, at_once: int):
    analysis = cache_policy.analysed(value.reads)
    own = Reader(
        reader.assets,
        reader.cache,
        reader.cancelled,
        cache_policy.kept(value.reads, value.whole, analysis=analysis),
        analysis=analysis,
        values=reader.values,
    )
    own.hold(cache_policy.deep(analysis, value.whole), _Reads(value), at_once)
    parts, tiles = {}, value.tiles

    def work(tile: Box) -> None:
        own.ready(_Reads(value), tile)
        parts[tile] = value.part(own, tile)

    pool.each(work, tiles, at_once, own.ahead)
    return value.joined([parts[tile] for tile in tiles])


class _Asks(Node):
    """A node that needs one value."""

    def __init__(self, value: WholeValue):
        self.key, self.extent, self.wholes = f"{value.key} asked", value.whole, (value,)


class _Reads(Node):
    """What stands for a value in the graph: a node that reads all that the value does, pixel by
    pixel.
    """

    def __init__(self, value: WholeValue):
        self.key, self.extent, self.sources = f"{value.key} reads", value.whole, ((value.reads, 0),)
