"""From what is wanted to the settings that give it."""

from kilncore.solve.wear import wear_points

__all__ = ["wear_points"]
