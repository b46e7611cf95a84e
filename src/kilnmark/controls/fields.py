"""From a model to its form: each setting becomes a control, named by the model itself.

Steps, art, fills, landings, placements and makers all carry their settings
(`kilncore.model.setting`), and `fields_of` draws them all. A control is one template,
`templates/controls/NAME.html`, and, if it does more than hold a value, one script,
`static/controls/NAME.js`; both are found by their name.
"""

import json
from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

from annotated_types import Ge, Le
from pydantic import ValidationError

from kilncore.artwork.along import ALONG
from kilncore.fills import FILLS
from kilncore.fills.base import ART
from kilncore.model.base import Model
from kilncore.model.units import format_number
from kilncore.prep import OPERATIONS
from kilncore.prep.base import PICTURE

WHOLE = ("levels", "crop")  # controls that several settings of a model share
SHAPES = (("ellipse", "Ellipse"), ("rectangle", "Rectangle"))
OUTLINE = ("outline", "Freehand")
ONE_OF: dict[str, tuple[str, Callable[[], list]]] = {
    "fill": ("Colour", lambda: [kind for kind in FILLS.values() if ART in kind.fills]),
    "along": ("Straight", lambda: list(ALONG.values())),
}
EDGES = (
    ("repeat", "The texture again"),
    ("mirror", "Its mirror image"),
    ("endless", "More, endlessly"),
    ("none", "Nothing"),
)


@dataclass(frozen=True)
class Field:
    """One control. path : where its value lies in the document, as the browser sends it back."""

    name: str
    control: str
    title: str
    help: str
    path: list
    value: Any
    unit: str = ""
    least: float | None = None
    most: float | None = None
    step: float | str = "any"
    fold: bool = False
    reload: bool = False
    choices: tuple = ()
    factor: float = 1  # shown value = factor x stored value
    group: str = ""
    ends: tuple | None = None

    @property
    def template(self) -> str:
        """Of its control."""
        return f"controls/{self.control}.html"

    @property
    def json_path(self) -> str:
        """The path, as its element carries it."""
        return json.dumps(self.path)

    @property
    def id(self) -> str:
        """Of its element."""
        return "f-" + "-".join(self.path[-3:])

    @property
    def units(self) -> tuple[str, ...]:
        """Of a length."""
        return ("px", "mm", "%")

    @property
    def inner(self) -> list["Field"]:
        """The numbers of a texture's placement."""
        place = self.value
        return [
            Field("x", "number_length", "Across", "", [*self.path, "x"], place.x),
            Field("y", "number_length", "Down", "", [*self.path, "y"], place.y),
            Field(
                "scale",
                "number",
                "Scale",
                "",
                [*self.path, "scale"],
                place.scale,
                "%",
                2,
                5000,
                factor=100,
            ),
            Field(
                "rotation_deg",
                "number",
                "Turn",
                "",
                [*self.path, "rotation_deg"],
                place.rotation_deg,
                "°",
                -360,
                360,
            ),
        ]

    @property
    def operations(self) -> list["Operation"]:
        """Of a chain, in order."""
        return [
            Operation(one, [*self.path, one.id], place, place == len(self.value) - 1)
            for place, one in enumerate(self.value)
        ]

    @property
    def offered(self) -> list[tuple[str, str, str]]:
        """(title, sentence, edit) of the operations that a chain can have more of."""
        return [
            (
                kind.title,
                kind.sentence,
                json.dumps({"op": "add_operation", "path": self.path, "kind": name}),
            )
            for name, kind in OPERATIONS.items()
            if PICTURE in kind.serves
        ]

    @property
    def of_picture(self) -> str:
        """The path of the picture that a chain, or a field of one of its operations, is about."""
        return json.dumps(self.path[: self.path.index("chain")])

    @property
    def edges(self) -> "Field":
        """Of a texture: what lies beyond it."""
        return Field("edges", "edges", "Beyond it", "", self.path, self.value, choices=EDGES)

    @property
    def sizes(self) -> list["Field"]:
        """The numbers of a region."""
        return [
            Field(name, "number_length", title, "", [*self.path, name], getattr(self.value, name))
            for name, title in (
                ("x", "Across"),
                ("y", "Down"),
                ("width", "Width"),
                ("height", "Height"),
                ("feather", "Soft edge"),
            )
        ]

    @property
    def shapes(self) -> "Field":
        """Of a region."""
        path = [*self.path, "shape"]
        drawn = (OUTLINE,) if getattr(self.value, "outline", ()) else ()
        return Field("shape", "choice", "Shape", "", path, self.value.shape, choices=SHAPES + drawn)

    @property
    def flips(self) -> list["Field"]:
        """Of a texture's placement."""
        return [
            Field(name, "toggle", title, "", [*self.path, name], getattr(self.value, name))
            for name, title in (("flip_x", "Flip across"), ("flip_y", "Flip down"))
        ]

    @property
    def shown(self):
        """The value as it is shown."""
        return (
            format_number(self.value * self.factor)
            if isinstance(self.value, float | int)
            else self.value
        )

    @property
    def kinds(self) -> list[tuple[str, str, str]]:
        """(name, title, settings to begin with) of what can be chosen; '' of what has to be found
        first.
        """
        some = ONE_OF[self.control][1]()
        return [(kind.name, kind.title, fresh(kind)) for kind in some]

    @property
    def kind_of_none(self) -> str:
        """What it is called where none of them is chosen."""
        return ONE_OF[self.control][0]

    @property
    def members(self) -> list["Member"]:
        """Of a list of models, each with fields of its own."""
        return [Member(one, fields_of(one, [*self.path, one.id])) for one in self.value]

    @property
    def inner_fields(self) -> list["Field"]:
        """Of settings within it."""
        return fields_of(self.value, self.path) if self.value else []


class Folding:
    """What has `fields`, some of them behind "more"."""

    @property
    def shown_fields(self) -> list[Field]:
        """Those that stand open."""
        return [field for field in self.fields if not field.fold]

    @property
    def folded_fields(self) -> list[Field]:
        """The others."""
        return [field for field in self.fields if field.fold]


@dataclass(frozen=True)
class Member:
    """One of a list of models. of : the model."""

    of: Any
    fields: list[Field]


@dataclass(frozen=True)
class Operation:
    """One operation of a chain. path : where it lies in the document."""

    settings: Model
    path: list
    place: int
    last: bool

    @property
    def kind(self):
        return OPERATIONS.named(self.settings.kind)

    @property
    def fields(self) -> list[Field]:
        return fields_of(self.settings, self.path)

    @property
    def on_path(self) -> str:
        return json.dumps([*self.path, "on"])

    def _edit(self, op: str, **more) -> str:
        return json.dumps({"op": op, "path": self.path[:-1], "operation": self.settings.id, **more})

    @property
    def removal(self) -> str:
        return self._edit("remove_operation")

    @property
    def earlier(self) -> str:
        return self._edit("move_operation", to=self.place - 1)


def fields_of(
    model: Model, path: list, leave_out: tuple[str, ...] = (), most: dict[str, float] | None = None
) -> list[Field]:
    """The controls of a model's settings, in order. Settings that share one control (the levels)
    come as one field.

    path : of the model in the document. leave_out : settings that are not shown here. most : other
    ends of sliders, by setting.
    """
    fields, shared = [], set()
    for name, info in type(model).model_fields.items():
        extra = info.json_schema_extra or {}
        control = extra.get("control")
        if not wanted(model, extra.get("if", "")):
            continue
        if control is None or name in leave_out or control in WHOLE and control in shared:
            continue
        shared.add(control)
        fields.append(_field(model, path, name, info, extra, (most or {}).get(name)))
    return fields


def condition_of(info: Any) -> str:
    """On which other setting it depends whether a field of a model is shown; '' of any other."""
    extra = getattr(info, "json_schema_extra", None)
    return extra.get("if", "") if isinstance(extra, dict) else ""


def wanted(model: Model, condition: str) -> bool:
    """Whether a setting is shown that depends on another one, on its being off ('!name'), or on one
    of several values ('name=this,that'); '&' joins such conditions.
    """
    if not condition:
        return True
    if "&" in condition:
        return all(wanted(model, one) for one in condition.split("&"))
    if "=" in condition:
        name, values = condition.split("=")
        return str(getattr(model, name)) in values.split(",")
    return bool(getattr(model, condition.removeprefix("!"))) != condition.startswith("!")


def _field(model: Model, path: list, name: str, info, extra: dict, most: float | None) -> Field:
    whole = extra["control"] in WHOLE
    ends = extra.get("soft") or _bounds(info)
    return Field(
        name=name,
        control=extra["control"],
        title=info.title,
        help=info.description,
        path=path if whole else [*path, name],
        value=model if whole else getattr(model, name),
        unit=extra["unit"],
        least=ends[0],
        most=ends[1] if most is None else most,
        step=extra["step"],
        fold=extra["fold"],
        reload=extra["reload"],
        choices=extra["choices"] or (),
        factor=extra["factor"],
        group=extra["group"],
        ends=extra["ends"],
    )


def _bounds(info) -> tuple[float | None, float | None]:
    least = next((rule.ge for rule in info.metadata if isinstance(rule, Ge)), None)
    return least, next((rule.le for rule in info.metadata if isinstance(rule, Le)), None)


def fresh(kind: Any) -> str:
    """The settings with which a fill begins, as JSON; '' where something has to be chosen first."""
    try:
        return kind.settings().model_dump_json(exclude={"kind"})
    except ValidationError:
        return ""
