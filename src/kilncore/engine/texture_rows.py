"""Textures as rows of a tape: straight from their own bytes where they lie pixel on pixel, else sampled first."""

from kilncore.box import Box
from kilncore.parts import TextureRef
from kilncore.rows.tape import Row, Tape


def texture_rows(reader, tape: Tape, box: Box, ref: TextureRef, matrix, luminance: bool = False,
                 key: tuple | None = None) -> tuple[tuple[Row, ...], Row | None]:
    """A row of each channel, 0..1, within `box`, and of the share of each pixel that the texture covers, None without an end.

    One channel when only luminance is wanted. key : by which what is sampled may be kept for the next picture.
    """
    texture = reader.assets.texture(ref.hash)
    texture = texture.luminance if luminance else texture
    whole = texture.pixel_on_pixel(matrix, ref.edges)
    if whole is not None:
        return tape.repeated(texture.planes, whole[0] + tape.box.left, whole[1] + tape.box.top, texture.unit), None
    return sampled_rows(reader, tape, box, texture, ref, matrix, key)


def sampled_rows(reader, tape, box, texture, ref, matrix, key=None):
    def sample():
        return texture.sample(matrix, box.left, box.top, box.width, box.height, ref.edges)

    planes, share = reader.source((*key, box), sample) if key else sample()
    return tape.load(planes, box), None if share is None else tape.load(share[None], box)[0]
