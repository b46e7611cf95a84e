"""What art of one colour is filled with instead: one of the fills that are offered for art."""

from typing import Annotated, Any

from pydantic import AfterValidator

from kilncore.fills import FILLS, Fill
from kilncore.fills.base import ART
from kilncore.model.registry import OneOf
from kilncore.model.setting import setting


def _offered(value: Any) -> Any:
    if ART not in FILLS[value.kind].fills:
        raise ValueError(f"{FILLS[value.kind].title} fills no art")
    return value


ArtFill = Annotated[Fill, OneOf(FILLS), AfterValidator(_offered)] | None


def art_fill(**more: Any) -> Any:
    """Its setting; None is the colour of the art."""
    return setting(None, "Fill", "", "fill", reload=True, **more)
