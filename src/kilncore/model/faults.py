"""What a model refuses, in words that can be shown: which rule, by the title of the setting, and
never a sentence of the validator's.
"""

from typing import Any

from pydantic import ValidationError
from pydantic.fields import FieldInfo

from kilncore.model.base import KNOWN
from kilncore.model.units import format_number

LOW = {"greater_than_equal": "ge", "greater_than": "gt"}
HIGH = {"less_than_equal": "le", "less_than": "lt"}
SHAPES = {
    "finite_number": "must be a number",
    "float_type": "must be a number",
    "float_parsing": "must be a number",
    "int_type": "must be a whole number",
    "int_parsing": "must be a whole number",
    "int_from_float": "must be a whole number",
    "bool_type": "must be on or off",
    "bool_parsing": "must be on or off",
    "string_type": "must be words",
    "string_pattern_mismatch": "is not written as it must be",
    "literal_error": "cannot be that",
    "missing": "is missing",
    "extra_forbidden": "is not known here",
}


def fault_words(error: ValidationError) -> str:
    """The first rule that was broken, as the rest of a sentence."""
    fault = error.errors()[0]
    kind, bounds = fault["type"], fault.get("ctx", {})
    name = next((one for one in reversed(fault["loc"]) if isinstance(one, str)), "")
    known = _only(name)
    called = _called(name, known)
    if kind == "value_error":
        rule = fault["msg"].removeprefix("Value error, ")
        return f"{rule[:1].lower()}{rule[1:]}"
    if kind in LOW or kind in HIGH:
        bound = _shown(bounds[(LOW | HIGH)[kind]], known)
        return f"{called} must be {bound} at {'least' if kind in LOW else 'most'}"
    if kind in ("too_long", "string_too_long"):
        of = " characters" if kind == "string_too_long" else ""
        return f"{called} can be {bounds['max_length']}{of} at most"
    if kind in ("too_short", "string_too_short"):
        return f"{called} must not be empty"
    return f"{called} {SHAPES.get(kind, 'cannot be set so')}"


def _only(name: str) -> FieldInfo | None:
    """The setting of that name, if all that have it are called alike."""
    settings = list(KNOWN.get(name, {}).values())
    return settings[0] if len(settings) == 1 else None


def _called(name: str, known: FieldInfo | None) -> str:
    title = known.title if known is not None else name.replace("_", " ")
    return f"“{title[:60]}”" if title else "it"


def _shown(bound: float, known: FieldInfo | None) -> str:
    """A bound as the setting's control shows it."""
    extra: Any = (known.json_schema_extra if known is not None else None) or {}
    return f"{format_number(bound * (extra.get('factor') or 1))} {extra.get('unit', '')}".strip()
