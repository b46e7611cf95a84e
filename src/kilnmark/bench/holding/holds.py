"""What holds a landing, for its sheet: blend ranges, limits, a fade; each in words, switched off
without being lost, removed, copied to another landing; and what more there can be.
"""

import json
import math
from dataclasses import dataclass

from kilncore.document import Piece
from kilncore.landing import Landing
from kilncore.landing.limits.base import Limit
from kilncore.landing.model import MOST_RANGES, READS, BlendRange
from kilncore.layout.layout import Layout, upright
from kilncore.pixels.colour_words import colour_words
from kilnmark.bench.drawing.hand import Hand
from kilnmark.bench.holding.in_words import fade_numbers, fade_words, range_numbers, range_words
from kilnmark.controls.fields import Field
from kilnmark.pieces.landings import landings_of
from kilnmark.pieces.names import names_of

RANGES = {  # (in an offer, as a title)
    "own": ("the tones it lays on", "Tones it lays on"),
    "input": ("the tones of the art", "Tones of the art"),
    "beneath": ("the tones of the surface", "Tones of the surface"),
}
SOFT = {"hidden_below": 0.16, "shown_from": 0.36}  # a new range: the lights, with a wide shoulder
FADES = (("straight", "Straight"), ("round", "Round"), ("sweep", "Sweeping round"))
MOST_LIMITS = 8
MOST = {"limits": MOST_LIMITS, "ranges": MOST_RANGES}


@dataclass(frozen=True)
class Hold:
    """path : where it lies. state : what it does, in words; short : the same beside its title.
    removal : the edit that takes it away, copies : [(where to, edit)], as JSON. opposites : copies
    that hold on the other side, `opposite` in words. fault : why nothing lands; remedy : the edits
    that mend it, as JSON. colour : that it is kept to.
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
    fault: str = ""
    remedy: str = ""
    opposite: str = ""
    opposites: tuple[tuple[str, str], ...] = ()
    colour: str = ""

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

    def _without(self, name: str, one_id: str) -> str:
        """A list without one of its items."""
        return self._set(
            name, [one for one in _told(getattr(self.landing, name)) if one["id"] != one_id]
        )

    @property
    def together_path(self) -> str:
        """Of whether all of its limits hold, or any."""
        return json.dumps([*self.path, "together"])

    @property
    def all(self) -> list[Hold]:
        """Those that there are."""
        ranges = [self._range(one) for one in self.landing.ranges]
        limits = [self._limit(one) for one in self.landing.limits]
        return ranges + limits + ([self._fade()] if self.landing.fade else [])

    @property
    def hand(self) -> Hand:
        """Its touch-up."""
        return Hand(self.piece, self.path, self.part, tuple(self.landing.touch), self.step)

    @property
    def state(self) -> str:
        """In one line."""
        told = [one.state for one in self.all if one.on]
        return ", ".join(told)

    # --- ranges ---

    def _range(self, found: BlendRange) -> Hold:
        path = [*self.path, "ranges", found.id]
        fields = [
            Field(found.of, "range", "Tones", "", path, found),
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
        title = RANGES[found.of][1]
        copies = self._copies("ranges", found.model_dump(mode="json", exclude={"id"}))
        state, removal = range_words(found), self._without("ranges", found.id)
        short = range_numbers(found)
        return Hold("range", title, state, path, found.on, fields, removal, copies, short)

    # --- limits ---

    def _limit(self, limit: Limit) -> Hold:
        path = [*self.path, "limits", limit.id]
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
        state, removal = title[:1].lower() + title[1:], self._without("limits", limit.id)
        copies = self._copies("limits", told)
        opposite = f"Kept {'in' if limit.outside else 'out of'} {self._name(limit)}"
        opposites = self._copies("limits", told | {"outside": not limit.outside})
        more = {"opposite": opposite, "opposites": opposites, **self._fault(limit, path)}
        more["colour"] = getattr(limit, "colour", "")
        return Hold("limit", title, state, path, limit.on, fields, removal, copies, **more)

    def _fault(self, limit: Limit, path: list) -> dict:
        """Of a region that lies wholly off the piece, brought back to its middle."""
        if limit.kind != "region" or limit.outside:
            return {}
        width, height = self.piece.size_px
        length = Layout(self.piece).page_frame.page_length
        x, y, wide, tall = (length(getattr(limit, name)) for name in ("x", "y", "width", "height"))
        far = math.hypot(wide, tall) / 2 + length(limit.feather) / 2
        if -far < x < width + far and -far < y < height + far:
            return {}
        places = _lengths({"x": width / 2, "y": height / 2})
        edits = [
            {"op": "set", "path": [*path, axis], "value": value} for axis, value in places.items()
        ]
        return {
            "fault": "Nothing lands: this region lies off the piece.",
            "remedy": json.dumps(edits),
        }

    def _name(self, limit: Limit) -> str:
        if limit.kind == "mark":
            return names_of(self.piece)[str(limit.mark)]
        return colour_words(limit.colour) if limit.kind == "colour" else "a region"

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
        state = fade_words(fade, Layout(self.piece).page_frame.page_length)
        removal, short = self._set("fade", None), fade_numbers(fade)
        return Hold("fade", "Fading", state, path, fade.on, fields, removal, copies, short)

    # --- copies and more ---

    def _copies(self, name: str, value) -> tuple[tuple[str, str], ...]:
        """To the landings of other steps, and of marks."""
        found = []
        for title, path, landing in landings_of(self.piece):
            if path == self.path:
                continue
            kept = value
            if name in MOST:
                others = _told(getattr(landing, name))
                if len(others) >= MOST[name]:
                    continue
                kept = [*others, value]
            edit = {"op": "set", "path": [*path, name], "value": kept}
            found.append((title, json.dumps(edit)))
        return tuple(found)

    @property
    def offers(self) -> list[Offer]:
        """What more can hold it."""
        found = []
        if len(self.landing.ranges) < MOST_RANGES:
            old = _told(self.landing.ranges)
            found += [
                Offer(f"Through {words}", self._set("ranges", [*old, {"of": of, **SOFT}]))
                for of, (words, *_) in RANGES.items()
            ]
        if len(self.landing.limits) < MOST_LIMITS:
            found += self._limits_offered()
        if self.landing.fade is None:
            found.append(Offer("Fading", self._set("fade", self._fade_begun())))
        return found

    def _limits_offered(self) -> list[Offer]:
        old, names = _told(self.landing.limits), names_of(self.piece)
        offers = [("Kept in a colour", {"kind": "colour"})]  # which, is filled in
        offers.append(("Kept in a region", self._region_begun()))
        offers += [
            (
                f"Kept {'out of' if outside else 'in'} {names[mark.id]}",
                {"kind": "mark", "mark": mark.id, "outside": outside},
            )
            for mark in self.piece.items()
            if mark.id != self.part
            for outside in (False, True)
        ]
        return [Offer(title, self._set("limits", [*old, one])) for title, one in offers]

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


def _told(items) -> list[dict]:
    """Ranges or limits as the document has them."""
    return [one.model_dump(mode="json") for one in items]


def _lengths(numbers: dict[str, float]) -> dict:
    return {name: {"value": round(value, 1), "unit": "px"} for name, value in numbers.items()}


def _region_fields(limit, path: list) -> list[Field]:
    return [Field("place", "page_region", "Its place", "", path, limit)]


def _colour_fields(limit, path: list) -> list[Field]:
    percent = {"unit": "%", "factor": 100, "least": 0, "most": 60, "step": 1}
    return [
        Field("colour", "area_colour", "Colour", "", [*path, "colour"], limit.colour),
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
