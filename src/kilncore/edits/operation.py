"""The list of edits, and the types of what they are given."""

import inspect
from collections.abc import Callable
from typing import Annotated

from pydantic import Field, StringConstraints, validate_call

from kilncore.document import MAX_ITEMS

Key = Annotated[str, StringConstraints(max_length=60)]
Path = Annotated[list[Key], Field(min_length=1, max_length=24)]
Place = Annotated[int, Field(ge=-1000, le=1000)]
Keys = Annotated[list[Key], Field(max_length=MAX_ITEMS)]
FIXED = {"format", "id", "kind", "seed"}
OPERATIONS: dict[str, Callable] = {}
WITH_ASSETS: set[str] = set()  # those that read or keep files
UNFIT = (
    TypeError,
    KeyError,
    ValueError,
    IndexError,
    AttributeError,
    OverflowError,
    RecursionError,
)  # what an edit that does not fit raises


def operation(function: Callable | str) -> Callable:
    """Register a kind of edit, under its name or another. What it is given is checked against its
    signature: no other types get in."""
    if isinstance(function, str):
        return lambda named: _register(function, named)
    return _register(function.__name__, function)


def _register(name: str, function: Callable) -> Callable:
    if "assets" in inspect.signature(function).parameters:
        WITH_ASSETS.add(name)
    OPERATIONS[name] = validate_call(config={"strict": True})(function)
    return function
