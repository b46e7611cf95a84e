"""The document of a piece: one validated, immutable tree, written as JSON. docs/engine.md says what it means.

An upgrade from an older format is one function in UPGRADES; a document newer than FORMAT is refused.
"""

import secrets
from collections.abc import Iterator
from typing import Annotated, Any, Literal

from pydantic import Field, SerializeAsAny, ValidationError, model_validator
from pydantic_core import from_json

from kilncore.artwork.lettering import Lettering
from kilncore.artwork.vector import Vector
from kilncore.colour import HexColour
from kilncore.errors import KilnError
from kilncore.landing import Landing
from kilncore.model import Id, Model
from kilncore.parts import TexturePlacement, TextureRef
from kilncore.steps import STEP_KINDS
from kilncore.units import Length
from kilncore.upgrades import UPGRADES

FORMAT = 3
MAX_SIDE_PX = 20_000
MAX_PIXELS = 200_000_000
MAX_ITEMS, MAX_STEPS = 200, 1000  # of a piece as a whole, beyond which no edit takes it
MAX_BYTES = 2_000_000  # of a document as it is stored


def new_id() -> str:
    return secrets.token_hex(4)


def new_seed() -> int:
    return secrets.randbits(31)


class Step(Model):
    id: Id = Field(default_factory=new_id)
    kind: str
    rev: int = 1
    on: bool = True
    params: SerializeAsAny[Model]
    seed: int = Field(default_factory=new_seed, ge=0, lt=2**31)
    landing: Landing = Landing()

    @model_validator(mode="before")
    @classmethod
    def _params_of_kind(cls, data: Any):
        if not isinstance(data, dict):
            return data
        kind = STEP_KINDS.get(data["kind"]) if isinstance(data.get("kind"), str) else None
        if kind is None:
            raise ValueError(f"a step must be one of {', '.join(STEP_KINDS)}")
        params = data.get("params", {})
        return {**data, "params": params if isinstance(params, kind.params) else kind.params.model_validate(params)}

    @model_validator(mode="after")
    def _strength_allowed(self):
        if STEP_KINDS[self.kind].results == ("cover",) and self.landing.strength > 1:
            raise ValueError("the strength of a step that takes away must be 0 to 1")
        return self


class Placement(Model):
    """x, y : the middle of the mark on the piece. scale : of its own size. rotation_deg : clockwise."""

    x: Length
    y: Length
    scale: float = Field(1.0, ge=0.01, le=100)
    rotation_deg: float = Field(0.0, ge=-360, le=360)


Art = Annotated[Lettering | Vector, Field(discriminator="kind")]
Treatment = Annotated[tuple[Step, ...], Field(max_length=60)]


class Mark(Model):
    kind: Literal["mark"] = "mark"
    id: Id = Field(default_factory=new_id)
    name: str = Field("", max_length=80)
    art: Art
    placement: Placement
    seed: int = Field(default_factory=new_seed, ge=0, lt=2**31)
    treatment: Treatment = ()
    landing: Landing = Landing()


class Group(Model):
    """Marks treated as one. Its members' places are counted from its middle, in its own scale and turn."""

    kind: Literal["group"] = "group"
    id: Id = Field(default_factory=new_id)
    name: str = Field("", max_length=80)
    placement: Placement
    seed: int = Field(default_factory=new_seed, ge=0, lt=2**31)
    members: Annotated[tuple[Mark, ...], Field(min_length=1, max_length=100)]
    treatment: Treatment = ()
    landing: Landing = Landing()


class NoFill(Model):
    kind: Literal["none"] = "none"


class ColourFill(Model):
    kind: Literal["colour"] = "colour"
    colour: HexColour


class TextureFill(Model):
    kind: Literal["texture"] = "texture"
    texture: TextureRef
    placement: TexturePlacement = TexturePlacement()


class Ground(Model):
    fill: Annotated[NoFill | ColourFill | TextureFill, Field(discriminator="kind")] = NoFill()
    treatment: Treatment = ()


Side = Annotated[int, Field(ge=16, le=MAX_SIDE_PX)]


Item = Annotated[Mark | Group, Field(discriminator="kind")]


class Piece(Model):
    """light : what mixing works in: encoded values, as CSS does, or linear light."""

    format: Literal[3] = FORMAT
    title: str = Field("Untitled", min_length=1, max_length=120)
    size_px: tuple[Side, Side]
    ppi: float = Field(300, ge=10, le=2400)
    light: Literal["encoded", "linear"] = "encoded"
    ground: Ground = Ground()
    stack: Annotated[tuple[Item, ...], Field(max_length=100)] = ()
    treatment: Treatment = ()

    @model_validator(mode="after")
    def _sound(self):
        if self.size_px[0] * self.size_px[1] > MAX_PIXELS:
            raise ValueError(f"a piece may have {MAX_PIXELS // 10**6} million px at most")
        ids = [item.id for item in self.items()] + [step.id for _, step in self.steps()]
        if len(ids) != len(set(ids)) or {"ground", "piece"} & set(ids):
            raise ValueError("every mark and step needs an id of its own")
        for part, step in self.steps():
            if sort_of(part) not in STEP_KINDS[step.kind].offered_for:
                raise ValueError(f"{STEP_KINDS[step.kind].title} cannot treat the {sort_of(part)}")
        marks = {mark.id for mark in self.marks()}
        if any(landing.marks() - marks for landing in self.landings()):
            raise ValueError("what holds a step in or out must be a mark on this piece")
        return self

    def items(self) -> Iterator[Mark | Group]:
        """Marks and groups, bottom up, a group before its members."""
        for item in self.stack:
            yield item
            yield from getattr(item, "members", ())

    def marks(self) -> Iterator[Mark]:
        return (item for item in self.items() if isinstance(item, Mark))

    def groups(self) -> Iterator[Group]:
        return (item for item in self.stack if isinstance(item, Group))

    def landings(self) -> Iterator[Landing]:
        yield from (item.landing for item in self.items())
        yield from (step.landing for _, step in self.steps())

    def steps(self) -> Iterator[tuple[str, Step]]:
        """Every step with the part it belongs to: 'ground', an item's id, or 'piece'."""
        for part, treatment in self.treatments().items():
            yield from ((part, step) for step in treatment)

    def treatments(self) -> dict[str, tuple[Step, ...]]:
        items = {item.id: item.treatment for item in self.items()}
        return {"ground": self.ground.treatment, **items, "piece": self.treatment}

    def item(self, id: str) -> Mark | Group:
        for item in self.items():
            if item.id == id:
                return item
        raise KilnError("There is no such mark on this piece.", id)

    def way_to(self, id: str) -> list[str]:
        """The path of an item in the document, lists addressed by ids."""
        for item in self.stack:
            if item.id == id:
                return ["stack", id]
            if any(member.id == id for member in getattr(item, "members", ())):
                return ["stack", item.id, "members", id]
        raise KilnError("There is no such mark on this piece.", id)

    def mark(self, id: str) -> Mark:
        item = self.item(id)
        if isinstance(item, Group):
            raise KilnError("This is a group, not a mark.", id)
        return item

    def textures(self) -> set[str]:
        """The hashes of all textures the piece names."""
        refs = [getattr(step.params, "texture", None) for _, step in self.steps()]
        refs.append(getattr(self.ground.fill, "texture", None))
        return {ref.hash for ref in refs if ref}

    def strokes(self) -> set[str]:
        """The hashes of all stroke files the piece names."""
        return {name for landing in self.landings() for name in landing.touch}

    def artworks(self) -> set[str]:
        """The hashes of all vector artworks the piece names."""
        return {mark.art.hash for mark in self.marks() if isinstance(mark.art, Vector)}


def sort_of(part: str) -> str:
    return part if part in ("ground", "piece") else "mark"


def load(data: str | bytes | dict, assets=None) -> Piece:
    """A piece from its JSON, of this format or an older one. KilnError says what is wrong.

    assets : where an upgrade keeps what older documents held within themselves.
    """
    try:
        tree = data if isinstance(data, dict) else from_json(data, allow_inf_nan=False)
    except (ValueError, RecursionError) as error:
        raise KilnError("This is not a piece: it cannot be read as JSON.", str(error)) from error
    if not isinstance(tree, dict) or type(tree.get("format")) is not int or tree["format"] < 1:
        raise KilnError("This is not a piece: it has no format number.")
    if tree["format"] > FORMAT:
        raise KilnError(f"This piece was made by a newer Kilnmark (format {str(tree['format'])[:20]}); this one reads up to {FORMAT}.")
    try:
        for version in range(tree["format"], FORMAT):
            tree = UPGRADES[version](tree, assets)
        return Piece.model_validate(tree)
    except ValidationError as error:
        raise KilnError(*_first_fault(error)) from error
    except (RecursionError, TypeError, AttributeError, OverflowError) as error:
        raise KilnError("This is not a piece: it is not put together as one.", str(error)[:200]) from error


def dump(piece: Piece) -> str:
    """Its JSON; KilnError if that is larger than a document may be."""
    text = piece.model_dump_json()
    if len(text) > MAX_BYTES:
        raise KilnError(f"This piece has become too large to store: {MAX_BYTES // 10**6} MB is the most. Take out marks or steps, or start a new piece.")
    return text


def _first_fault(error: ValidationError) -> tuple[str, str]:
    """(message, detail): the first broken rule in words, and where with what was received."""
    fault = error.errors()[0]
    rule = fault["msg"].removeprefix("Value error, ")
    where = ".".join(str(part) for part in fault["loc"])
    return f"The change was refused: {rule[:1].lower()}{rule[1:]}."[:400], f"{where}: {fault.get('input')!r}"[:300]
