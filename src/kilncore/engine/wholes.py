"""Whole-item values, worked out before anything that needs them is drawn: once for each content
key.
"""

from collections.abc import Iterator
from contextlib import suppress
from functools import partial
from time import monotonic
from typing import Any

from kilncore.engine import cache_policy, pool
from kilncore.engine.reader import SHARED_CACHE, Reader
from kilncore.geometry.box import Box
from kilncore.graph.node import Node
from kilncore.graph.plane import WholeValue
from kilncore.system.cache import ByteCache

WORTH_KEEPING = 0.02  # s that a value took


def prepare(*roots: Node, reader: Reader, at_once: int = pool.THREADS) -> None:
    """Work out the whole-item values that the nodes of a graph need, what is read first before what
    reads it.

    They are held by the reader as long as its picture is drawn, whatever the cache's budget.
    """
    nodes = cache_policy.in_order(*roots, also=partial(_first, reader))
    for level in _levels(nodes, reader):
        pool.side_by_side(lambda value: _work_out(value, reader, at_once), level, at_once)


def value_of(value: WholeValue, assets: Any, cache: ByteCache = SHARED_CACHE):
    """One whole-item value by itself."""
    reader = Reader(assets, cache)
    prepare(*_read_for(value, reader), reader=reader)
    for needed in _needed_first(value):
        _work_out(needed, reader, pool.THREADS)
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


def _levels(nodes: list[Node], reader: Reader) -> list[list[WholeValue]]:
    """The values that nodes need and that are not known, each once, after all that it is worked out
    from: those of one level depend on none another.
    """
    below: dict[str, int] = {}  # how many levels a node stands on
    numbers: dict[str, int] = {}
    levels: list[list[WholeValue]] = []
    for node in nodes:
        under = [below.get(source.key, 0) for source, _ in node.sources]
        for value in (one for whole in node.wholes for one in _needed_first(whole)):
            if value.key in reader.values:
                continue
            if value.key not in numbers:
                read = [below.get(value.reads.key, 0)] if value.reads else []
                needed = [numbers.get(one.key, -1) + 1 for one in value.needs]
                numbers[value.key] = max(*read, *needed, 0, 0)
                levels += [[] for _ in range(numbers[value.key] + 1 - len(levels))]
                levels[numbers[value.key]].append(value)
            under.append(numbers[value.key] + 1)
        below[node.key] = max(under, default=0)
    return levels


def _needed_first(value: WholeValue) -> Iterator[WholeValue]:
    """What a value needs, and itself last."""
    for needed in value.needs:
        yield from _needed_first(needed)
    yield value


def _work_out(value: WholeValue, reader: Reader, at_once: int) -> None:
    """All that it needs, and all that it reads is made of, is there."""
    if value.key not in reader.values:
        known = reader.cache.get(value.key, partial(_remembered, value, reader, at_once))
        reader.values[value.key] = known


def _remembered(value: WholeValue, reader: Reader, at_once: int):
    """As it was measured once before, by whichever process; else measured now."""
    kept = getattr(reader.assets, "measured", None)
    found = kept.find(value.key) if kept else None
    if found is not None:
        with suppress(ValueError, KeyError, TypeError):
            return value.unpacked(found, reader)
    begun = monotonic()
    solved = _solved(value, reader, at_once)
    if kept and monotonic() - begun > WORTH_KEEPING and (arrays := value.packed(solved)):
        kept.put(value.key, arrays)
    return solved


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
