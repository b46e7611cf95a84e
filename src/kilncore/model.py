"""The base of every part of a document: immutable, closed to unknown fields, finite numbers only."""

from pydantic import BaseModel, ConfigDict


class Model(BaseModel):
    model_config = ConfigDict(frozen=True, extra="forbid", allow_inf_nan=False)
