"""What a sheet shows, as its template reads it."""

import json
from dataclasses import dataclass, field
from typing import Any

from kilncore.artwork.parting import counted
from kilncore.document import BACKDROPS, Group, Mark, Step
from kilncore.engine.solved import SolvedWear
from kilncore.steps import STEPS
from kilnmark.bench.drawing.hand import Hand
from kilnmark.bench.holding.holds import Holds
from kilnmark.bench.sheet.laid import Laid
from kilnmark.bench.sheet.readings import READERS
from kilnmark.bench.sheet.remedies import Warned
from kilnmark.bench.strip.tabs import Tab
from kilnmark.bench.words.typeface import Typeface
from kilnmark.controls.fields import Field, Folding
from kilnmark.pieces.names import name_of

WAYS_TO_ALIGN = (
    ("left", "Left edges"),
    ("middle", "Middles"),
    ("right", "Right edges"),
    ("top", "Top edges"),
    ("centre", "Centres"),
    ("bottom", "Bottom edges"),
)


CUTS = ("knock-out", "ink")


@dataclass(frozen=True)
class OfferedPage:
    """A page of a PDF, from 0. edits : those that choose it. chosen : whether it is shown."""

    number: int
    edits: str
    chosen: bool


@dataclass(frozen=True)
class OfferedFill:
    """fresh : its settings as it is made anew, as JSON; empty if a texture or a picture has to be
    chosen first.
    """

    name: str
    title: str
    fresh: str


@dataclass(frozen=True)
class Line:
    """Settings behind a line that says their state, and opens in place."""

    title: str
    state: str
    fields: list[Field]
    opened: bool = False


@dataclass(frozen=True)
class Sheet(Folding):
    """kind : the template's name. step, mark : what it is about. path : where a step lies in the
    document.
    """

    kind: str
    title: str
    sentence: str
    part: str
    fields: list[Field] = field(default_factory=list)
    landing: list[Field] = field(default_factory=list)
    step: Step | None = None
    mark: Mark | None = None
    place: int = 0
    count: int = 0
    notes: tuple[str, ...] = ()
    path: tuple[str, ...] = ()
    placement: list[Field] = field(default_factory=list)
    fills: tuple[OfferedFill, ...] = ()
    artwork: Any = None  # the row of the file that a drawing or picture is
    typeface: Typeface | None = None  # of a lettering
    tab: Tab | None = None  # of a mark or group, with its neighbours
    neighbours: tuple[str, str] = ("", "")  # names of what lies below and above it
    several: tuple[Mark | Group, ...] = ()
    placed: tuple[Warned, ...] = ()  # readings of the texture that is placed
    solved: SolvedWear | None = None  # what its aim solves to
    warned: tuple[Warned, ...] = ()
    lines: tuple[Line, ...] = ()
    holds: Holds | None = None
    laid: Laid | None = None  # how a mark or group is set in perspective
    mark_edits: str = ""  # that make the ground a mark
    toned: tuple[Field, ...] = ()  # what a strength below 100 % makes of it
    holding: tuple[str, ...] = ()  # what a mark or group holds in or out
    drawn: Hand | None = None  # of a mark that is drawn by hand
    sharers: tuple[str, ...] = ()  # names of the parts that its step is shared with

    @property
    def path_json(self) -> str:
        """Of a step."""
        return json.dumps(self.path)

    @property
    def hand(self) -> Hand | None:
        """What a hand draws in its step, where it draws."""
        if self.drawn is not None:
            return self.drawn
        files = getattr(getattr(self.step, "params", None), "strokes", None)
        if files is None or self.holds is None or self.step is None:
            return None
        path = [*self.path, "params"]
        return Hand(self.holds.piece, path, self.part, tuple(files), self.step.id)

    @property
    def has_readings(self) -> bool:
        """Whether anything is read of what its step does."""
        return self.step is not None and self.step.kind in READERS

    @property
    def placement_path(self) -> str:
        """Of the place of its texture."""
        return json.dumps([*self.path, "params", "placement"])

    @property
    def held_path(self) -> str:
        """Of the points that an aim holds."""
        return json.dumps([*self.path, "params", "held"])

    @property
    def share_path(self) -> str:
        """Of the share that an aim wants."""
        return json.dumps([*self.path, "params", "share"])

    @property
    def texture_path(self) -> str:
        """Of its texture."""
        return json.dumps([*self.path, "params", "texture"])

    @property
    def solved_share(self) -> float:
        """What its aim can take, as a share that is met."""
        return round(self.solved.taken, 4)

    @property
    def landing_state(self) -> str:
        """How its step lands, in a few words."""
        landing = self.step.landing
        mode = landing.mode.replace("-", " ")
        share = f"{100 * landing.strength:.0f} %"
        held = self.holds.state if self.holds else ""
        share = f"{share}, {held}" if held else share
        return share if "mode" not in [field.name for field in self.landing] else f"{mode}, {share}"

    @property
    def plain(self) -> str:
        """The plain background of a picture that is not knocked out yet, '' if there is none."""
        chain = getattr(getattr(self.mark, "art", None), "chain", None)
        if chain is None or self.artwork is None or any(one.kind in CUTS for one in chain):
            return ""
        return self.artwork.facts.get("plain") or ""

    @property
    def knocked(self) -> str:
        """The edit that brings back a plain background which is knocked out, '' if none is."""
        found = self._knocking
        if found is None or not (self.artwork and self.artwork.facts.get("plain")):
            return ""
        path = next(field.path for field in self.fields if field.control == "chain")
        return json.dumps({"op": "remove_operation", "path": path, "operation": found.id})

    @property
    def _knocking(self):
        chain = getattr(getattr(self.mark, "art", None), "chain", ())
        return next((one for one in chain if one.kind == "knock-out" and one.on), None)

    @property
    def holes(self) -> int:
        """How many holes went with a plain background."""
        knocking = self._knocking
        if knocking is None or not (knocking.connected and knocking.plain_holes):
            return 0
        return self.artwork.facts.get("holes") or 0 if self.artwork else 0

    @property
    def fill_holes(self) -> str:
        """The edit that keeps them."""
        path = next(field.path for field in self.fields if field.control == "chain")
        told = {"op": "set_operation", "path": path, "operation": self._knocking.id}
        return json.dumps({**told, "settings": {"plain_holes": False}})

    @property
    def ground_edits(self) -> str:
        """The edits that make a picture the ground, '' of other art."""
        art = getattr(self.mark, "art", None)
        if getattr(art, "kind", "") != "picture":
            return ""
        told = art.model_dump(mode="json", include={"kind", "hash", "width", "height"})
        ground = {"op": "set", "path": ["ground", "fill"], "value": {**told, "fit": "cover"}}
        return json.dumps([ground, {"op": "remove_mark", "mark": self.mark.id}])

    @property
    def pages(self) -> list["OfferedPage"]:
        """Of a PDF, with the edits that choose each."""
        art: Any = getattr(self.mark, "art", None)
        sizes = (getattr(self.artwork, "facts", None) or {}).get("pages", ())
        path = next(field.path for field in self.fields if field.control == "page")[:-1]
        found = []
        for number, (width, height, scale) in enumerate(sizes):
            told = {"page": number, "width": width, "height": height, "scale": scale}
            edits = [{"op": "set", "path": [*path, key], "value": told[key]} for key in told]
            found.append(OfferedPage(number, json.dumps(edits), number == art.page))
        return found

    @property
    def knock_out_edit(self) -> str:
        path = next(field.path for field in self.fields if field.control == "chain")
        return json.dumps({"op": "add_operation", "path": path, "kind": "knock-out"})

    @property
    def _shown(self):
        return getattr(getattr(self.mark, "art", None), "shown", None)

    @property
    def colours(self) -> list:
        """[[colour, share], ...] of a drawing, of those that are shown."""
        found = (getattr(self.artwork, "facts", None) or {}).get("colours", [])
        shown = self._shown.paints if self._shown else ()
        if not shown or any(paint.startswith("url") for paint in shown):
            return found
        return [[colour, share] for colour, share in found if colour in shown]

    @property
    def paints(self) -> list[str]:
        """Of a drawing, each once, in the order in which they are drawn."""
        facts = getattr(self.artwork, "facts", None) or {}
        return list(dict.fromkeys(paint for paint, _ in facts.get("paints", ())))

    @property
    def ways_to_part(self) -> list[tuple[str, str, int]]:
        """(way, words, how many parts) in which a drawing can be parted."""
        if self._shown is None or self.artwork is None:
            return []
        counts = counted(self.mark.art, self.artwork.facts)
        return [(way, f"Part by {way}", count) for way, count in counts.items() if count > 1]

    ways_to_align = WAYS_TO_ALIGN
    sides = ("left", "right", "top", "bottom")
    backdrops = BACKDROPS

    @property
    def named(self) -> list[tuple[Mark | Group, str]]:
        return [(item, name_of(item)) for item in self.several]

    @property
    def ids_json(self) -> str:
        return json.dumps([item.id for item in self.several] or [self.mark.id])

    @property
    def all_locked(self) -> bool:
        return all(item.locked for item in self.several or (self.mark,))

    @property
    def all_left_out(self) -> bool:
        return all(item.left_out for item in self.several or (self.mark,))

    @property
    def template(self) -> str:
        return f"bench/sheet/{self.kind}.html"

    @property
    def step_json(self) -> str:
        return json.dumps([self.step.id]) if self.step else ""

    @property
    def step_on_path(self) -> str:
        return json.dumps([*self.path, "on"])

    @property
    def seed_path(self) -> str:
        """Of a step that throws dice, its seed; else ''."""
        seeded = self.step and STEPS.named(self.step.kind).seeded
        return json.dumps([*self.path, "seed"]) if seeded else ""

    @property
    def number(self) -> int:
        """How many steps are done when this one is."""
        return self.place + 1

    @property
    def earlier(self) -> int:
        return self.place - 1

    @property
    def later(self) -> int:
        return self.place + 1
