"""Readings: measured facts about textures and pieces."""

from kilncore.measure.flat_colours import flat_colours

__all__ = ["flat_colours"]
