"""What the sheet shows for each choice: the ground, a mark's art, a step, how a mark lands, the whole piece."""

import json
from dataclasses import dataclass, field

from kilncore.artwork.fonts import FONTS
from kilncore.artwork.lettering import Lettering
from kilncore.document import Group, Mark, Piece, Step
from kilncore.engine.plans import plan_of
from kilncore.errors import KilnError
from kilncore.modes import BLEND_MODES
from kilncore.steps import kind_named
from kilncore.units import px_to_mm
from kilnmark.bench.fields import Field, fields_of

MODES = tuple((mode.name, mode.title) for mode in BLEND_MODES.values())


@dataclass(frozen=True)
class Sheet:
    """kind : the template's name. step, mark : what it is about. path : where a step lies in the document."""

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

    @property
    def template(self) -> str:
        return f"bench/sheets/{self.kind}.html"

    @property
    def step_on_path(self) -> str:
        return json.dumps([*self.path, "on"])

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


def sheet_for(piece: Piece, part: str, step: str) -> Sheet:
    """step : a step's id, 'bare' for the art or ground itself, 'lands' for how a mark lands."""
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
    return _group_sheet(piece, item) if item.kind == "group" else _art_sheet(piece, item)


def _base(piece: Piece, part: str) -> list:
    """Where a part lies in the document."""
    return {"ground": ["ground"], "piece": []}[part] if part in ("ground", "piece") else piece.way_to(part)


def _strength(path: list, value: float, most: float = 300) -> Field:
    return Field("strength", "slider", "Strength", "", [*path, "landing", "strength"], value, "%", 0, most, 1, factor=100)


def _mode(path: list, value: str) -> Field:
    return Field("mode", "choice", "Blend mode", "", [*path, "landing", "mode"], value, choices=MODES)


def _step_sheet(piece: Piece, part: str, step: Step, place: int, count: int) -> Sheet:
    kind = kind_named(step.kind)
    path = [*_base(piece, part), "treatment", step.id]
    landing = [] if set(kind.results) <= {"cover", "move"} else [_mode(path, step.landing.mode)]
    landing.append(_strength(path, step.landing.strength, 100 if kind.results == ("cover",) else 300))
    return Sheet("step", kind.title, kind.sentence, part, fields_of(step.params, [*path, "params"]), landing, step,
                 place=place, count=count,
                 path=tuple(path))


def _art_sheet(piece: Piece, mark: Mark) -> Sheet:
    art = [*piece.way_to(mark.id), "art"]
    box = plan_of(piece).boxes()[mark.id]
    if isinstance(mark.art, Lettering):
        kind, title, sentence = "lettering", "Lettering", "Live text: change it and every step stays."
        fields = _lettering_fields(mark.art, art)
    else:
        kind, title, sentence = "vector", "Vector art", "An SVG, drawn sharp at any size."
        fields = []
    fields += _placement_fields(piece, mark)
    notes = (f"{px_to_mm(box.width, piece.ppi):.0f} x {px_to_mm(box.height, piece.ppi):.0f} mm on the piece",)
    if missing := mark.art.missing():
        notes += (f"This font has no {' '.join(missing)}: it shows a box there. Choose another font.",)
    return Sheet(kind, title, sentence, mark.id, fields, mark=mark, notes=notes)


def _lettering_fields(art: Lettering, path: list) -> list[Field]:
    return [
        Field("text", "text", "Words", "", [*path, "text"], art.text),
        Field("font", "choice", "Font", "", [*path, "font"], art.font, choices=tuple(FONTS.items())),
        Field("size", "length", "Size", "Of the em.", [*path, "size"], art.size, least=10, most=1000),
        Field("tracking", "slider", "Tracking", "Room between letters.", [*path, "tracking"], art.tracking,
              "‰ em", -100, 400, 1),
        Field("line_spacing", "slider", "Line spacing", "", [*path, "line_spacing"], art.line_spacing, "x", 0.6, 2.5, 0.01),
        Field("align", "choice", "Alignment", "", [*path, "align"], art.align,
              choices=(("left", "Left"), ("centre", "Centre"), ("right", "Right"))),
        Field("colour", "colour", "Colour", "", [*path, "colour"], art.colour),
    ]


def _placement_fields(piece: Piece, mark: Mark | Group) -> list[Field]:
    path, place = [*piece.way_to(mark.id), "placement"], mark.placement
    return [
        Field("x", "number_length", "Across", "", [*path, "x"], place.x),
        Field("y", "number_length", "Down", "", [*path, "y"], place.y),
        Field("scale", "number", "Scale", "", [*path, "scale"], place.scale, "%", 1, 10000, "any", factor=100),
        Field("rotation_deg", "number", "Turn", "", [*path, "rotation_deg"], place.rotation_deg, "°", -360, 360),
    ]


def _group_sheet(piece: Piece, group: Group) -> Sheet:
    return Sheet("group", "Group", "Marks treated as one: its steps meet them together.", group.id,
                 _placement_fields(piece, group), mark=group)


def _lands_sheet(piece: Piece, mark: Mark | Group) -> Sheet:
    path = piece.way_to(mark.id)
    landing = [_mode(path, mark.landing.mode), _strength(path, mark.landing.strength)]
    return Sheet("lands", "How it lands", "How the finished mark meets what lies beneath it.", mark.id, landing=landing, mark=mark)


def _ground_sheet(piece: Piece) -> Sheet:
    fill, path = piece.ground.fill, ["ground", "fill"]
    fields = []
    if fill.kind == "colour":
        fields.append(Field("colour", "colour", "Colour", "", [*path, "colour"], fill.colour))
    if fill.kind == "texture":
        fields.append(Field("texture", "texture", "Texture", "", [*path, "texture"], fill.texture))
        fields.append(Field("placement", "placement", "Texture on the piece", "", [*path, "placement"], fill.placement))
    return Sheet("ground", "Ground", "What lies at the bottom, and what marks can follow.", "ground", fields)


def _piece_sheet(piece: Piece) -> Sheet:
    mm = [f"{px_to_mm(side, piece.ppi):.0f}" for side in piece.size_px]
    fields = [
        Field("title", "line", "Title", "", ["title"], piece.title),
        Field("ppi", "number", "Resolution", "", ["ppi"], piece.ppi, "ppi", 10, 2400),
    ]
    notes = (f"{piece.size_px[0]} x {piece.size_px[1]} px, {mm[0]} x {mm[1]} mm",)
    return Sheet("piece", "Whole piece", "Steps here treat everything at once.", "piece", fields, notes=notes)
