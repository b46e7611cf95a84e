"""What a limit is, and how one is added.

A limit is one module: a frozen settings model with its `kind`, whose `plane(sources)` is the node
of where it lies: 1 inside, 0 outside. Register it with `@limit(...)` and name the module in
`limits/__init__.py`. The engine multiplies what lands by the plane, or by 1 less the plane: inside
and outside always add up to 1.
"""

from dataclasses import dataclass

from pydantic import Field

from kilncore.graph.plane import Plane
from kilncore.graph.sources import Sources
from kilncore.model.base import Id, Model, new_id
from kilncore.model.registry import Registry


class Limit(Model):
    """outside : it holds out instead of in. on : switched off, it does not count."""

    id: Id = Field(default_factory=new_id)
    kind: str
    on: bool = True
    outside: bool = False

    def plane(self, sources: Sources) -> Plane:
        """Where it lies."""
        raise NotImplementedError


@dataclass(frozen=True)
class LimitKind:
    """title : as it is chosen."""

    name: str
    title: str
    settings: type[Limit]


LIMITS = Registry("a limit")
limit = LIMITS.decorator(LimitKind, "settings")
