"""Every change to the shelf."""

import math
from pathlib import PurePath

import numpy as np

from kilncore.errors import KilnError
from kilncore.measure.histogram import coverage, histogram
from kilncore.output.png import as_image
from kilncore.textures import makers, reading
from kilncore.textures.texture import Texture as Pixels
from kilnmark.shelf.models import Texture
from kilnmark.storage import assets


def upload(owner, name: str, data: bytes, *, credit: str = "", licence: str = "") -> Texture:
    """Keep an uploaded PNG or JPEG as it came; UnusableFile, with the reason, keeps nothing."""
    pixels = reading.read(data)
    return _kept(owner, PurePath(name).stem, data, pixels, credit=credit, licence=licence)


def make(owner, maker: str, name: str, width: int, height: int, seed: int, settings: dict) -> Texture:
    """Keep what a maker makes, with all it takes to make it again."""
    if maker not in makers.MAKERS:
        raise KilnError("There is no such maker.", maker)
    params = makers.MAKERS[maker].params.model_validate(settings)
    planes = makers.make(maker, width, height, seed, params)
    data = as_image(np.moveaxis(planes, 0, 2)).pngsave_buffer(compression=4)
    return _kept(owner, name or makers.MAKERS[maker].title, data, Pixels(planes), tiles=True, maker=maker, seed=seed,
                 settings=params.model_dump(), credit="Made here", licence="Yours")


def _kept(owner, name: str, data: bytes, pixels: Pixels, **facts) -> Texture:
    counts = histogram(pixels)
    width, height = pixels.size
    measured = {"width": width, "height": height, "histogram": counts, "coverage": coverage(counts),
                "contrast": _deviation(counts)}
    texture, _ = Texture.objects.get_or_create(
        owner=owner, hash=assets().keep(data), defaults={"name": name[:80] or "Texture", **measured, **facts}
    )
    return texture


def _deviation(counts: list[int]) -> float:
    tones, weights = np.arange(256) / 255, np.array(counts, float)
    mean = np.average(tones, weights=weights)
    return math.sqrt(np.average((tones - mean) ** 2, weights=weights))


def fitting(owner, kind: str) -> Texture | None:
    """A texture to begin a new step with: the boldest for wearing, the richest calm one for coating."""
    shelf = Texture.objects.filter(owner=owner)
    if kind == "wear":
        return shelf.order_by("-contrast").first()
    return shelf.filter(contrast__lt=0.2).order_by("-contrast").first() or shelf.first()
