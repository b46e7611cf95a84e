"""How bytes are packed. A new format is a module and its line here."""

from kilncore.output.formats import png  # noqa: F401  isort: skip
from kilncore.output.formats import png16  # noqa: F401  isort: skip
from kilncore.output.formats import jpeg  # noqa: F401  isort: skip
from kilncore.output.formats import webp  # noqa: F401  isort: skip
from kilncore.output.formats import tiff  # noqa: F401  isort: skip
from kilncore.output.formats.base import FORMATS, Format

__all__ = ["FORMATS", "Format"]
