"""TIFF (6.0): 8 bits, deflated, sRGB profile and ppi embedded, transparency beside its colours."""

from pathlib import Path

import pyvips

from kilncore.model.base import Model
from kilncore.output.formats.base import output_format


class TiffSettings(Model):
    """Nothing is set of it: it loses nothing."""


@output_format(
    "tiff",
    title="TIFF",
    sentence="Every pixel as it is, for print.",
    suffix="tif",
    media_type="image/tiff",
    settings=TiffSettings,
)
def write_tiff(image: pyvips.Image, target: Path, settings: TiffSettings) -> None:
    """Write the file. image : its resolution, in px per mm, becomes its ppi."""
    image.tiffsave(
        str(target),
        compression="deflate",
        predictor="horizontal",
        resunit="inch",
        profile="srgb",
        keep="icc",
    )
