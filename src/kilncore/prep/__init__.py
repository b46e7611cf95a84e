"""Preparing pictures and textures: reversible operations on their own pixels. A new operation is a
module and its line here.
"""

from kilncore.prep import knock_out  # noqa: F401  isort: skip
from kilncore.prep import ink  # noqa: F401  isort: skip
from kilncore.prep import grey  # noqa: F401  isort: skip
from kilncore.prep import ramp  # noqa: F401  isort: skip
from kilncore.prep import two_tone  # noqa: F401  isort: skip
from kilncore.prep import threshold  # noqa: F401  isort: skip
from kilncore.prep import invert  # noqa: F401  isort: skip
from kilncore.prep import even_contrast  # noqa: F401  isort: skip
from kilncore.prep import specks  # noqa: F401  isort: skip
from kilncore.prep import grow  # noqa: F401  isort: skip
from kilncore.prep import blur  # noqa: F401  isort: skip
from kilncore.prep import sharpen  # noqa: F401  isort: skip
from kilncore.prep import relief  # noqa: F401  isort: skip
from kilncore.prep import pixelate  # noqa: F401  isort: skip
from kilncore.prep import noise  # noqa: F401  isort: skip
from kilncore.prep import crop  # noqa: F401  isort: skip
from kilncore.prep import straighten  # noqa: F401  isort: skip
from kilncore.prep import turn  # noqa: F401  isort: skip
from kilncore.prep import flip  # noqa: F401  isort: skip
from kilncore.prep import mirror  # noqa: F401  isort: skip
from kilncore.prep import flatten  # noqa: F401  isort: skip
from kilncore.prep import clean  # noqa: F401  isort: skip
from kilncore.prep import seamless  # noqa: F401  isort: skip
from kilncore.prep import endless  # noqa: F401  isort: skip
from kilncore.prep import cut_tones  # noqa: F401  isort: skip
from kilncore.prep.base import OPERATIONS, Operation

__all__ = ["OPERATIONS", "Operation"]
