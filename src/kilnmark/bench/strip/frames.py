"""The pictures of one part's treatment: bare first, finished last."""

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
from kilnmark.bench.pictures import Area, point_key
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
