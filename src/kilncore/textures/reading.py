"""Reading a file into a texture."""

from kilncore.pixels.reading import is_picture, planes_of
from kilncore.textures.drawn import drawn
from kilncore.textures.texture import Texture


def read(data: bytes) -> Texture:
    """A picture as a Texture, upright and in sRGB, or a sanitised drawing; UnusableFile, with a
    plain reason, if it cannot be one.
    """
    if not is_picture(data) and data.lstrip()[:1] == b"<":
        return drawn(data)
    return Texture(planes_of(data))
