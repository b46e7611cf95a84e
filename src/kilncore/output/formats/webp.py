"""WebP (RFC 9649): 8 bits, with transparency, sRGB profile embedded; it holds no ppi."""

from pathlib import Path

import pyvips
from pydantic import Field

from kilncore.errors import KilnError
from kilncore.model.base import Model
from kilncore.output.formats.base import output_format

MOST_SIDE = 16_383  # px: the format's own


class WebpSettings(Model):
    """quality : 1 to 100; 100 keeps every pixel as it is."""

    quality: int = Field(
        90, ge=1, le=100, title="Quality", description="100 keeps every pixel as it is."
    )


@output_format(
    "webp",
    title="WebP",
    sentence="Small, for screens; it holds no ppi.",
    suffix="webp",
    media_type="image/webp",
    settings=WebpSettings,
)
def write_webp(image: pyvips.Image, target: Path, settings: WebpSettings) -> None:
    """Write the file. KilnError for a side that is too long."""
    if max(image.width, image.height) > MOST_SIDE:
        raise KilnError(f"A WebP has {MOST_SIDE:,} px each way at most.", str(image.width))
    lossless = settings.quality == 100
    quality = {"lossless": True, "effort": 0} if lossless else {"Q": settings.quality}
    image.webpsave(str(target), profile="srgb", keep="icc", **quality)
