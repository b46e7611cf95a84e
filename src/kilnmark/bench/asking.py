"""Reading what a script asks for."""

import json

from kilncore.errors import KilnError


def asked_json(request) -> dict:
    """The request's JSON object, or a KilnError."""
    try:
        asked = json.loads(request.body or b"{}")
    except ValueError as error:
        raise KilnError("What was sent cannot be read.", str(error)) from error
    if not isinstance(asked, dict):
        raise KilnError("What was sent cannot be read.", repr(asked)[:100])
    return asked


def number(value, least: float, most: float, name: str) -> float:
    """A finite number within bounds, or a KilnError that names it."""
    if isinstance(value, bool) or not isinstance(value, int | float) or not least <= value <= most:
        raise KilnError(f"The {name} must be from {least:g} to {most:g}.", repr(value)[:60])
    return value
