"""The fields of a sheet: each parameter of a model becomes a control, named by the model itself."""

import json
from dataclasses import dataclass
from typing import Any

from kilncore.model import Model
from kilncore.units import told_number

EDGES = (("repeat", "The texture again"), ("mirror", "Its mirror image"), ("none", "Nothing"))


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
    choices: tuple = ()
    factor: float = 1  # shown value = factor x stored value

    @property
    def template(self) -> str:
        return f"bench/fields/{self.control}.html"

    @property
    def json_path(self) -> str:
        return json.dumps(self.path)

    @property
    def id(self) -> str:
        return "f-" + "-".join(self.path[-3:])

    @property
    def units(self) -> tuple[str, ...]:
        return ("px", "mm", "%")

    @property
    def parts(self) -> list["Field"]:
        """The numbers of a texture's placement."""
        place = self.value
        return [
            Field("x", "number_length", "Across", "", [*self.path, "x"], place.x),
            Field("y", "number_length", "Down", "", [*self.path, "y"], place.y),
            Field("scale", "number", "Scale", "", [*self.path, "scale"], place.scale, "%", 2, 5000, factor=100),
            Field("rotation_deg", "number", "Turn", "", [*self.path, "rotation_deg"], place.rotation_deg, "°", -360, 360),
        ]

    @property
    def edges(self) -> "Field":
        """Of a texture: what lies beyond it."""
        return Field("edges", "choice", "Beyond it", "", [*self.path, "edges"], self.value.edges, choices=EDGES)

    @property
    def flips(self) -> list["Field"]:
        return [Field(name, "toggle", title, "", [*self.path, name], getattr(self.value, name))
                for name, title in (("flip_x", "Flip across"), ("flip_y", "Flip down"))]

    @property
    def shown(self):
        return told_number(self.value * self.factor) if isinstance(self.value, float | int) else self.value


def fields_of(params: Model, path: list) -> list[Field]:
    """The controls of a step's parameters. Fields that share one control (the levels) come as one."""
    fields, seen = [], set()
    for name, info in type(params).model_fields.items():
        extra = info.json_schema_extra or {}
        control = extra.get("control")
        if control is None or control == "levels" and control in seen:
            continue
        seen.add(control)
        least, most = extra.get("soft") or (None, None)
        fields.append(Field(
            name=name, control=control, title=info.title, help=info.description, unit=extra.get("unit", ""),
            path=path if control == "levels" else [*path, name],
            value=params if control == "levels" else getattr(params, name),
            least=least, most=most, fold=extra.get("fold", False),
        ))
    return fields
