"""What holds a landing, for its sheet: blend ranges, limits, a fade; each in words, switched off
without being lost, removed, copied to another landing; and what more there can be.
"""

import json
from dataclasses import dataclass

from kilncore.document import Piece
from kilncore.landing import Landing
from kilncore.landing.limits.base import Limit
from kilncore.landing.model import READS, BlendRange, Fade
from kilncore.layout.layout import Layout, upright
from kilncore.steps import STEPS
from kilnmark.bench.strip import name_of
from kilnmark.controls.fields import Field

RANGES = {  # (in a sentence, as a title, what it reads)
    "range_own": ("its own tones", "Its own tones", "own"),
    "range_input": ("the tones it lands on", "Tones it lands on", "input"),
    "range_beneath": ("the tones beneath", "Tones beneath", "beneath"),
}
SOFT = {"hidden_below": 0.16, "shown_from": 0.36}  # a new range: the lights, with a wide shoulder
FADES = (("straight", "Straight"), ("round", "Round"), ("sweep", "Sweeping round"))
MOST_LIMITS = 8


@dataclass(frozen=True)
class Hold:
    """path : where it lies. state : what it does, in words; short : the same beside its title.
    removal : the edit that takes it away, copies : [(where to, edit)], as JSON.
    """

    kind: str
    title: str
    state: str
    path: list
    on: bool
    fields: list[Field]
    removal: str
    copies: tuple[tuple[str, str], ...] = ()
    short: str = ""

    @property
    def on_path(self) -> str:
        return json.dumps([*self.path, "on"])

    @property
    def key(self) -> str:
        return " ".join(map(str, self.path))


@dataclass(frozen=True)
class Offer:
    """One more that there can be. edit : as JSON."""

    title: str
    edit: str


class Holds:
    """Of one landing. path : of the landing. part, step : whose it is."""

    def __init__(self, piece: Piece, landing: Landing, path: list, part: str, step: str = ""):
        self.piece, self.landing, self.path, self.part, self.step = piece, landing, path, part, step

    def _set(self, name: str, value) -> str:
        return json.dumps({"op": "set", "path": [*self.path, name], "value": value})

    @property
    def together_path(self) -> str:
        """Of whether all of its limits hold, or any."""
        return json.dumps([*self.path, "together"])

    @property
    def all(self) -> list[Hold]:
        """Those that there are."""
        ranges = [self._range(name) for name in RANGES if getattr(self.landing, name) is not None]
        limits = [self._limit(one) for one in self.landing.limits]
        return ranges + limits + ([self._fade()] if self.landing.fade else [])

    @property
    def state(self) -> str:
        """In one line."""
        told = [one.state for one in self.all if one.on]
        return ", ".join(told)

    # --- ranges ---

    def _range(self, name: str) -> Hold:
        found, path = getattr(self.landing, name), [*self.path, name]
        of = RANGES[name][2]
        fields = [
            Field(of, "range", "Tones", "", path, found),
            Field(
                "reads",
                "choice",
                "Reads",
                "",
                [*path, "reads"],
                found.reads,
                choices=READS,
                reload=True,
            ),
            Field(
                "outside",
                "toggle",
                "All but these tones",
                "",
                [*path, "outside"],
                found.outside,
                reload=True,
            ),
        ]
        title = RANGES[name][1]
        copies = self._copies(name, found.model_dump(mode="json"))
        state, removal = range_words(name, found), self._set(name, None)
        short = state.split(" of ")[0]
        return Hold("range", title, state, path, found.on, fields, removal, copies, short)

    # --- limits ---

    def _limit(self, limit: Limit) -> Hold:
        path = [*self.path, "limits", limit.id]
        rest = [one.model_dump(mode="json") for one in self.landing.limits if one.id != limit.id]
        title = f"Kept {'out of' if limit.outside else 'in'} {self._name(limit)}"
        fields = [
            Field(
                "outside",
                "toggle",
                "Outside it",
                "",
                [*path, "outside"],
                limit.outside,
                reload=True,
            ),
            *LIMIT_FIELDS[limit.kind](limit, path),
        ]
        told = limit.model_dump(mode="json", exclude={"id"})
        state, removal = title[:1].lower() + title[1:], self._set("limits", rest)
        copies = self._copies("limits", told)
        return Hold("limit", title, state, path, limit.on, fields, removal, copies)

    def _name(self, limit: Limit) -> str:
        if limit.kind == "mark":
            names = {mark.id: name_of(mark) for mark in self.piece.marks()}
            return names.get(str(limit.mark), "a mark that is gone")
        return {"colour": getattr(limit, "colour", ""), "region": "a region"}[limit.kind]

    # --- the fade ---

    def _fade(self) -> Hold:
        fade, path = self.landing.fade, [*self.path, "fade"]
        percent = {"unit": "%", "factor": 100, "least": 0, "most": 100, "step": 1}
        fields = [
            Field("shape", "choice", "Shape", "", [*path, "shape"], fade.shape, choices=FADES),
            Field("start", "slider", "At its start", "", [*path, "start"], fade.start, **percent),
            Field("end", "slider", "At its end", "", [*path, "end"], fade.end, **percent),
            Field("middle", "slider", "Half way at", "", [*path, "middle"], fade.middle, **percent),
            Field("ends", "fade", "On the piece", "", path, fade),
        ]
        copies = self._copies("fade", fade.model_dump(mode="json"))
        state, removal = fade_words(fade), self._set("fade", None)
        short = state.removeprefix("fading ")
        return Hold("fade", "Fading", state, path, fade.on, fields, removal, copies, short)

    # --- copies and more ---

    def _copies(self, name: str, value) -> tuple[tuple[str, str], ...]:
        """To the landings of other steps, and of marks."""
        found = []
        for title, path, landing in landings_of(self.piece):
            if path == self.path:
                continue
            kept = value
            if name == "limits":
                others = [one.model_dump(mode="json") for one in landing.limits]
                if len(others) >= MOST_LIMITS:
                    continue
                kept = [*others, value]
            edit = {"op": "set", "path": [*path, name], "value": kept}
            found.append((title, json.dumps(edit)))
        return tuple(found)

    @property
    def offers(self) -> list[Offer]:
        """What more can hold it."""
        found = [
            Offer(f"Through {words}", self._set(name, SOFT))
            for name, (words, *_) in RANGES.items()
            if getattr(self.landing, name) is None
        ]
        if len(self.landing.limits) < MOST_LIMITS:
            found += self._limits_offered()
        if self.landing.fade is None:
            found.append(Offer("Fading", self._set("fade", self._fade_begun())))
        return found

    def _limits_offered(self) -> list[Offer]:
        old = [one.model_dump(mode="json") for one in self.landing.limits]
        offers = [("Kept in a colour", {"kind": "colour", "colour": self._colour()})]
        offers.append(("Kept in a region", self._region_begun()))
        offers += [
            (
                f"Kept {'out of' if outside else 'in'} {name_of(mark)}",
                {"kind": "mark", "mark": mark.id, "outside": outside},
            )
            for mark in self.piece.marks()
            if mark.id != self.part
            for outside in (False, True)
        ]
        return [Offer(title, self._set("limits", [*old, one])) for title, one in offers]

    def _colour(self) -> str:
        if self.part in self.piece.treatments() and self.part not in ("ground", "piece"):
            item = self.piece.item(self.part)
            return getattr(getattr(item, "art", None), "colour", "#808080")
        return "#808080"

    def _box(self):
        """(left, top, right, bottom) of the part, document px."""
        if self.part in ("ground", "piece"):
            return 0.0, 0.0, *map(float, self.piece.size_px)
        layout = Layout(self.piece)
        box = upright(layout.box(self.piece.item(self.part)))
        return box.left, box.top, box.right, box.bottom

    def _region_begun(self) -> dict:
        left, top, right, bottom = self._box()
        wide, tall = right - left, bottom - top
        numbers = {"x": left + wide / 2, "y": top + tall / 2, "width": wide / 2, "height": tall}
        numbers["feather"] = round(min(wide, tall) / 20)
        return {"kind": "region", "shape": "ellipse", **_lengths(numbers)}

    def _fade_begun(self) -> dict:
        left, top, right, bottom = self._box()
        return _lengths(
            {"x0": (left + right) / 2, "y0": top, "x1": (left + right) / 2, "y1": bottom}
        )


def _lengths(numbers: dict[str, float]) -> dict:
    return {name: {"value": round(value, 1), "unit": "px"} for name, value in numbers.items()}


def _region_fields(limit, path: list) -> list[Field]:
    return [Field("place", "page_region", "Its place", "", path, limit)]


def _colour_fields(limit, path: list) -> list[Field]:
    percent = {"unit": "%", "factor": 100, "least": 0, "most": 60, "step": 1}
    return [
        Field("colour", "colour", "Colour", "", [*path, "colour"], limit.colour),
        Field(
            "tolerance",
            "slider",
            "How far off",
            "",
            [*path, "tolerance"],
            limit.tolerance,
            **percent,
        ),
        Field(
            "softness", "slider", "Soft edge", "", [*path, "softness"], limit.softness, **percent
        ),
    ]


def _mark_fields(limit, path: list) -> list[Field]:
    return [Field("feather", "number_length", "Soft edge", "", [*path, "feather"], limit.feather)]


LIMIT_FIELDS = {"region": _region_fields, "colour": _colour_fields, "mark": _mark_fields}


def range_words(name: str, found: BlendRange) -> str:
    """What a range lets through, in a few words."""
    low, high = (round(255 * one) for one in (found.shown_from, found.shown_to))
    reads = "" if found.reads == "luminance" else f"{found.reads} "
    if high == 255 and low > 0:
        where = f"{reads}from {low}"
    elif low == 0 and high < 255:
        where = f"{reads}up to {high}"
    else:
        where = f"{reads}{low} to {high}"
    of = {"range_own": "its own", "range_input": "what it lands on"}.get(name, "what is beneath")
    return f"{'all but ' if found.outside else ''}{where} of {of}"


def fade_words(fade: Fade) -> str:
    """In a few words."""
    return f"fading {100 * fade.start:.0f} to {100 * fade.end:.0f} %"


def landings_of(piece: Piece) -> list[tuple[str, list, Landing]]:
    """(title, path, landing) of all steps and of how all marks land."""
    found = []
    for part, treatment in piece.treatments().items():
        base = piece.way_to(part)
        named = {"piece": "Whole piece", "ground": "Ground"}.get(part) or name_of(piece.item(part))
        for step in treatment:
            title = f"{named[:20]}: {STEPS.named(step.kind).title}"
            found.append((title, [*base, "treatment", step.id, "landing"], step.landing))
        if part not in ("piece", "ground"):
            item = piece.item(part)
            found.append((f"{named[:20]}: how it lands", [*base, "landing"], item.landing))
    return found
