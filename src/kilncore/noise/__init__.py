"""Noise that is a function of place and seed alone. `turbulence` is the standard's, for callers."""

from kilncore.noise.perlin import turbulence

__all__ = ["turbulence"]
