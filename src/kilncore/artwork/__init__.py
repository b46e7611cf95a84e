"""Artwork: what a mark can be. A new art kind is a module and its line here."""

from kilncore.artwork import lettering  # noqa: F401  isort: skip
from kilncore.artwork import vector  # noqa: F401  isort: skip
from kilncore.artwork import picture  # noqa: F401  isort: skip
from kilncore.artwork import page  # noqa: F401  isort: skip
from kilncore.artwork import drawn  # noqa: F401  isort: skip
from kilncore.artwork import shape  # noqa: F401  isort: skip
from kilncore.artwork import light  # noqa: F401  isort: skip
from kilncore.artwork.base import ARTS, Art

__all__ = ["ARTS", "Art"]
