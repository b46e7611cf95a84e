"""The strip: the pictures of one part's treatment, bare first, finished last; and the tabs above
it.
"""

import json
import math
from dataclasses import dataclass
from functools import partial

from kilncore.blending.modes import BLEND_MODES
from kilncore.document import Piece
from kilncore.engine.plan import Point
from kilncore.engine.solved import solved_wear
from kilncore.errors import KilnError
from kilncore.fills import FILLS
from kilncore.model.units import format_number
from kilncore.steps import STEPS
from kilncore.steps.base import GROUPS
from kilnmark.bench.pictures import Area, point_key, points_of
from kilnmark.pieces.names import name_of
from kilnmark.storage import assets

MOST_AWAY = 1e6


@dataclass(frozen=True)
class Frame:
    """One picture. step : a step's id, 'bare' or 'lands'. number : how many steps are
    done in it.
    """

    step: str
    number: int
    title: str
    summary: str
    key: str
    on: bool = True
    missed: str = ""  # the step's path, where its aim was missed: it can be solved again

    @property
    def missed_path(self) -> str:
        return json.dumps([*json.loads(self.missed), "params", "held"])

    @property
    def movable(self) -> bool:
        return self.step not in ("bare", "lands")


@dataclass(frozen=True)
class Tab:
    """holder : the group it is in, '' if in none. depth : how many groups it is in. place,
    count : of it in what holds it, of how many.
    """

    id: str
    name: str
    holder: str = ""
    depth: int = 0
    place: int = 0
    count: int = 0
    group: bool = False
    locked: bool = False
    left_out: bool = False

    @property
    def below(self) -> int:
        return self.place - 1

    @property
    def above(self) -> int:
        return self.place + 1

    @property
    def is_mark(self) -> bool:
        return self.id not in ("ground", "piece")


def tabs(piece: Piece) -> list[Tab]:
    """Of all parts in stacking order, bottom up, a group before its members."""
    return [Tab("ground", "Ground"), *_tabs(piece.stack), Tab("piece", "Whole piece")]


def _tabs(items, holder: str = "", depth: int = 0):
    for place, item in enumerate(items):
        members = getattr(item, "members", ())
        yield Tab(
            item.id,
            name_of(item),
            holder,
            depth,
            place,
            len(items),
            bool(members),
            item.locked,
            item.left_out,
        )
        yield from _tabs(members, item.id, depth + 1)


def frames(piece: Piece, part: str, area: Area | None = None) -> list[Frame]:
    """area : of the piece, that all pictures show; None for that around the part."""
    treatments = piece.treatments()
    if part not in treatments:
        raise KilnError("This part is no longer on the piece.", part)
    make = partial(_frame, piece, part, area)
    found = [make("bare", 0, _first_title(part), _first_summary(piece, part))]
    for number, step in enumerate(treatments[part], 1):
        kind = STEPS.named(step.kind)
        summary, missed = _summary(kind, step), ""
        if told := _missed(piece, step):
            summary, missed = told, json.dumps([*piece.way_to(part), "treatment", step.id])
        found.append(make(step.id, number, kind.title, summary, step.on, missed))
    if part not in ("ground", "piece"):
        landing = piece.item(part).landing
        text = f"{BLEND_MODES[landing.mode].title.lower()}, {landing.strength:.0%}".replace(
            "%", " %"
        )
        found.append(make("lands", len(treatments[part]) + 1, "On the piece", text))
    return found


def offered(part: str) -> list[tuple[str, list]]:
    """[(group, the kinds of step in it that can treat a part)], in the order of the work."""
    sort = part if part in ("ground", "piece") else "mark"
    kinds = [kind for kind in STEPS.values() if sort in kind.offered_for]
    grouped = [(group, [kind for kind in kinds if kind.group == group]) for group in GROUPS]
    return [(group, found) for group, found in grouped if found]


def point_at(piece: Piece, part: str, number: int) -> Point:
    """The point after `number` steps; KilnError if there are not that many."""
    known = part in piece.treatments() and isinstance(number, int)
    if not known or not 0 <= number < len(points_of(piece, part)):
        raise KilnError("This point is no longer on the piece.", f"{part}, {number}")
    return Point(part, number)


def _frame(piece, part, area, step, number, title, summary, on=True, missed="") -> Frame:
    key = point_key(piece, Point(part, number), area)
    return Frame(step, number, title, summary, key, on, missed)


def _missed(piece: Piece, step) -> str:
    """Of a wear whose aim was solved for other words or art: what it takes now, if that is not what
    is wanted.
    """
    if not step.on or getattr(step.params, "held", None) is None:
        return ""
    try:
        found = solved_wear(piece, step, assets())
    except KilnError:
        return ""
    if found is None or found.met:
        return ""
    taken, wanted = (format_number(round(100 * one, 1)) for one in (found.taken, step.params.share))
    return f"takes {taken} %, {wanted} % aimed for"


def area_of(text: str) -> Area | None:
    """An area as an address tells it, 'x,y,width,height' in document px; None for anything else."""
    try:
        x, y, width, height = (float(one) for one in text.split(",")) if text else ()
    except ValueError:
        return None
    sound = all(map(math.isfinite, (x, y, width, height))) and min(width, height) > 0
    near = max(map(abs, (x, y, width, height))) < MOST_AWAY
    return (x, y, width, height) if sound and near else None


def _first_title(part: str) -> str:
    return {"ground": "Ground", "piece": "All marks"}.get(part, "Bare")


def _first_summary(piece: Piece, part: str) -> str:
    if part == "ground":
        return FILLS.named(piece.ground.fill.kind).summary
    if part == "piece":
        return "landed"
    item = piece.item(part)
    return item.art.kind if item.kind == "mark" else f"{len(item.members)} marks"


def _summary(kind, step) -> str:
    if not step.on:
        return "off"
    landing, mode = step.landing, ""
    if landing.mode != "normal" and not kind.own_mode(step.params):
        mode = f"{BLEND_MODES[landing.mode].title.lower()} "
    told = mode or landing.strength != 1
    strength = f"{mode}{landing.strength * 100:.0f} %, " if told else ""
    return strength + kind.summary(step.params)
