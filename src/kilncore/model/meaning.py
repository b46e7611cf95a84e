"""What of a model counts for a picture: written with this context, a model leaves out ids, lineage
and what is switched off.
"""

from typing import Any

MEANING = {"meaning": True}


def is_meaning(context: Any) -> bool:
    """Whether a model is written for a content key."""
    return context is MEANING
