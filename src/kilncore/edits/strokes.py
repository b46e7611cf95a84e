"""Strokes of touch-up."""

from collections.abc import Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from typing import Annotated, Any

from pydantic import Field

from kilncore.artwork.drawn import bounds_of
from kilncore.edits.operation import Path, operation
from kilncore.edits.tree import at
from kilncore.edits.values import same_place
from kilncore.errors import KilnError
from kilncore.strokes import Stroke, added, inverted, replaced, taken_back
from kilncore.strokes.bending import bent, moved
from kilncore.strokes.scratches import handful, scratch


@dataclass
class Listing:
    """files : the names of stroke files, in order."""

    files: list[str]


MOST = 200  # strokes of one edit
LONGEST = 0.5  # of something, a scratch of a handful
Number = Annotated[float, Field(strict=False)]  # a whole one is one, too
Pair = Annotated[list[Number], Field(min_length=2, max_length=2)]
LISTS = {"landing": "touch", "params": "strokes", "art": "strokes"}  # where strokes are listed


def _listed(tree: Any, path: Path, assets: Any) -> tuple[dict, str]:
    """What holds the strokes at a path, and under which name."""
    name = LISTS.get(path[-1], "")
    holder = at(tree, path) if name and assets is not None else {}
    if name not in holder:
        raise KilnError("A stroke is laid on a landing or a step, and kept as a file.", str(path))
    return holder, name


@contextmanager
def _listing(tree: Any, path: Path, assets: Any) -> Iterator[Listing]:
    """The list of strokes at a path, to be changed. What is drawn by hand gets the box that its
    strokes reach, and stays where it lies.
    """
    holder, name = _listed(tree, path, assets)
    listing = Listing(holder[name])
    with same_place(tree, path):
        yield listing
        holder[name] = listing.files
        if path[-1] == "art":
            for side, value in bounds_of(listing.files, assets).items():
                holder[side] = value


@operation
def add_stroke(tree: Any, path: Path, stroke: dict, assets: Any):
    """One more stroke on the landing, of the step, or of the art, at that path; the assets keep its
    file.
    """
    with _listing(tree, path, assets) as listing:
        listing.files = added(listing.files, Stroke.model_validate(stroke), assets)


@operation
def add_strokes(
    tree: Any, path: Path, strokes: Annotated[list[dict], Field(max_length=MOST)], assets: Any
):
    """Several at once."""
    with _listing(tree, path, assets) as listing:
        for stroke in strokes:
            listing.files = added(listing.files, Stroke.model_validate(stroke), assets)


@operation
def add_scratch(
    tree: Any,
    path: Path,
    start: Pair,
    end: Pair,
    width: Number,
    seed: int,
    assets: Any,
    back: bool = False,
    strength: Number = 1.0,
):
    """A scratch from place to place, told in the frame of what it is on."""
    one = scratch((start[0], start[1]), (end[0], end[1]), width, seed, back=back, strength=strength)
    with _listing(tree, path, assets) as listing:
        listing.files = added(listing.files, one, assets)


@operation
def add_scratches(
    tree: Any,
    path: Path,
    across: Pair,
    count: int,
    width: Number,
    seed: int,
    assets: Any,
    back: bool = False,
    strength: Number = 1.0,
):
    """Several over something as wide and tall as is told, in its own frame."""
    longest = max(across) * LONGEST
    how = {"back": back, "strength": strength}
    made = handful(count, (across[0], across[1]), width, longest, seed, **how)
    with _listing(tree, path, assets) as listing:
        for one in made:
            listing.files = added(listing.files, one, assets)


@operation
def take_back_stroke(tree: Any, path: Path, number: int, assets: Any, stroke_id: int = 0):
    """One less: by its number from 0, or from -1 backwards, and by its id if it has one."""
    with _listing(tree, path, assets) as listing:
        listing.files = taken_back(listing.files, number, assets, stroke_id)


@operation
def change_stroke(
    tree: Any, path: Path, number: int, changes: dict, assets: Any, stroke_id: int = 0
):
    """Some of what one stroke is told, such as its width or the points of its curve."""

    def change(stroke: Stroke) -> Stroke:
        return Stroke.model_validate({**stroke.model_dump(), **changes, "id": stroke.id})

    with _listing(tree, path, assets) as listing:
        listing.files = replaced(listing.files, number, change, assets, stroke_id)


@operation
def move_stroke(tree: Any, path: Path, number: int, by: Pair, assets: Any, stroke_id: int = 0):
    """One stroke elsewhere: by so much, in the frame of what it is on."""
    far = (by[0], by[1])
    with _listing(tree, path, assets) as listing:
        listing.files = replaced(
            listing.files, number, lambda stroke: moved(stroke, far), assets, stroke_id
        )


@operation
def bend_stroke(
    tree: Any,
    path: Path,
    number: int,
    place: Annotated[Number, Field(ge=0, le=1)],
    spread: Annotated[Number, Field(gt=0, le=2)],
    by: Pair,
    assets: Any,
    stroke_id: int = 0,
):
    """One stroke pulled at a place of its way, as `strokes.bending.bent` does it."""
    far = (by[0], by[1])
    with _listing(tree, path, assets) as listing:
        listing.files = replaced(
            listing.files,
            number,
            lambda stroke: bent(stroke, place, spread, far),
            assets,
            stroke_id,
        )


@operation
def invert_strokes(tree: Any, path: Path, assets: Any):
    """What is hidden is shown, and what is shown is hidden."""
    with _listing(tree, path, assets) as listing:
        listing.files = inverted(listing.files, assets)
