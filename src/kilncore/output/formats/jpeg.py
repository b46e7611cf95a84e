"""JPEG (ITU-T T.81): 8 bits, sRGB profile and ppi embedded, chroma in full; on white where it is
see-through, since the format knows no transparency.
"""

from pathlib import Path

import pyvips
from pydantic import Field

from kilncore.errors import KilnError
from kilncore.model.base import Model
from kilncore.output.formats.base import output_format

MOST_SIDE = 65_500  # px: what libjpeg writes
WHITE = [255, 255, 255]


class JpegSettings(Model):
    """quality : of the quantisation, 1 to 100."""

    quality: int = Field(
        92, ge=1, le=100, title="Quality", description="Less makes smaller files, with ringing."
    )


@output_format(
    "jpeg",
    title="JPEG",
    sentence="Smaller, on white where it is see-through.",
    suffix="jpg",
    media_type="image/jpeg",
    settings=JpegSettings,
)
def write_jpeg(image: pyvips.Image, target: Path, settings: JpegSettings) -> None:
    """Write the file. KilnError for a side that is too long."""
    if max(image.width, image.height) > MOST_SIDE:
        raise KilnError(f"A JPEG has {MOST_SIDE:,} px each way at most.", str(image.width))
    flat = image.flatten(background=WHITE) if image.hasalpha() else image
    flat.jpegsave(
        str(target),
        Q=settings.quality,
        subsample_mode="off",
        optimize_coding=True,
        profile="srgb",
        keep="exif,icc",  # with `icc` alone its ppi would be lost
    )
