"""What a ground, or art of one colour, is filled with. A new fill is a module and its line here."""

from kilncore.fills import none  # noqa: F401  isort: skip
from kilncore.fills import colour  # noqa: F401  isort: skip
from kilncore.fills import gradient  # noqa: F401  isort: skip
from kilncore.fills import picture  # noqa: F401  isort: skip
from kilncore.fills import texture  # noqa: F401  isort: skip
from kilncore.fills import surface  # noqa: F401  isort: skip
from kilncore.fills.base import FILLS, Fill

__all__ = ["FILLS", "Fill"]
