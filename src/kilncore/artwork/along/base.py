"""What words stand on, and how one is added.

It is one module: a frozen settings model with its `kind`, whose `bend(laid, ems)` says how words
that are set straight are laid along it. Register it with `@along(...)` and name the module in
`along/__init__.py`. Its form is drawn from its settings.
"""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Literal

from kilncore.model.base import Model
from kilncore.model.registry import Registry
from kilncore.model.setting import setting
from kilncore.model.units import Length
from kilncore.typesetting.bending import HELD, Bend
from kilncore.typesetting.laid_out import LaidOut

HOWS = (("held", "As joined"), ("letters", "Each turned"), ("outlines", "All bent"))
How = Literal["held", "letters", "outlines"]


def how_setting() -> How:
    """The setting that all of them have."""
    return setting(HELD, "Letters", "", "choice", choices=HOWS, fold=True)


class Along(Model):
    """The settings of what words stand on."""

    kind: str

    def bend(self, laid: LaidOut, ems: Callable[[Length], float]) -> Bend:
        """How words are laid along it. ems : a length in ems."""
        raise NotImplementedError


@dataclass(frozen=True)
class AlongKind:
    """title : as it is chosen."""

    name: str
    title: str
    settings: type[Along]


ALONG = Registry("what words stand on")
along = ALONG.decorator(AlongKind, "settings")
