"""What the sheet shows for each choice: the ground, a mark's art, a step, how a mark lands, the
whole piece.
"""

import json
import math
from dataclasses import replace

from kilncore.artwork import ARTS
from kilncore.artwork.drawn import DrawnArt
from kilncore.artwork.lettering import Lettering
from kilncore.document import Group, Mark, Piece, Step
from kilncore.engine.solved import SolvedWear, solved_wear
from kilncore.errors import KilnError
from kilncore.fills import FILLS
from kilncore.fills.base import GROUND
from kilncore.fills.colour import STOCK
from kilncore.landing import Landing
from kilncore.layout.layout import ItemBox, Layout
from kilncore.model.units import px_to_mm
from kilncore.steps import STEPS
from kilncore.wear.settings import POINTS, TONED
from kilnmark.bench.drawing.hand import Hand
from kilnmark.bench.holding.holds import Holds
from kilnmark.bench.sheet.laid import laid_of
from kilnmark.bench.sheet.placed import placed_of
from kilnmark.bench.sheet.remedies import Warned, warned_of
from kilnmark.bench.sheet.sheet import Line, OfferedFill, Sheet
from kilnmark.bench.sheet.surface_size import on_surface, sides, surface_notes
from kilnmark.bench.strip.tabs import tabs
from kilnmark.bench.words.typeface import typeface_of
from kilnmark.controls.fields import Field, fields_of, fresh
from kilnmark.pieces.landings import holders
from kilnmark.pieces.names import PARTS, names_of
from kilnmark.storage import assets

SOFT_FROM = 1.05  # times its own size


def several_sheet(piece: Piece, ids: list[str]) -> Sheet:
    """What can be done with several marks at once; KilnError if one is not there."""
    items = tuple(piece.item(one) for one in dict.fromkeys(ids))
    title = f"{len(items)} chosen"
    return Sheet("several", title, "Moved, lined up, grouped together.", "", several=items)


def sheet_for(piece: Piece, part: str, step: str, artworks: dict, fonts: dict) -> Sheet:
    """step : a step's id, 'bare' for the art or ground itself, 'lands' for how a mark lands.
    artworks, fonts : the rows of those that the piece names, by their hashes.
    """
    treatments = piece.treatments()
    if part not in treatments:
        raise KilnError("This part is no longer on the piece.", part)
    for place, candidate in enumerate(treatments[part]):
        if candidate.id == step:
            return _step_sheet(piece, part, candidate, place, len(treatments[part]))
    if part == "ground":
        return _ground_sheet(piece)
    if part == "piece":
        return _piece_sheet(piece)
    item = piece.item(part)
    if step == "lands":
        return _lands_sheet(piece, item)
    if item.kind == "group":
        return _group_sheet(piece, item)
    return _art_sheet(piece, item, artworks.get(getattr(item.art, "hash", "")), fonts)


def _landing(
    landing: Landing, path: list, results: tuple[str, ...] = ("paint",), own_mode: bool = False
) -> list[Field]:
    """The fields of a landing that count for what a step gives: a mode only where something is laid
    down that has none of its own, full strength once where something is taken away."""
    leave_out = ("mode",) if own_mode or set(results) <= {"cover", "move"} else ()
    return fields_of(
        landing, [*path, "landing"], leave_out, {"strength": 100} if results == ("cover",) else None
    )


def _step_sheet(piece: Piece, part: str, step: Step, place: int, count: int) -> Sheet:
    kind, path = STEPS.named(step.kind), [*piece.way_to(part), "treatment", step.id]
    fields = _with_edges(fields_of(step.params, [*path, "params"]))
    solved = _solved(piece, step)
    return Sheet(
        "step",
        kind.title,
        kind.sentence,
        part,
        [field for field in fields if not field.group],
        _landing(step.landing, path, kind.results(step.params), kind.own_mode(step.params)),
        step,
        place=place,
        count=count,
        path=tuple(path),
        placed=placed_of(piece, part, step.params, [*path, "params"]),
        solved=solved,
        warned=warned_of(piece, part, step, place),
        toned=tuple(one for one in fields if one.group == TONED and step.landing.strength < 1),
        lines=_lines(step, fields, solved),
        holds=Holds(piece, step.landing, [*path, "landing"], part, step.id),
        sharers=_sharers(piece, part, step),
    )


def _sharers(piece: Piece, part: str, step: Step) -> tuple[str, ...]:
    """The names of the other parts that a step is shared with."""
    if not step.shared:
        return ()
    names = names_of(piece) | PARTS
    return tuple(
        names[other]
        for other, steps in piece.treatments().items()
        if other != part and any(one.shared == step.shared for one in steps)
    )


def _with_edges(fields: list[Field]) -> list[Field]:
    """What lies beyond a texture stands with its place, where that has a line of its own."""
    texture = next((one for one in fields if one.control == "texture" and one.value), None)
    found = []
    for one in fields:
        if texture is not None and one.control == "placement" and one.group:
            found.append(replace(texture.edges, group=one.group))
            texture = None
        found.append(one)
    return found


def _lines(step: Step, fields: list[Field], solved: SolvedWear | None) -> tuple[Line, ...]:
    states = STEPS.named(step.kind).states(step.params)
    if solved is not None:
        tones = [str(math.floor(255 * min(max(one, 0), 1) + 0.5)) for one in _points(solved)]
        inverted = ", inverted" if step.params.invert else ""
        how = "kept" if solved.held else "solved"
        states = states | {POINTS: f"{' to '.join(tones)}, {how}{inverted}"}
    states = {title: state for title, state in states.items() if title != TONED}
    by_hand = solved is None and step.kind == "wear"
    return tuple(
        Line(title, state, [one for one in fields if one.group == title], by_hand and n == 0)
        for n, (title, state) in enumerate(states.items())
    )


def _points(solved: SolvedWear) -> tuple[float, float]:
    return solved.black, solved.white


def _solved(piece: Piece, step: Step) -> SolvedWear | None:
    try:
        return solved_wear(piece, step, assets())
    except KilnError:
        return None  # a lost file is told where it is drawn


def _neighbours(piece: Piece, part: str) -> dict:
    """Of a mark or group, in the same stack or group."""
    found = tabs(piece)
    tab = next(one for one in found if one.id == part)
    beside = {one.place: one.name for one in found if one.is_mark and one.holder == tab.holder}
    return {
        "tab": tab,
        "neighbours": (beside.get(tab.place - 1, ""), beside.get(tab.place + 1, "")),
    }


def _art_sheet(piece: Piece, mark: Mark, artwork, fonts: dict) -> Sheet:
    kind, path, layout = ARTS.named(mark.art.kind), piece.way_to(mark.id), Layout(piece)
    return Sheet(
        "art",
        kind.title,
        kind.sentence,
        mark.id,
        [*_name_of(mark, path), *fields_of(mark.art, [*path, "art"])],
        mark=mark,
        notes=_art_notes(piece, mark, layout) + _left_out(artwork),
        holding=tuple(holders(piece).get(mark.id, ())),
        placement=fields_of(mark.placement, [*path, "placement"]),
        laid=laid_of(layout, mark, path),
        artwork=artwork,
        drawn=Hand(piece, [*path, "art"], mark.id, tuple(mark.art.strokes))
        if isinstance(mark.art, DrawnArt)
        else None,
        typeface=typeface_of(mark.art, fonts) if isinstance(mark.art, Lettering) else None,
        placed=_placed_fill(piece, mark, [*path, "art", "fill"]),
        **_neighbours(piece, mark.id),
    )


def _placed_fill(piece: Piece, mark: Mark, path: list) -> tuple[Warned, ...]:
    fill = getattr(mark.art, "fill", None)
    return placed_of(piece, mark.id, fill, path) if fill else ()


def _name_of(mark: Mark, path: list) -> list[Field]:
    """Words are called by themselves."""
    return [] if isinstance(mark.art, Lettering) else fields_of(mark, path)


def _left_out(artwork) -> tuple[str, ...]:
    """What of a file did not come in."""
    notes = (artwork.facts or {}).get("notes", ()) if artwork else ()
    return tuple(f"{note[:1].upper()}{note[1:]}." for note in notes)


def _art_notes(piece: Piece, mark: Mark, layout: Layout) -> tuple[str, ...]:
    box, scale = layout.box(mark), layout.map(mark).scale
    notes = _sizes(piece, mark, box)
    if mark.art.kind == "picture" and scale > SOFT_FROM:
        notes += (f"Enlarged {scale:.1f} times: soft.",)
    for note in mark.art.notes():
        notes += (note,)
    return notes


def _sizes(piece: Piece, item: Mark | Group, box: ItemBox) -> tuple[str, ...]:
    across, down = (f"{px_to_mm(side, piece.ppi):.0f}" for side in sides(box))
    return (f"{across} x {down} mm in print", *on_surface(piece, item, box))


def _group_sheet(piece: Piece, group: Group) -> Sheet:
    way, layout = piece.way_to(group.id), Layout(piece)
    placement = fields_of(group.placement, [*way, "placement"])
    return Sheet(
        "art",
        "Group",
        "Marks treated as one: its steps meet them together.",
        group.id,
        fields_of(group, way),
        mark=group,
        placement=placement,
        notes=_sizes(piece, group, layout.box(group)),
        laid=laid_of(layout, group, way),
        holding=tuple(holders(piece).get(group.id, ())),
        **_neighbours(piece, group.id),
    )


def _lands_sheet(piece: Piece, mark: Mark | Group) -> Sheet:
    return Sheet(
        "lands",
        "How it lands",
        "How the finished mark meets what lies beneath it.",
        mark.id,
        landing=_landing(mark.landing, piece.way_to(mark.id)),
        mark=mark,
        holds=Holds(piece, mark.landing, [*piece.way_to(mark.id), "landing"], mark.id),
    )


def _ground_sheet(piece: Piece) -> Sheet:
    return Sheet(
        "ground",
        "Ground",
        "What lies at the bottom, and what marks can follow.",
        "ground",
        fields_of(piece.ground.fill, ["ground", "fill"]),
        fills=tuple(
            OfferedFill(kind.name, kind.title, fresh(kind))
            for kind in FILLS.values()
            if GROUND in kind.fills
        ),
        notes=surface_notes(piece),
        placed=placed_of(piece, "ground", piece.ground.fill, ["ground", "fill"]),
        mark_edits=_as_mark(piece),
    )


def _as_mark(piece: Piece) -> str:
    """The edits that make a picture of the ground a mark, on paper; '' for any other ground."""
    fill = piece.ground.fill
    if fill.kind != "picture":
        return ""
    art = fill.model_dump(mode="json", include={"kind", "hash", "width", "height", "chain"})
    width, height = piece.size_px
    place = {
        "x": {"value": width / 2, "unit": "px"},
        "y": {"value": height / 2, "unit": "px"},
        "scale": fill.scale_on(width, height),
    }
    mark = {"op": "add_mark", "mark": {"kind": "mark", "art": art, "placement": place}}
    value = {"kind": "colour", "colour": STOCK}
    return json.dumps([mark, {"op": "set", "path": ["ground", "fill"], "value": value}])


def _piece_sheet(piece: Piece) -> Sheet:
    mm = [f"{px_to_mm(side, piece.ppi):.0f}" for side in piece.size_px]
    notes = (f"{piece.size_px[0]} x {piece.size_px[1]} px, {mm[0]} x {mm[1]} mm",)
    return Sheet(
        "piece",
        "Whole piece",
        "Steps here treat everything at once.",
        "piece",
        fields_of(piece, []),
        notes=notes,
    )
