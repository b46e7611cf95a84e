"""What scripts of a prep page may ask for."""

from typing import Annotated, Literal

from pydantic import Field, StringConstraints

from kilnmark.door import Asked, Edits
from kilnmark.preps.pictures import MOST_SIDE, Look

Side = Annotated[int, Field(ge=16, le=MOST_SIDE)]
Share = Annotated[float, Field(ge=0, le=1)]


class _Shown(Asked):
    edits: Edits = []
    quality: Literal["draft", "exact"] = "draft"
    width: Side = 600
    height: Side = 400


class Picture(_Shown):
    """stage : after how many operations; None after all."""

    stage: Annotated[int, Field(ge=0, le=40)] | None = None
    way: Literal["fit", "true", "tiled"] = "fit"
    x: Share = 0.5
    y: Share = 0.5

    @property
    def look(self) -> Look:
        return Look(self.way, self.width, self.height, self.x, self.y)


class Trial(_Shown):
    """kind : worn or coated by it, or here, where it is on a piece. mm : the size of the words."""

    kind: Literal["wear", "coat", "here"] = "wear"
    words: Annotated[str, StringConstraints(max_length=60)] = ""
    mm: Annotated[float, Field(ge=2, le=200)] = 18
    artwork: Annotated[str, StringConstraints(pattern=r"^([0-9a-f]{64})?$")] = ""
