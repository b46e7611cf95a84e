"""PNG (W3C, third edition): 8 bits a channel, sRGB profile embedded, ppi in pHYs."""

from pathlib import Path

import pyvips
from pydantic import Field

from kilncore.model.base import Model
from kilncore.output.formats.base import output_format


class PngSettings(Model):
    """compression : of zlib. Level 3 is nearly as small as 6, in half the time."""

    compression: int = Field(
        3, ge=1, le=9, title="Compression", description="More takes longer and makes smaller files."
    )


@output_format(
    "png",
    title="PNG",
    sentence="Every pixel as it is, with transparency.",
    suffix="png",
    media_type="image/png",
    settings=PngSettings,
)
def write_png(image: pyvips.Image, target: Path, settings: PngSettings) -> None:
    """Write the file. image : its resolution, in px per mm, becomes pHYs."""
    image.pngsave(
        str(target), compression=settings.compression, filter="sub", profile="srgb", keep="icc"
    )
