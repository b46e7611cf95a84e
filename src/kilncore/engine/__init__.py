"""The engine: a document becomes a graph, and the graph pixels."""

from kilncore import memory
from kilncore.engine.render import exact, pixels, render, together

memory.keep_freed()

__all__ = ["exact", "pixels", "render", "together"]
