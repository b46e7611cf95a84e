"""The same twelve steps with Skia on the processor, 8 bits a channel, as a browser's engine would
draw them.
"""

import numpy as np
import skia

from bench import work

MODES = {
    "soft-light": skia.BlendMode.kSoftLight,
    "multiply": skia.BlendMode.kMultiply,
    "overlay": skia.BlendMode.kOverlay,
    "color": skia.BlendMode.kColor,
}


def prepared(art, textures):
    """Skia's own images of (H, W) uint8 and of name -> (H, W, C) uint8, with the noise of both
    grains.
    """
    rng = np.random.default_rng(1)
    grains = {amount: _grain(rng, art.shape, amount) for amount in (0.15, 0.1)}
    return _image(art[..., None]), {
        name: _image(pixels) for name, pixels in textures.items()
    } | grains


def composite(art, pictures):
    """What `prepared` gives. Returns (H, W, 3) uint8."""
    height, width = art.height(), art.width()
    ground, whole = pictures["concrete"], skia.Rect.MakeWH(width, height)
    colour = skia.Color(*(int(work.COLOUR[i : i + 2], 16) for i in (1, 3, 5)))

    worn = _surface(width, height)
    with worn as canvas:
        canvas.drawColor(colour)
        _mask(canvas, art, None)
        _mask(canvas, pictures["grunge"], _levels(*work.WEAR))
    # the map's mean is its middle, and the shift is spread over a full scale of tones
    relief = skia.ImageFilters.Blur(
        work.SMOOTH_PX, work.SMOOTH_PX, input=skia.ImageFilters.Image(ground)
    )
    bent = skia.ImageFilters.DisplacementMap(
        skia.ColorChannel.kR,
        skia.ColorChannel.kG,
        work.FOLLOW_PX,
        relief,
        skia.ImageFilters.Image(worn.makeImageSnapshot()),
    )
    soft = skia.ImageFilters.Blur(work.SOFT_PX, work.SOFT_PX, input=bent)
    mark = _surface(width, height)
    with mark as canvas:
        canvas.drawRect(whole, skia.Paint(ImageFilter=soft, Color=skia.ColorBLACK))
        _coat(canvas, pictures["concrete"], "soft-light", 0.8)
        gated = _surface(width, height)
        with gated as other:
            other.drawImage(pictures["planks"], 0, 0)
            _mask(other, ground, _trapezoid(*work.GATE))
        _coat(canvas, gated.makeImageSnapshot(), "multiply", 0.7)
        _mask(canvas, pictures["paper"], _thinned(*work.SECOND_WEAR, 0.3))
        _coat(canvas, pictures["grunge"], "overlay", 0.6)
        _coat(canvas, pictures[0.15], "overlay", 1.0)
    out = _surface(width, height)
    with out as canvas:
        canvas.drawImage(ground, 0, 0)
        _coat(canvas, mark.makeImageSnapshot(), "multiply", 0.9)
        _coat(canvas, pictures["paper"], "overlay", 0.4)
        _coat(canvas, pictures["planks"], "color", 0.3)
    last = _surface(width, height)
    with last as canvas:
        canvas.drawImage(
            out.makeImageSnapshot(),
            0,
            0,
            skia.SamplingOptions(),
            skia.Paint(ImageFilter=skia.ImageFilters.Blur(work.LAST_SOFT_PX, work.LAST_SOFT_PX)),
        )
        _coat(canvas, pictures[0.1], "overlay", 1.0)
    return last.makeImageSnapshot().toarray(colorType=skia.kRGBA_8888_ColorType)[..., :3]


def _surface(width, height):
    return skia.Surface(width, height)


def _image(pixels):
    rgba = np.full((*pixels.shape[:2], 4), 255, np.uint8)
    rgba[..., :3] = pixels
    return skia.Image.fromarray(rgba, colorType=skia.kRGBA_8888_ColorType)


def _coat(canvas, image, mode, weight):
    canvas.drawImage(
        image, 0, 0, skia.SamplingOptions(), skia.Paint(BlendMode=MODES[mode], Alphaf=weight)
    )


def _mask(canvas, image, table):
    """Keep what is there where the image's luma, through a table, is high."""
    luma = skia.LumaColorFilter.Make()
    through = (
        luma
        if table is None
        else skia.TableColorFilter.MakeARGB(table, None, None, None).makeComposed(luma)
    )
    canvas.drawImage(
        image,
        0,
        0,
        skia.SamplingOptions(),
        skia.Paint(BlendMode=skia.BlendMode.kDstIn, ColorFilter=through),
    )


def _table(values):
    return np.rint(np.clip(values, 0, 1) * 255).astype(np.uint8).tolist()


TONES = np.arange(256) / 255


def _levels(black, white):
    return _table((TONES - black) / (white - black))


def _thinned(black, white, strength):
    return _table(1 - strength * np.clip((TONES - black) / (white - black), 0, 1))


def _trapezoid(a, b, c, d):
    return _table(np.clip((TONES - a) / (b - a), 0, 1) * np.clip((d - TONES) / (d - c), 0, 1))


def _grain(rng, shape, amount):
    noise = np.clip(0.5 + amount * rng.standard_normal(shape, np.float32), 0, 1)
    return _image(np.rint(noise * 255).astype(np.uint8)[..., None])
