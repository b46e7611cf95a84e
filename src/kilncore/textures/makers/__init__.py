"""The makers, in the order in which they are offered. A new one is a module and its line here."""

from kilncore.textures.makers import planks  # noqa: F401  isort: skip
from kilncore.textures.makers import concrete  # noqa: F401  isort: skip
from kilncore.textures.makers import paper  # noqa: F401  isort: skip
from kilncore.textures.makers import grunge  # noqa: F401  isort: skip
from kilncore.textures.makers import flaking  # noqa: F401  isort: skip
from kilncore.textures.makers import spatter  # noqa: F401  isort: skip
from kilncore.textures.makers import weave  # noqa: F401  isort: skip
from kilncore.textures.makers import crackle  # noqa: F401  isort: skip
from kilncore.textures.makers import brushed  # noqa: F401  isort: skip
from kilncore.textures.makers.base import MAKERS, Maker, make

__all__ = ["MAKERS", "Maker", "make"]
