"""The base of every part of a document: immutable, closed to unknown fields, finite numbers only."""

from typing import Annotated

from pydantic import BaseModel, ConfigDict, StringConstraints

Hash = Annotated[str, StringConstraints(pattern=r"^[0-9a-f]{64}$")]
Id = Annotated[str, StringConstraints(pattern=r"^[a-z0-9-]{1,40}$")]


class Model(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)
