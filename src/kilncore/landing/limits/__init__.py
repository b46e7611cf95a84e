"""What can hold a landing in or out. A new limit is a module and its line here."""

from kilncore.landing.limits import mark  # noqa: F401  isort: skip
from kilncore.landing.limits import colour  # noqa: F401  isort: skip
from kilncore.landing.limits import region  # noqa: F401  isort: skip
from kilncore.landing.limits.base import LIMITS, Limit

__all__ = ["LIMITS", "Limit"]
