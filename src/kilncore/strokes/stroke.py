"""One stroke, as it is asked for: its way in the item's own frame, and how it is drawn."""

from typing import Annotated, Self

from pydantic import Field, model_validator

from kilncore.model.base import Model

UNITS, LEVELS = 4096, 255  # lengths are whole numbers of 1/4096; shares of 1/255
PACK, FINENESS = 32, 64
MOST_FILES, MOST_POINTS, MOST_ASKED = 512, 20_000, 200_000
FARTHEST, WIDEST = 200, 10
LEAST_GAP, WIDEST_GAP, MOST_SEED = 0.02, 8.0, 2**31 - 1
Share = Annotated[float, Field(ge=0, le=1)]
Place = Annotated[float, Field(ge=-FARTHEST, le=FARTHEST)]


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

    @model_validator(mode="after")
    def _pressed(self) -> Self:
        if self.pressures and len(self.pressures) != len(self.points):
            raise ValueError("a stroke has a pressure for each of its points, or none at all")
        return self
