"""The steps, in the order in which they are offered. A new one is a module and its line here."""

from kilncore.steps import wear  # noqa: F401  isort: skip
from kilncore.steps import coat  # noqa: F401  isort: skip
from kilncore.steps import dabs  # noqa: F401  isort: skip
from kilncore.steps import follow  # noqa: F401  isort: skip
from kilncore.steps import tones  # noqa: F401  isort: skip
from kilncore.steps import soften  # noqa: F401  isort: skip
from kilncore.steps import grain  # noqa: F401  isort: skip
from kilncore.steps import surface_through  # noqa: F401  isort: skip
from kilncore.steps.base import STEPS, StepKind

__all__ = ["STEPS", "StepKind"]
