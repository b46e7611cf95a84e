"""Kilnmark's core: the document of a piece and all that is computed from it.

It imports nothing of the web side and can be used on its own; docs/engine.md lists the functions
others may rely on.
"""
