"""What the page of directions asks for."""

from typing import Annotated, Literal

from pydantic import StringConstraints

from kilnmark.door import Asked, Edits, PartId, Step, Version

Place = Literal[1, 2, 3]
Name = Annotated[str, StringConstraints(max_length=60)]


class Put(Asked):
    """version : of the piece that the look was drawn on."""

    version: Version
    place: Place
    part: PartId
    name: Name = ""
    edits: Edits = []


class Mix(Asked):
    """giver : the place of the direction whose step is given to the one at `taker`."""

    giver: Place
    taker: Place
    step: PartId


class At(Asked):
    place: Place


class GoOn(Step):
    place: Place
