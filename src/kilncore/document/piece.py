"""A piece: one validated, immutable tree."""

from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import (
    Field,
    StringConstraints,
    ValidationInfo,
    model_validator,
)

from kilncore.document.items import MAX_ITEMS, Group, Item, Mark, Step, Treatment
from kilncore.errors import KilnError
from kilncore.fills import FILLS, Fill
from kilncore.fills.none import NoFill
from kilncore.landing import Landing
from kilncore.model.base import Model
from kilncore.model.files import FileHash, files_in
from kilncore.model.registry import OneOf
from kilncore.model.setting import setting
from kilncore.model.surface_scale import SurfaceScale
from kilncore.steps import STEPS

MAX_SIDE_PX = 20_000
MAX_PIXELS = 200_000_000
MAX_DEPTH = 6  # of groups in groups
SAME_PARTS = object()


class PageFrame(Model):
    """Where the frame of the ground and of the whole piece lies, from the page's middle, in px;
    unit : how large its unit is, in heights of the page; quarters : how often it is turned.

    It moves when the page is cropped, enlarged or turned, so that what lies on it keeps its place.
    """

    x: float = Field(0.0, ge=-1e6, le=1e6)
    y: float = Field(0.0, ge=-1e6, le=1e6)
    unit: float = Field(1.0, gt=0, le=1e6)
    quarters: Annotated[int, Field(ge=0, le=3)] = 0


class Ground(Model):
    """What lies at the bottom. fill : the settings of one of FILLS."""

    fill: Annotated[Fill, OneOf(FILLS)] = NoFill()
    treatment: Treatment = ()


Side = Annotated[int, Field(ge=16, le=MAX_SIDE_PX)]


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
