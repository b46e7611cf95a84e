"""A field of a model as it is shown: how every form, of a step, an art, a fill, a landing or a
maker, is drawn from its model.
"""

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
    choices : ((value, title), ...) of a choice. group : the title of the closed line of its sheet
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
    return Field(default, title=title, description=text, json_schema_extra=extra, **bounds)
