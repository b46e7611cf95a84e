"""The makers, in the order in which they are offered. A new one is a module and its line here."""

from kilncore.textures.makers import grain  # noqa: F401  isort: skip
from kilncore.textures.makers import clumped  # noqa: F401  isort: skip
from kilncore.textures.makers import spatter  # noqa: F401  isort: skip
from kilncore.textures.makers import dust  # noqa: F401  isort: skip
from kilncore.textures.makers import toner  # noqa: F401  isort: skip
from kilncore.textures.makers import blotches  # noqa: F401  isort: skip
from kilncore.textures.makers import grunge  # noqa: F401  isort: skip
from kilncore.textures.makers import scratches  # noqa: F401  isort: skip
from kilncore.textures.makers import crackle  # noqa: F401  isort: skip
from kilncore.textures.makers import flaking  # noqa: F401  isort: skip
from kilncore.textures.makers import chipped  # noqa: F401  isort: skip
from kilncore.textures.makers import rust  # noqa: F401  isort: skip
from kilncore.textures.makers import stain  # noqa: F401  isort: skip
from kilncore.textures.makers import creases  # noqa: F401  isort: skip
from kilncore.textures.makers import planks  # noqa: F401  isort: skip
from kilncore.textures.makers import plywood  # noqa: F401  isort: skip
from kilncore.textures.makers import concrete  # noqa: F401  isort: skip
from kilncore.textures.makers import plaster  # noqa: F401  isort: skip
from kilncore.textures.makers import brick  # noqa: F401  isort: skip
from kilncore.textures.makers import stone  # noqa: F401  isort: skip
from kilncore.textures.makers import asphalt  # noqa: F401  isort: skip
from kilncore.textures.makers import brushed  # noqa: F401  isort: skip
from kilncore.textures.makers import enamel  # noqa: F401  isort: skip
from kilncore.textures.makers import corrugated  # noqa: F401  isort: skip
from kilncore.textures.makers import leather  # noqa: F401  isort: skip
from kilncore.textures.makers import cork  # noqa: F401  isort: skip
from kilncore.textures.makers import paper  # noqa: F401  isort: skip
from kilncore.textures.makers import laid  # noqa: F401  isort: skip
from kilncore.textures.makers import card  # noqa: F401  isort: skip
from kilncore.textures.makers import weave  # noqa: F401  isort: skip
from kilncore.textures.makers import felt  # noqa: F401  isort: skip
from kilncore.textures.makers import drybrush  # noqa: F401  isort: skip
from kilncore.textures.makers import roller  # noqa: F401  isort: skip
from kilncore.textures.makers import stampink  # noqa: F401  isort: skip
from kilncore.textures.makers import squeegee  # noqa: F401  isort: skip
from kilncore.textures.makers import sponge  # noqa: F401  isort: skip
from kilncore.textures.makers import chalk  # noqa: F401  isort: skip
from kilncore.textures.makers import smudge  # noqa: F401  isort: skip
from kilncore.textures.makers import mist  # noqa: F401  isort: skip
from kilncore.textures.makers import foil  # noqa: F401  isort: skip
from kilncore.textures.makers import dotgrid  # noqa: F401  isort: skip
from kilncore.textures.makers import pixelgrid  # noqa: F401  isort: skip
from kilncore.textures.makers import lines  # noqa: F401  isort: skip
from kilncore.textures.makers import contours  # noqa: F401  isort: skip
from kilncore.textures.makers import fadedgrid  # noqa: F401  isort: skip
from kilncore.textures.makers import motifs  # noqa: F401  isort: skip
from kilncore.textures.makers.base import (
    GROUPS,
    MAKERS,
    MAPS,
    Maker,
    Maps,
    alike,
    drawings_in,
    make,
    maps,
)

__all__ = [
    "GROUPS",
    "MAKERS",
    "MAPS",
    "Maker",
    "Maps",
    "alike",
    "drawings_in",
    "finer",
    "make",
    "maps",
]
