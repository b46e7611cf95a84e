"""What a script asks for passes one strict model at the door: types, bounds and finite numbers, or
a refusal in words.
"""

from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, StringConstraints, ValidationError
from pydantic_core import from_json

from kilncore.edits import MAX_EDITS
from kilncore.errors import KilnError
from kilncore.model.faults import fault_words

Token = Annotated[str, StringConstraints(pattern=r"^[0-9a-z-]{8,60}$")]
Version = Annotated[int, Field(ge=0, le=2**53)]
Near = Annotated[float, Field(ge=-1e6, le=1e6)]
Edits = Annotated[list[dict], Field(max_length=MAX_EDITS)]
MOST_LIFTED = 12  # marks or groups: each is drawn by itself
PartId = Annotated[str, StringConstraints(max_length=60)]


class Asked(BaseModel):
    model_config = ConfigDict(strict=True, extra="forbid", allow_inf_nan=False, frozen=True)


class Step(Asked):
    """version : of the piece that it was asked of. token : by which a change that is sent twice is
    known.
    """

    version: Version
    token: Token | None = None


class Change(Step):
    """visit : of a hand that goes on, as while words are typed: all of it is one state."""

    visit: Token | None = None
    edits: Edits = []
    label: Annotated[str, StringConstraints(max_length=200)] = "Changed"


class Words(Step):
    text: Annotated[str, StringConstraints(max_length=2000)] = ""


class ReplaceEverywhere(Step):
    """mark : whose art is replaced wherever it is shown. art : what by."""

    mark: PartId
    art: dict
    fit: Literal["box", "height", "width", "area"] = "box"


class BringIn(Step):
    """place : what files become. x, y : where a single one was dropped, document px."""

    place: Literal["marks", "ground"] = "marks"
    x: Near | None = None
    y: Near | None = None

    def label(self, count: int) -> str:
        """What the change is called when so many came in."""
        if self.place == "ground":
            return "Ground"
        return "Mark brought in" if count == 1 else f"{count} marks brought in"

    @property
    def at(self) -> tuple[float, float] | None:
        return None if self.x is None or self.y is None else (self.x, self.y)


class Region(Asked):
    x: Near
    y: Near
    width: Near
    height: Near
    scale: float = Field(ge=0.005, le=16)


class Where(Asked):
    part: PartId
    number: Annotated[int, Field(ge=0, le=10_000)]


class Stage(Asked):
    version: Version
    view: Region
    edits: Edits = []
    bench: Annotated[str, StringConstraints(max_length=40)] = ""
    sequence: Annotated[int, Field(ge=0, le=2**53)] = 0
    quality: Literal["draft", "exact"] = "draft"
    point: Where | None = None
    see: PartId | None = None
    without: PartId | None = None  # a step's id, or 'treatments' for all of them


class Lifted(Asked):
    """marks : as a cut-out of their own."""

    version: Version
    view: Region
    marks: Annotated[list[PartId], Field(min_length=1, max_length=MOST_LIFTED)]
    bench: Annotated[str, StringConstraints(max_length=40)] = ""
    sequence: Annotated[int, Field(ge=0, le=2**53)] = 0


class HeldBack(Asked):
    """part, step : whose landing; no step, how a mark lands."""

    version: Version
    view: Region
    part: PartId
    step: PartId | None = None
    of: Literal["landing", "torn"] = "landing"
    look: Literal["hatched", "grey"] = "hatched"
    edits: Edits = []
    bench: Annotated[str, StringConstraints(max_length=40)] = ""
    sequence: Annotated[int, Field(ge=0, le=2**53)] = 0


class Seen(Asked):
    """A picture of one of a piece's states. without : a step that is off, or 'treatments'."""

    view: Region
    quality: Literal["draft", "exact"] = "exact"
    without: PartId | None = None
    bench: Annotated[str, StringConstraints(max_length=40)] = ""
    sequence: Annotated[int, Field(ge=0, le=2**53)] = 0


class Moment(Asked):
    """One of a piece's states, with a step off, or with all 'treatments'."""

    state: Annotated[int, Field(ge=0, le=2**53)]
    without: PartId | None = None


class Apart(Asked):
    """What changed from one version to another."""

    view: Region
    before: Moment
    after: Moment
    bench: Annotated[str, StringConstraints(max_length=40)] = ""
    sequence: Annotated[int, Field(ge=0, le=2**53)] = 0


class Pinned(Asked):
    version: Version
    name: Annotated[str, StringConstraints(max_length=60)] = ""


class Kept(Asked):
    """A treatment to be kept as a recipe."""

    version: Version
    part: PartId
    name: Annotated[str, StringConstraints(max_length=60)] = ""
    note: Annotated[str, StringConstraints(max_length=300)] = ""
    group: Annotated[str, StringConstraints(max_length=12)] = "worn"


class Tried(Asked):
    version: Version
    part: PartId
    edits: Edits = []


class KeptStrokes(Asked):
    """Strokes to be kept by a name. path : of the landing or the step's settings."""

    path: Annotated[list[PartId], Field(min_length=1, max_length=24)]
    name: Annotated[str, StringConstraints(max_length=40)] = ""


class Fire(Asked):
    """version : that is on screen; another one is not fired in its place."""

    version: Version | None = None
    with_ground: bool = True
    file_format: Annotated[str, StringConstraints(max_length=20)] = "png"
    content: Annotated[str, StringConstraints(max_length=20)] = "piece"


def asked(request, model: type[Asked]):
    """What was asked, as the model; KilnError for anything else."""
    try:
        return checked(model, from_json(request.body or b"{}", allow_inf_nan=False))
    except (ValueError, RecursionError) as error:
        raise KilnError("What was sent cannot be read.", str(error)[:200]) from None


def checked(model: type[Asked], found):
    """What was found in a request, as the model."""
    try:
        return model.model_validate(found)
    except ValidationError as error:
        fault = error.errors()[0]
        raise KilnError(
            f"What was sent cannot be used: {fault_words(error)}.",
            repr(fault.get("input"))[:200],
        ) from None


def listed(text: str) -> list:
    """A list that an address carries as JSON; KilnError for anything else."""
    try:
        found = from_json(text, allow_inf_nan=False)
    except (ValueError, RecursionError):
        found = None
    if not isinstance(found, list):
        raise KilnError("What was sent cannot be read.", text[:200])
    return found
