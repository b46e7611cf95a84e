"""Whole-item values, worked out before anything that needs them is drawn: once for each content
key.
"""

from collections.abc import Iterable
from functools import partial
from typing import Any

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
    nodes = cache_policy.in_order(*roots, also=partial(_first, reader))
    _work_out((value for node in nodes for value in node.wholes), reader, at_once)


def value_of(value: WholeValue, assets: Any, cache: ByteCache = SHARED_CACHE):
    """One whole-item value by itself."""
    reader = Reader(assets, cache)
    prepare(*_read_for(value, reader), reader=reader)
    _work_out((value,), reader, pool.THREADS)
    return reader.values[value.key]


def _first(reader: Reader, node: Node) -> list[Node]:
    """What is read for a node's whole-item values, of those that are not known."""
    return [read for value in node.wholes for read in _read_for(value, reader)]


def _read_for(value: WholeValue, reader: Reader) -> list[Node]:
    """What a value reads, and what those read that it needs; nothing for one that is known. That is
    held from here on, so that it stays known.
    """
    if value.key not in reader.values and value.key in reader.cache:
        known = reader.cache.find(value.key)
        if known is not None:
            reader.values[value.key] = known
    if value.key in reader.values:
        return []
    read = [] if value.reads is None else [value.reads]
    return read + [one for needed in value.needs for one in _read_for(needed, reader)]


def _work_out(values: Iterable[WholeValue], reader: Reader, at_once: int) -> None:
    """Each after those it needs. All that they read is there."""
    for value in values:
        if value.key not in reader.values:
            _work_out(value.needs, reader, at_once)
            known = reader.cache.get(value.key, partial(_solved, value, reader, at_once))
            reader.values[value.key] = known


def _solved(value: WholeValue, reader: Reader, at_once: int):
    own = _reader_for(value, reader, at_once)
    reads, parts, tiles = ((value.reads, 0),) if value.reads else (), {}, value.tiles

    def work(tile: Box) -> None:
        own.ready_sources(reads, tile)
        parts[tile] = value.part(own, tile)

    pool.each(work, tiles, at_once, own.ahead)
    return value.joined([parts[tile] for tile in tiles], reader)


def _reader_for(value: WholeValue, reader: Reader, at_once: int) -> Reader:
    """A reader of what a value reads, over its whole."""
    shared = reader.assets, reader.cache, reader.cancelled
    if value.reads is None:
        return Reader(*shared, values=reader.values)
    analysis = cache_policy.analysed(value.reads)
    kept = cache_policy.kept(value.reads, value.whole, analysis=analysis)
    own = Reader(*shared, kept, analysis=analysis, values=reader.values)
    levels = cache_policy.deep(analysis, value.whole, reader.cache.budget)
    own.hold(levels, ((value.reads, 0),), at_once)
    return own
