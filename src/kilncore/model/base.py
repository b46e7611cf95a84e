"""The base of every part of a document: immutable, closed to unknown fields, finite
numbers only.
"""

import secrets
from typing import Annotated, Any

from pydantic import BaseModel, ConfigDict, StringConstraints
from pydantic.fields import FieldInfo
from pydantic_core import core_schema

KNOWN: dict[str, dict[str, FieldInfo]] = {}  # settings of all models, by their names and titles
ID = r"^[a-z0-9-]{1,40}$"
Id = Annotated[str, StringConstraints(pattern=ID)]


def new_id() -> str:
    """An id for a mark, a step or an operation."""
    return secrets.token_hex(4)


class MarkId(str):
    """The id of a mark that another part of the piece refers to."""

    @classmethod
    def __get_pydantic_core_schema__(cls, source: Any, handler: Any) -> core_schema.CoreSchema:
        return core_schema.no_info_after_validator_function(cls, core_schema.str_schema(pattern=ID))


class Model(BaseModel):
    """A part of a document."""

    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)

    @classmethod
    def __pydantic_init_subclass__(cls, **more: Any):
        for name, field in cls.model_fields.items():
            if field.title:
                KNOWN.setdefault(name, {}).setdefault(field.title, field)
