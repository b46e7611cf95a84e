"""Readings: measured facts about textures and pieces. Children that read files load them: nothing
here imports the compiler.
"""

from kilncore.measure.directions import direction
from kilncore.measure.edge_softness import softness
from kilncore.measure.flat_colours import flat_colours
from kilncore.measure.folds import folding
from kilncore.measure.grain_size import grain
from kilncore.measure.lighting import evenness
from kilncore.measure.seams import seam
from kilncore.measure.speck_size import coarseness
from kilncore.measure.stroke_widths import strokes

__all__ = [
    "coarseness",
    "direction",
    "evenness",
    "flat_colours",
    "folding",
    "grain",
    "seam",
    "softness",
    "strokes",
]
