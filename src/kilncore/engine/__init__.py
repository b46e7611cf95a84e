"""The engine: a document becomes a graph, and the graph pixels."""

from kilncore.engine.render import exact, render

__all__ = ["exact", "render"]
