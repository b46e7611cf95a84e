"""PNG (W3C, third edition) of 16 bits a channel: what is fine stays fine when it is toned again
elsewhere.
"""

from kilncore.output.formats.base import output_format
from kilncore.output.formats.png import PngSettings, write_png

output_format(
    "png16",
    title="PNG, 16 bits",
    sentence="Finer tones, for what is toned again elsewhere.",
    suffix="png",
    media_type="image/png",
    settings=PngSettings,
    bits=16,
)(write_png)
