"""Texture coat: a texture laid over the art, blended."""

from kilncore.graph.protocols import View
from kilncore.landing import Landing
from kilncore.model.base import Model
from kilncore.model.texture import TexturePlacement
from kilncore.prep.texture_ref import TextureRef
from kilncore.steps.base import Paint, setting, step
from kilncore.textures.registers import premultiplied


class CoatSettings(Model):
    """What is laid over, and where."""

    texture: TextureRef | None = setting(None, "Texture", "What is laid over.", "texture")
    keep_to_art: bool = setting(
        True, "Keep to the art", "Off, it spills over onto all that lies around.", "toggle"
    )
    placement: TexturePlacement = setting(
        TexturePlacement(), "Texture on the piece", "Where the texture lies.", "placement"
    )


def summary(settings: CoatSettings) -> str:
    """In a few words."""
    if settings.texture is None:
        return "no texture yet"
    return "on the art" if settings.keep_to_art else "spilling over"


@step(
    "coat",
    title="Texture coat",
    sentence="A texture is laid over the art, blended.",
    gives="paint",
    settings=CoatSettings,
    summary=summary,
    spills=lambda settings: not settings.keep_to_art,
    landing=Landing(mode="multiply", strength=0.8),
)
def coat(settings: CoatSettings, view: View):
    """The texture, to be laid over."""
    if settings.texture is None:
        return None
    variance = view.texture_variance(settings.texture, settings.placement) if view.varies else None
    return Paint(
        premultiplied(*view.texture(settings.texture, settings.placement)),
        settings.keep_to_art,
        variance,
    )
