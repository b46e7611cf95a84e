"""The engine: a document becomes a graph, and the graph pixels."""

from kilncore.compiled import allocator
from kilncore.engine.render import exact, pixels, render, together

allocator.retain_freed()

__all__ = ["exact", "pixels", "render", "together"]
