"""What an output format is, and how one is added.

A format is one module: a settings model and a function (image, target, settings) that writes an
image of libvips to a path. The image comes from a raw file of bands, so that none is ever whole
in memory. Register it with `@output_format(...)` and name the module in `formats/__init__.py`.
"""

from collections.abc import Callable
from dataclasses import dataclass

from kilncore.model.base import Model
from kilncore.model.registry import Registry


@dataclass(frozen=True)
class Format:
    """name : by which it is asked for. title, sentence : as it is offered. suffix : of its files.
    media_type : as it is sent. bits : a channel, 8 or 16, of the image that it is given. write :
    (image, path, settings).
    """

    name: str
    title: str
    suffix: str
    media_type: str
    settings: type[Model]
    write: Callable
    sentence: str = ""
    bits: int = 8


FORMATS = Registry("a format")
output_format = FORMATS.decorator(Format, "write")
