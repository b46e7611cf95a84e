"""Preparing pictures: reversible operations on their own pixels. A new operation is a module and
its line here.
"""

from kilncore.prep import knock_out  # noqa: F401  isort: skip
from kilncore.prep import ink  # noqa: F401  isort: skip
from kilncore.prep import crop  # noqa: F401  isort: skip
from kilncore.prep import turn  # noqa: F401  isort: skip
from kilncore.prep import flip  # noqa: F401  isort: skip
from kilncore.prep.base import OPERATIONS, Operation

__all__ = ["OPERATIONS", "Operation"]
