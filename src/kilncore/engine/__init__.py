"""The engine: a document becomes a graph, and the graph pixels."""

from kilncore import memory
from kilncore.engine.render import exact, pixels, render

memory.keep_freed()

__all__ = ["exact", "pixels", "render"]
