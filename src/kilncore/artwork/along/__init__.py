"""What words can stand on but a straight line. A new one is a module and its line here."""

from kilncore.artwork.along import arc  # noqa: F401  isort: skip
from kilncore.artwork.along import circle  # noqa: F401  isort: skip
from kilncore.artwork.along import wave  # noqa: F401  isort: skip
from kilncore.artwork.along import curve  # noqa: F401  isort: skip
from kilncore.artwork.along.base import ALONG, Along

__all__ = ["ALONG", "Along"]
