"""Walking JSON trees."""

from collections.abc import Callable
from typing import Any


def walked(node: Any, change: Callable[[dict], dict]) -> Any:
    """A JSON tree with change(dict) made of every object in it, from the innermost out."""
    if isinstance(node, list):
        return [walked(child, change) for child in node]
    if not isinstance(node, dict):
        return node
    return change({key: walked(value, change) for key, value in node.items()})
