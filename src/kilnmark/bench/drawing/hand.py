"""What the sheet shows of strokes by hand: on a landing they hide and bring back, in a step they
add."""

import json
from dataclasses import dataclass

from kilncore.document import Piece, Step
from kilncore.errors import KilnError
from kilncore.layout.layout import Layout
from kilncore.pixels.colour import HEX, LUMA, hex_to_rgb
from kilncore.strokes.tip import SHIPPED
from kilnmark.pieces.landings import landings_of
from kilnmark.storage import assets
from kilnmark.tips.pictured import ON, UNDER, laid_by

MOVES = {"follow", "soften"}  # steps after which a stroke is not where it was drawn
LIGHT, MIDDLE = "#efe6d3", 0.35  # what stands out from a mark that is darker than the middle


@dataclass(frozen=True)
class HandTip:
    """One tip of the wall. told : what its strokes are told, as JSON."""

    name: str
    title: str
    told: str


SHIPPED_TIPS = (
    HandTip("", "Soft round", "{}"),
    *(HandTip(name, one.title, json.dumps(laid_by(name))) for name, one in SHIPPED.items()),
    HandTip("line", "Scratch", "{}"),
)


def own_tip(owner, name: str):
    """A tip of one's own by the name that the wall gives it: 'own-7'; None if it is none."""
    number = name.removeprefix("own-")
    if number == name or not number.isdecimal() or len(number) > 12:
        return None
    return owner.tips.here().filter(pk=int(number)).first()


def tips_of(owner) -> tuple[HandTip, ...]:
    """Those that ship, and one's own."""
    own = (
        HandTip(f"own-{tip.pk}", tip.name, json.dumps(laid_by(tip.told)))
        for tip in owner.tips.here()
    )
    return *SHIPPED_TIPS, *own


@dataclass(frozen=True)
class Hand:
    """path : of the landing, of a step's settings, or of art that is drawn. part : that it belongs
    to. files : of the strokes. step : whose it is, "" for how a mark lands.
    """

    piece: Piece
    path: list
    part: str
    files: tuple[str, ...]
    step: str = ""

    @property
    def json_path(self) -> str:
        return json.dumps(self.path)

    @property
    def adds(self) -> bool:
        """Whether strokes add, as dabs do."""
        return self.path[-1] in ("params", "art")

    @property
    def of_art(self) -> bool:
        """Whether they are a mark of their own: it has no edge before them."""
        return self.path[-1] == "art"

    @property
    def says(self) -> str:
        """What strokes do here, in a sentence."""
        if self.path[-1] == "art":
            return "Strokes are the mark. S held and dragged sizes the tip."
        if self.adds:
            return "Strokes lay on what this step adds. S held and dragged sizes the tip."
        if self.step:
            return "Strokes hide this step where they go; the mark itself is hidden where it lands."
        return "Strokes hide the mark where they go. The art itself is never erased."

    @property
    def name(self) -> str:
        """Under which the strokes are listed."""
        return "strokes" if self.adds else "touch"

    @property
    def count(self) -> int:
        """Of strokes."""
        return sum(len(assets().strokes(name)) for name in self.files)

    @property
    def state(self) -> str:
        count = self.count
        return "" if not count else "1 stroke" if count == 1 else f"{count} strokes"

    @property
    def bends(self) -> bool:
        """Whether what is drawn comes to lie elsewhere, or is softened, by what comes after it."""
        return _bends(self.piece, self.part, None if self.path[-1] == "art" else self.step)

    @property
    def colour(self) -> str:
        """Of the mark, for the pictures of tips."""
        if self.path[-1] == "art":
            return _apart_from(self.under)
        if self.part in ("ground", "piece"):
            return ON
        found = getattr(getattr(self.piece.item(self.part), "art", None), "colour", None)
        return found if isinstance(found, str) and HEX.match(found) else ON

    @property
    def under(self) -> str:
        """What a stroke shows there, in the pictures of tips: what is laid on, or something that
        stands out from the mark."""
        if self.path[-1] == "art":
            return self.piece.mark(self.part).art.colour
        if self.adds:
            step = next(one for one in self.piece.treatments()[self.part] if one.id == self.step)
            if step.params.adds == "colour":
                return step.params.colour
        return _apart_from(self.colour)

    @property
    def clearing(self) -> str:
        """The edit that takes all strokes away."""
        return json.dumps({"op": "set", "path": [*self.path, self.name], "value": []})

    @property
    def laying(self) -> str:
        """The edit that lays kept strokes here, without their files: those that are there go
        first."""
        there = [str(one) for one in self.files]
        return json.dumps({"op": "set", "path": [*self.path, self.name], "value": there})

    @property
    def copies(self) -> list[tuple[str, str]]:
        """(where to, the edit) of the landings of other steps and marks."""
        found = []
        for title, path, landing in landings_of(self.piece):
            if path != self.path and not landing.touch:
                edit = {
                    "op": "set",
                    "path": [*path, "touch"],
                    "value": [str(one) for one in self.files],
                }
                found.append((title, json.dumps(edit)))
        return found


def _apart_from(colour: str) -> str:
    """What stands out from a colour."""
    return UNDER if float(hex_to_rgb(colour) @ LUMA) > MIDDLE else LIGHT


def _bends(piece: Piece, part: str, step: str | None) -> bool:
    """Whether a part lies in perspective, or moves and softens after a landing: by later steps of
    its own, of the groups that it is in, or of the whole piece. step : None before all of them."""
    treatments = piece.treatments()
    ids = [one.id for one in treatments[part]]
    after = list(treatments[part][ids.index(step) + 1 :]) if step in ids else []
    if step is None:
        after = list(treatments[part])
    if part == "piece":
        return _moved(after)
    groups = piece.way_to(part)[1:-2:2] if part != "ground" else []
    for around in (*groups, "piece"):
        after += treatments[around]
    frame = Layout(piece).frames().get(part)
    return _moved(after) or bool(frame and frame.projection)


def _moved(steps: list[Step]) -> bool:
    return any(one.on and one.kind in MOVES for one in steps)


def touched(piece: Piece, path: list) -> tuple[str, ...]:
    """The files of strokes at a path of a landing or of a step's settings.

    KilnError if that is no longer there.
    """
    for _, of, files in stroke_lists(piece):
        if of == path:
            return files
    raise KilnError("This is no longer on the piece.", str(path))


def stroke_lists(piece: Piece) -> list[tuple[str, list, tuple[str, ...]]]:
    """(title, path, files) of all that can have strokes."""
    found = [(title, path, landing.touch) for title, path, landing in landings_of(piece)]
    for mark in piece.marks():
        if hasattr(mark.art, "strokes"):
            found.append((mark.art.kind, [*piece.way_to(mark.id), "art"], mark.art.strokes))
    for part, treatment in piece.treatments().items():
        for step in treatment:
            if hasattr(step.params, "strokes"):
                path = [*piece.way_to(part), "treatment", step.id, "params"]
                found.append((step.kind, path, step.params.strokes))
    return found
