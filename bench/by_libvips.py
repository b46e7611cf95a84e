"""The same twelve steps with libvips, which divides the work among its own threads."""

import numpy as np
import pyvips

from bench import work
from kilncore.pixels.vips import as_image


def composite(art, textures):
    """art : (H, W) uint8. textures : name -> (H, W, C) uint8 of the piece's size. Returns uint8."""
    pictures = {name: _rgb(pixels) for name, pixels in textures.items()}
    ground = pictures["concrete"]
    colour = [int(work.COLOUR[i : i + 2], 16) for i in (1, 3, 5)]
    alpha = as_image(art[..., None]) / 255 * _levels(_luma(pictures["grunge"]), *work.WEAR)
    relief = _luma(ground).gaussblur(work.SMOOTH_PX)
    shift = (relief - relief.avg()) * (work.FOLLOW_PX / 255)
    alpha = alpha.mapim(
        pyvips.Image.xyz(alpha.width, alpha.height) + shift.bandjoin(shift),
        interpolate=pyvips.Interpolate.new("bicubic"),
    )
    alpha = alpha.gaussblur(work.SOFT_PX)
    mark = (
        (pyvips.Image.black(ground.width, ground.height) + colour)
        .cast("uchar")
        .copy(interpretation="srgb")
    )
    mark = _over(mark, pictures["concrete"], "soft-light", 0.8)
    mark = _over(mark, pictures["planks"], "multiply", _trapezoid(_luma(ground), *work.GATE) * 0.7)
    alpha = alpha * (1 - _levels(_luma(pictures["paper"]), *work.SECOND_WEAR) * 0.3)
    mark = _over(mark, pictures["grunge"], "overlay", 0.6)
    mark = _over(mark, _grain(ground, 0.15), "overlay", 1.0)
    out = _over(ground, mark, "multiply", alpha * 0.9)
    out = _over(out, pictures["paper"], "overlay", 0.4)
    out = _coloured(out, pictures["planks"], 0.3)
    out = out.gaussblur(work.LAST_SOFT_PX)
    out = _over(out, _grain(ground, 0.1), "overlay", 1.0)
    return np.frombuffer(out.cast("uchar").write_to_memory(), np.uint8).reshape(
        out.height, out.width, 3
    )


def _rgb(pixels):
    image = as_image(pixels)
    return image if image.bands == 3 else image.bandjoin([image, image]).copy(interpretation="srgb")


def _luma(image):
    return image.recomb([[0.2126, 0.7152, 0.0722]]).cast("uchar")


def _table(values):
    table = np.clip(values, 0, 1).astype(np.float32)
    return pyvips.Image.new_from_memory(table.tobytes(), 256, 1, 1, "float")


TONES = np.arange(256) / 255


def _levels(values, black, white):
    return values.maplut(_table((TONES - black) / (white - black)))


def _trapezoid(values, a, b, c, d):
    return values.maplut(
        _table(np.clip((TONES - a) / (b - a), 0, 1) * np.clip((d - TONES) / (d - c), 0, 1))
    )


def _over(backdrop, source, mode, weight):
    weight = (
        weight * 255 if isinstance(weight, pyvips.Image) else source.new_from_image(weight * 255)[0]
    )
    source = source.cast("uchar").bandjoin(weight.cast("uchar")).copy(interpretation="srgb")
    return (
        backdrop.cast("uchar")
        .copy(interpretation="srgb")
        .composite2(source, mode)
        .extract_band(0, n=3)
    )


def _coloured(backdrop, source, weight):
    """The non-separable colour mode, which libvips does not have: SetLum and ClipColor by its
    arithmetic.
    """
    b, s = backdrop / 255, source / 255
    shift = ((b - s) * [0.3, 0.59, 0.11]).bandmean() * 3
    c = s + shift
    level = (c * [0.3, 0.59, 0.11]).bandmean() * 3
    low, high = _least(c), _most(c)
    c = (low < 0).ifthenelse((c - level) * (level / (level - low)) + level, c)
    c = (high > 1).ifthenelse((c - level) * ((1 - level) / (high - level)) + level, c)
    return (b + (c - b) * weight) * 255


def _least(image):
    return (image[0] < image[1]).ifthenelse(
        (image[0] < image[2]).ifthenelse(image[0], image[2]),
        (image[1] < image[2]).ifthenelse(image[1], image[2]),
    )


def _most(image):
    return (image[0] > image[1]).ifthenelse(
        (image[0] > image[2]).ifthenelse(image[0], image[2]),
        (image[1] > image[2]).ifthenelse(image[1], image[2]),
    )


def _grain(like, amount):
    noise = pyvips.Image.gaussnoise(like.width, like.height, mean=127.5, sigma=amount * 255).cast(
        "uchar"
    )
    return noise.bandjoin([noise, noise]).copy(interpretation="srgb")
