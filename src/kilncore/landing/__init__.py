"""How something lands: its model, and the list of what can hold it in or out."""

from kilncore.landing.limits import LIMITS
from kilncore.landing.model import BlendRange, Fade, Landing

__all__ = ["LIMITS", "BlendRange", "Fade", "Landing"]
