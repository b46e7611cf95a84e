"""The document of a piece: one validated, immutable tree, written as JSON. docs/engine.md says what
it means.

An upgrade from an older format is one module in `kilncore/upgrades/`; a document newer than FORMAT
is refused.
"""

import secrets
from collections.abc import Iterator
from typing import Annotated, Any, Literal

from pydantic import (
    Field,
    SerializeAsAny,
    StringConstraints,
    ValidationError,
    ValidationInfo,
    model_validator,
)
from pydantic_core import from_json

from kilncore.artwork import ARTS, Art
from kilncore.errors import KilnError
from kilncore.fills import FILLS, Fill
from kilncore.fills.none import NoFill
from kilncore.graph.protocols import Assets
from kilncore.landing import Landing
from kilncore.model.base import Id, Model, new_id
from kilncore.model.faults import fault_words
from kilncore.model.files import FileHash, files_in
from kilncore.model.perspective import Perspective
from kilncore.model.registry import OneOf
from kilncore.model.setting import setting
from kilncore.model.surface_scale import SurfaceScale
from kilncore.model.units import Length
from kilncore.steps import STEPS
from kilncore.upgrades import UPGRADES

FORMAT = 8
MAX_SIDE_PX = 20_000
MAX_PIXELS = 200_000_000
MAX_ITEMS, MAX_STEPS = 200, 1000  # of a piece as a whole, beyond which no edit takes it
MAX_DEPTH = 6  # of groups in groups
SAME_PARTS = object()
MAX_BYTES = 2_000_000  # of a document as it is stored


def new_seed() -> int:
    """A seed, 31 bits."""
    return secrets.randbits(31)


class Step(Model):
    """One step of a treatment. kind : one of STEPS, whose settings `params` are. shared : a name
    that steps of several parts have in common, whose settings and seed are changed together; '' of
    one by itself.
    """

    id: Id = Field(default_factory=new_id)
    kind: str
    on: bool = True
    params: SerializeAsAny[Model]
    seed: int = Field(default_factory=new_seed, ge=0, lt=2**31)
    landing: Landing = Landing()
    shared: Annotated[str, StringConstraints(pattern=r"^[0-9a-z-]{0,40}$")] = ""

    @model_validator(mode="before")
    @classmethod
    def _params_of_kind(cls, data: Any):
        if not isinstance(data, dict):
            return data
        # a number that steps were once given, and that nothing was ever read from
        told = {name: value for name, value in data.items() if name != "rev"}
        return {**told, "params": STEPS.settings(data.get("kind"), data.get("params", {}))}

    @model_validator(mode="after")
    def _strength_allowed(self):
        if STEPS[self.kind].results(self.params) == ("cover",) and self.landing.strength > 1:
            raise ValueError("the strength of a step that takes away must be 0 to 1")
        return self


class Placement(Model):
    """x, y : the middle of the mark on the piece. scale : of its own size. rotation_deg :
    clockwise. perspective : in which it is set, in px of its own size.
    """

    x: Length = setting(..., "Across", "", "number_length")
    y: Length = setting(..., "Down", "", "number_length")
    scale: float = setting(
        1.0, "Scale", "", "number", unit="%", factor=100, soft=(1, 10000), ge=0.01, le=100
    )
    rotation_deg: float = setting(
        0.0, "Turn", "", "number", unit="°", soft=(-360, 360), ge=-360, le=360
    )
    perspective: Perspective | None = None


class FrameShift(Model):
    """Where a mark's frame lies from where its art would have it, in the art's own units; unit :
    how large its unit is.

    It moves when words change, so that the letters that stay keep their wear.
    """

    x: float = Field(0.0, ge=-1e5, le=1e5)
    y: float = Field(0.0, ge=-1e5, le=1e5)
    unit: float = Field(1.0, ge=1e-3, le=1e4)


class PageFrame(Model):
    """Where the frame of the ground and of the whole piece lies, from the page's middle, in px;
    unit : how large its unit is, in heights of the page; quarters : how often it is turned.

    It moves when the page is cropped, enlarged or turned, so that what lies on it keeps its place.
    """

    x: float = Field(0.0, ge=-1e6, le=1e6)
    y: float = Field(0.0, ge=-1e6, le=1e6)
    unit: float = Field(1.0, gt=0, le=1e6)
    quarters: Annotated[int, Field(ge=0, le=3)] = 0


Treatment = Annotated[tuple[Step, ...], Field(max_length=60)]


class _Item(Model):
    """What a mark and a group share. left_out : not fired, and still there for others to be held
    by. locked : not moved by hand on the piece.
    """

    id: Id = Field(default_factory=new_id)
    name: str = setting("", "Name", "", "line", max_length=80)
    left_out: bool = False
    locked: bool = False


class Mark(_Item):
    """Art with its place and its treatment. art : the settings of one of ARTS."""

    kind: Literal["mark"] = "mark"
    art: Annotated[Art, OneOf(ARTS)]
    placement: Placement
    frame: FrameShift = FrameShift()
    seed: int = Field(default_factory=new_seed, ge=0, lt=2**31)
    treatment: Treatment = ()
    landing: Landing = Landing()


class Group(_Item):
    """Marks and groups treated as one. Its members' places are counted from its middle, in its own
    scale and turn. frame : stays where it lay when marks are put in or taken out.
    """

    kind: Literal["group"] = "group"
    placement: Placement
    frame: FrameShift = FrameShift()
    seed: int = Field(default_factory=new_seed, ge=0, lt=2**31)
    members: Annotated[tuple["Item", ...], Field(min_length=1, max_length=MAX_ITEMS)]
    treatment: Treatment = ()
    landing: Landing = Landing()


class Ground(Model):
    """What lies at the bottom. fill : the settings of one of FILLS."""

    fill: Annotated[Fill, OneOf(FILLS)] = NoFill()
    treatment: Treatment = ()


Side = Annotated[int, Field(ge=16, le=MAX_SIDE_PX)]


Item = Annotated[Mark | Group, Field(discriminator="kind")]
BACKDROPS = ("hatching", "paper", "grey", "black")
Backdrop = Annotated[str, StringConstraints(pattern=rf"^({'|'.join(BACKDROPS)}|#[0-9a-f]{{6}})$")]


class Piece(Model):
    """light : what mixing works in: encoded values, as CSS does, or linear light. backdrop : what
    the piece is judged on where it has no ground; it is not fired. surface : how large what the
    piece shows is in the world, if that was measured.
    """

    format: Literal[8] = 8
    title: str = setting("Untitled", "Title", "", "line", min_length=1, max_length=120)
    size_px: tuple[Side, Side]
    ppi: float = Field(300, ge=10, le=2400)
    light: Literal["encoded", "linear"] = "encoded"
    ground: Ground = Ground()
    backdrop: Backdrop = "hatching"
    frame: PageFrame = PageFrame()
    surface: SurfaceScale | None = None
    stack: Annotated[tuple[Item, ...], Field(max_length=MAX_ITEMS)] = ()
    treatment: Treatment = ()

    @model_validator(mode="after")
    def _sound(self, info: ValidationInfo):
        if self.size_px[0] * self.size_px[1] > MAX_PIXELS:
            raise ValueError(f"a piece may have {MAX_PIXELS // 10**6} million px at most")
        if _depth(self.stack) > MAX_DEPTH:
            raise ValueError(f"groups may lie in one another {MAX_DEPTH} deep at most")
        if info.context is not SAME_PARTS:
            self._fits_together()
        return self

    def _fits_together(self) -> None:
        ids = [item.id for item in self.items()] + [step.id for _, step in self.steps()]
        if len(ids) != len(set(ids)) or {"ground", "piece"} & set(ids):
            raise ValueError("every mark and step needs an id of its own")
        for part, step in self.steps():
            if sort_of(part) not in STEPS[step.kind].offered_for:
                raise ValueError(f"{STEPS[step.kind].title} cannot treat the {sort_of(part)}")
        items = {item.id for item in self.items()}
        if any(landing.marks() - items for landing in self.landings()):
            raise ValueError("what holds a step in or out must be a mark or group on this piece")

    def items(self) -> Iterator[Mark | Group]:
        """Marks and groups, bottom up, a group before its members."""
        return _all_of(self.stack)

    def marks(self) -> Iterator[Mark]:
        """All marks, members of groups too, bottom up."""
        return (item for item in self.items() if isinstance(item, Mark))

    def groups(self) -> Iterator[Group]:
        """All groups, those within groups too, bottom up."""
        return (item for item in self.items() if isinstance(item, Group))

    def landings(self) -> Iterator[Landing]:
        """Those of all items and of all steps."""
        yield from (item.landing for item in self.items())
        yield from (step.landing for _, step in self.steps())

    def steps(self) -> Iterator[tuple[str, Step]]:
        """Every step with the part it belongs to: 'ground', an item's id, or 'piece'."""
        for part, treatment in self.treatments().items():
            yield from ((part, step) for step in treatment)

    def treatments(self) -> dict[str, tuple[Step, ...]]:
        """All treatments by the part they belong to: 'ground', an item's id, or 'piece'."""
        items = {item.id: item.treatment for item in self.items()}
        return {"ground": self.ground.treatment, **items, "piece": self.treatment}

    def item(self, item_id: str) -> Mark | Group:
        """A mark or group by its id; KilnError if it is not there."""
        for item in self.items():
            if item.id == item_id:
                return item
        raise KilnError("There is no such mark on this piece.", item_id)

    def way_to(self, item_id: str) -> list[str]:
        """The path of an item, of 'ground' or of 'piece', in the document; lists by ids."""
        if item_id in ("ground", "piece"):
            return ["ground"] if item_id == "ground" else []
        way = _way_in(self.stack, item_id)
        if way is None:
            raise KilnError("There is no such mark on this piece.", item_id)
        return ["stack", *way]

    def mark(self, item_id: str) -> Mark:
        """A mark by its id; KilnError if it is not there, or a group."""
        item = self.item(item_id)
        if isinstance(item, Group):
            raise KilnError("This is a group, not a mark.", item_id)
        return item

    def files(self, kind: type[FileHash] = FileHash) -> set[FileHash]:
        """The hashes of all files of that type that the piece names, wherever they stand."""
        return files_in(self, kind)


def _all_of(items: tuple) -> Iterator[Mark | Group]:
    for item in items:
        yield item
        if isinstance(item, Group):
            yield from _all_of(item.members)


def _depth(items: tuple) -> int:
    """How deep groups lie in one another."""
    return max((1 + _depth(item.members) for item in items if isinstance(item, Group)), default=0)


def _way_in(items: tuple, item_id: str) -> list[str] | None:
    for item in items:
        if item.id == item_id:
            return [item_id]
        inner = _way_in(getattr(item, "members", ()), item_id)
        if inner is not None:
            return [item.id, "members", *inner]
    return None


def sort_of(part: str) -> str:
    """'ground', 'piece' or 'mark': what steps are offered for."""
    return part if part in ("ground", "piece") else "mark"


def load(
    data: str | bytes | dict, assets: Assets | None = None, *, same_parts: bool = False
) -> Piece:
    """A piece from its JSON, of this format or an older one.

    Parameters
    ----------
    data : str, bytes or dict
        As JSON, or as it was parsed; 2 MB at most.
    assets : Assets, optional
        Where an upgrade keeps what older documents held within themselves.
    same_parts : bool
        Its marks, steps and limits are those of a piece that was read before, and fit together.

    Returns
    -------
    Piece
        Checked whole.

    Raises
    ------
    KilnError
        What is wrong, and where.
    """
    try:
        tree = data if isinstance(data, dict) else from_json(data, allow_inf_nan=False)
    except (ValueError, RecursionError) as error:
        raise KilnError("This is not a piece: it cannot be read as JSON.", str(error)) from error
    if not isinstance(tree, dict) or type(tree.get("format")) is not int or tree["format"] < 1:
        raise KilnError("This is not a piece: it has no format number.")
    if tree["format"] > FORMAT:
        raise KilnError(
            f"This piece was made by a newer Kilnmark (format {str(tree['format'])[:20]}); "
            f"this one reads up to {FORMAT}."
        )
    try:
        for version in range(tree["format"], FORMAT):
            tree = UPGRADES[version](tree, assets)
        return Piece.model_validate(tree, context=SAME_PARTS if same_parts else None)
    except ValidationError as error:
        raise KilnError(*_first_fault(error)) from error
    except (RecursionError, TypeError, AttributeError, OverflowError) as error:
        raise KilnError(
            "This is not a piece: it is not put together as one.", str(error)[:200]
        ) from error


def dump(piece: Piece) -> str:
    """The JSON of a piece.

    Parameters
    ----------
    piece : Piece
        Any.

    Returns
    -------
    str
        Of this format, 2 MB at most.

    Raises
    ------
    KilnError
        If it is larger than a document may be.
    """
    text = piece.model_dump_json()
    if len(text) > MAX_BYTES:
        raise KilnError(
            f"This piece has become too large to store: {MAX_BYTES // 10**6} MB is the most. "
            "Take out marks or steps, or start a new piece."
        )
    return text


def _first_fault(error: ValidationError) -> tuple[str, str]:
    """(message, detail): the first broken rule in words, and where with what was received."""
    fault = error.errors()[0]
    where = ".".join(str(part) for part in fault["loc"])
    told = f"The change was refused: {fault_words(error)}."[:400]
    return told, f"{where}: {fault.get('input')!r}"[:300]
