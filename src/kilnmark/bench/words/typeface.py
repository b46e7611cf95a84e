"""What the sheet shows of the face of a lettering: its name, its axes, its switchable forms."""

from dataclasses import dataclass

from kilncore.artwork.lettering import Lettering
from kilncore.typesetting.features import AXES, ON, offered
from kilncore.typesetting.shipped import SHIPPED
from kilnmark.faces.actions import MOST_LETTERS
from kilnmark.faces.models import Font

SHIPPED_BY_NAME = {one.name: one for one in SHIPPED}


@dataclass(frozen=True)
class Axis:
    tag: str
    title: str
    least: float
    most: float
    value: float


@dataclass(frozen=True)
class Form:
    """An OpenType feature that can be switched. on : as the words are set now."""

    tag: str
    title: str
    on: bool


@dataclass(frozen=True)
class Typeface:
    ref: str
    title: str
    sort: str
    text: str
    axes: list[Axis]
    forms: list[Form]


def typeface_of(art: Lettering, fonts: dict[str, Font]) -> Typeface:
    """fonts : one's own, by their hashes."""
    face, own = art.face, fonts.get(str(art.font))
    titles = {axis["tag"]: axis["title"] for axis in own.facts.get("axes", ())} if own else AXES
    set_axes = dict(art.axes)
    axes = [
        Axis(
            info.tag,
            titles.get(info.tag, info.tag),
            info.min_value,
            info.max_value,
            set_axes.get(info.tag, info.default_value),
        )
        for info in face.axis_infos
    ]
    usual = {tag: tag in ON and not (art.tracking and tag == "liga") for tag in face.features}
    forms = [
        Form(tag, title, art.features.get(tag, usual.get(tag, False)))
        for tag, title in offered(face.features)
    ]
    shipped = SHIPPED_BY_NAME.get(str(art.font))
    return Typeface(
        str(art.font),
        shipped.title if shipped else str(own or "A font of yours"),
        shipped.sort if shipped else (own.rights if own else ""),
        " ".join(art.text.split())[:MOST_LETTERS],
        axes,
        forms,
    )
