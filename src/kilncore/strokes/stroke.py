"""One stroke, as it is asked for: its way in the item's own frame, and how it is drawn."""

from typing import Annotated, Literal, Self

from pydantic import Field, model_validator

from kilncore.model.base import Model

UNITS, LEVELS = 4096, 255  # lengths are whole numbers of 1/4096; shares of 1/255
PACK, FINENESS = 32, 64
MOST_FILES, MOST_POINTS, MOST_ASKED, MOST_NODES = 512, 20_000, 200_000, 200
FARTHEST, WIDEST = 200, 10
LEAST_GAP, WIDEST_GAP, MOST_SEED = 0.02, 8.0, 2**31 - 1
Share = Annotated[float, Field(ge=0, le=1)]
Place = Annotated[float, Field(ge=-FARTHEST, le=FARTHEST)]
Over = Annotated[float, Field(ge=0, le=FARTHEST)]
Id = Annotated[int, Field(ge=0, le=MOST_SEED)]


class Stroke(Model):
    """One stroke, in the item's own frame: lengths are shares of its height, from its middle.

    back : it brings back what was hidden. pressures : of a pen, one for each point, or none.
    hardness : the share of the radius that is fully covered, of a smooth round tip. strength : what
    it comes to at most.

    tip : the name of a tip that ships, or a tip as `tip.told` gives it; "" is smooth and round.
    What follows is of a rough tip alone. loaded : what one dab covers where the tip is full. gap :
    from dab to dab, in shares of the tip's width. turn_deg : of the tip, clockwise. follows : the
    tip turns with the way. turns, sizes, strays : how much the turn of dabs, their size and their
    place vary, 0..1. flips : some are laid the other way round.

    thins, eases : how much of its width, and of its load, a pen's pressure takes, 0..1; thins is of
    a smooth tip, too.

    curved : its points are those that a smooth curve goes through (`curves.curve`). corners : the
    numbers of those at which the curve turns sharply. closed : it comes back to where it began.
    taper_in, taper_out : lengths over which its width grows at the start, and shrinks at the end.
    ends : of a smooth tip, round or cut off flat.

    id : by which it is found again when strokes before it are gone; 0 for none.
    """

    back: bool = False
    points: Annotated[tuple[tuple[Place, Place], ...], Field(min_length=1, max_length=MOST_ASKED)]
    pressures: Annotated[tuple[Share, ...], Field(max_length=MOST_ASKED)] = ()
    radius: float = Field(gt=0, le=WIDEST)
    hardness: Share = 0.5
    strength: Share = 1.0
    tip: Annotated[str, Field(max_length=60_000)] = ""
    loaded: Share = 1.0
    gap: float = Field(0.15, ge=LEAST_GAP, le=WIDEST_GAP)
    turn_deg: float = Field(0.0, ge=-360, le=360)
    follows: bool = False
    turns: Share = 0.0
    sizes: Share = 0.0
    strays: Share = 0.0
    flips: bool = False
    thins: Share = 0.0
    eases: Share = 0.0
    seed: int = Field(0, ge=0, le=MOST_SEED)
    curved: bool = False
    corners: Annotated[tuple[Id, ...], Field(max_length=MOST_NODES)] = ()
    closed: bool = False
    taper_in: Over = 0.0
    taper_out: Over = 0.0
    ends: Literal["round", "flat"] = "round"
    id: Id = 0

    @model_validator(mode="after")
    def _pressed(self) -> Self:
        if self.pressures and len(self.pressures) != len(self.points):
            raise ValueError("a stroke has a pressure for each of its points, or none at all")
        return self

    @model_validator(mode="after")
    def _set(self) -> Self:
        if self.curved and len(self.points) > MOST_NODES:
            raise ValueError(f"a curve goes through {MOST_NODES} points at most")
        if any(number >= len(self.points) for number in self.corners):
            raise ValueError("a corner is one of a curve's points")
        return self
