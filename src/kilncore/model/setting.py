"""A field of a model as it is shown: how every form, of a step, an art, a fill, a landing or a
maker, is drawn from its model.
"""

import re
from typing import Any

from pydantic import Field


def setting(
    default: Any,
    title: str,
    text: str,
    control: str,
    *,
    soft: tuple[float, float] | None = None,
    unit: str = "",
    fold: bool = False,
    reload: bool = False,
    factor: float = 1,
    choices: tuple | None = None,
    step: float | str = "any",
    if_: str = "",
    group: str = "",
    ends: tuple[str, str, str] | None = None,
    **bounds: Any,
):
    """A field with all that its control needs.

    title : its label. text : one line of help. control : the name of the field's template. soft :
    (least, most) of a slider; `bounds` are what is allowed. step : of the slider. unit : shown
    beside it. fold : shown only when "more" is opened. reload : the form changes with it. factor :
    the shown value is so many times the stored one. if_ : another field of the model; shown only
    where that is switched on, off ('!name'), or one of some values ('name=this,that').
    choices : ((value, title), ...) of a choice; of a maker's,
    nothing else is allowed. group : the title of the closed line of its sheet
    in which it stands.
    """
    extra: dict[str, Any] = {
        "control": control,
        "unit": unit,
        "soft": soft,
        "fold": fold,
        "reload": reload,
        "factor": factor,
        "choices": choices,
        "step": step,
        "if": if_,
        "group": group,
        "ends": ends,
    }
    if control == "made_choice" and choices:
        names = "|".join(re.escape(str(name)) for name, _ in choices)
        bounds["pattern"] = f"^({names})$"
    return Field(default, title=title, description=text, json_schema_extra=extra, **bounds)


def percent(
    default: Any,
    title: str,
    text: str = "",
    least: float = 0,
    most: float = 1,
    soft: tuple[float, float] | None = None,
    **more: Any,
):
    """A share on a slider, shown in per cent; soft : (least, most) of the slider, in per cent."""
    ends = soft or (100 * least, 100 * most)
    slider: Any = {"unit": "%", "factor": 100, "soft": ends, "ge": least, "le": most, "step": 1}
    return setting(default, title, text, "slider", **slider | more)


def tone(
    default: Any,
    title: str,
    text: str = "",
    least: float = 0,
    most: float = 1,
    soft: tuple[float, float] = (0, 255),
    **more: Any,
):
    """A tone on a slider, shown as 0 to 255; soft : (least, most) of the slider."""
    slider: Any = {"factor": 255, "soft": soft, "ge": least, "le": most}
    return setting(default, title, text, "slider", **slider | more)
