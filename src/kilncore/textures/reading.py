"""Reading a picture file into a texture."""

from kilncore.pixels.reading import planes_of
from kilncore.textures.texture import Texture


def read(data: bytes) -> Texture:
    """The picture as a Texture, upright and in sRGB; UnusableFile, with a plain reason, if it
    cannot be one.
    """
    return Texture(planes_of(data))
