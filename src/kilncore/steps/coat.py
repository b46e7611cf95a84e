"""Texture coat: a texture laid over the art, blended."""

from kilncore.landing import Landing
from kilncore.model import Model
from kilncore.parts import TexturePlacement, TextureRef
from kilncore.rows.tape import Row
from kilncore.steps.base import Paint, setting, step


class CoatParams(Model):
    texture: TextureRef | None = setting(None, "Texture", "What is laid over.", "texture")
    keep_to_art: bool = setting(True, "Keep to the art", "Off, it spills over onto all that lies around.", "toggle")
    placement: TexturePlacement = setting(TexturePlacement(), "Texture on the piece", "Where the texture lies.", "placement")


def summary(params: CoatParams) -> str:
    if params.texture is None:
        return "no texture yet"
    return "on the art" if params.keep_to_art else "spilling over"


@step("coat", title="Texture coat", sentence="A texture is laid over the art, blended.", gives="paint",
      params=CoatParams, summary=summary, spills=lambda params: not params.keep_to_art, landing=Landing(mode="multiply", strength=0.8))
def coat(params: CoatParams, view):
    if params.texture is None:
        return None
    return Paint(as_paint(*view.texture(params.texture, params.placement)), params.keep_to_art)


def as_paint(rows: tuple[Row, ...], share: Row | None) -> tuple[Row, ...]:
    """A sampled texture's channels as what Paint takes; premultiplied with alpha where the texture has an end or alpha.

    Resampling may carry colour a hair above alpha: it is held.
    """
    if len(rows) == 4:
        *rows, share = rows
    if share is None:
        return rows
    colour = [share.tape.row("least", row, share) for row in rows]
    return (*(colour * 3 if len(colour) == 1 else colour), share)
