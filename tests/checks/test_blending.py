"""The blend modes and source-over, against the published formulas and against Chromium.

Source: W3C Compositing and Blending Level 1. The formulas are written out here again in plain
NumPy, float64, from the standard's text, so that they share nothing with the core.
"""

import numpy as np
import pytest

from kilncore.blend import BLEND_MODES, composite
from tests.checks.chromium import data_url, premultiplied


def lum(c):
    return 0.3 * c[0] + 0.59 * c[1] + 0.11 * c[2]


def clip_color(c):
    level, low, high = lum(c), min(c), max(c)
    if low < 0:
        c = [level + (v - level) * level / (level - low) for v in c]
    if high > 1:
        c = [level + (v - level) * (1 - level) / (high - level) for v in c]
    return c


def set_lum(c, level):
    return clip_color([v + level - lum(c) for v in c])


def sat(c):
    return max(c) - min(c)


def set_sat(c, s):
    """The standard's: the least becomes 0, the most s, the middle in proportion."""
    low, high = min(c), max(c)
    return [0.0 if high == low else (v - low) * s / (high - low) for v in c]


def multiply(b, s):
    return b * s


def screen(b, s):
    return 1 - (1 - b) * (1 - s)


def hard_light(b, s):
    return multiply(b, 2 * s) if s <= 0.5 else screen(b, 2 * s - 1)


def soft_light(b, s):
    if s <= 0.5:
        return b - (1 - 2 * s) * b * (1 - b)
    d = ((16 * b - 12) * b + 4) * b if b <= 0.25 else np.sqrt(b)
    return b + (2 * s - 1) * (d - b)


def dodge(b, s):
    return 0 if b == 0 else 1 if s == 1 else min(1, b / (1 - s))


def burn(b, s):
    return 1 if b == 1 else 0 if s == 0 else 1 - min(1, (1 - b) / s)


SEPARABLE = {
    "normal": lambda b, s: s,
    "multiply": multiply,
    "screen": screen,
    "overlay": lambda b, s: hard_light(s, b),
    "darken": min,
    "lighten": max,
    "color-dodge": dodge,
    "color-burn": burn,
    "hard-light": hard_light,
    "soft-light": soft_light,
    "difference": lambda b, s: abs(b - s),
    "exclusion": lambda b, s: b + s - 2 * b * s,
    # common practice: arithmetic of two colours, cut to 0..1
    "add": lambda b, s: min(1, b + s),
    "subtract": lambda b, s: max(0, b - s),
    "divide": lambda b, s: 0 if b == 0 else 1 if s == 0 else min(1, b / s),
    "linear-burn": lambda b, s: max(0, b + s - 1),
    "linear-light": lambda b, s: min(1, max(0, b + 2 * s - 1)),
    "inverse-difference": lambda b, s: 1 - abs(1 - b - s),
}
WHOLE = {
    "hue": lambda b, s: set_lum(set_sat(s, sat(b)), lum(b)),
    "saturation": lambda b, s: set_lum(set_sat(b, sat(s)), lum(b)),
    "color": lambda b, s: set_lum(s, lum(b)),
    "luminosity": lambda b, s: set_lum(b, lum(s)),
    "darker-color": lambda b, s: b if lum(b) <= lum(s) else s,
    "lighter-color": lambda b, s: b if lum(b) >= lum(s) else s,
}
CSS = [
    mode
    for mode in BLEND_MODES
    if mode in {*list(SEPARABLE)[:12], *list(WHOLE)[:4], "plus-lighter"}
]


def published(mode, backdrop, source):
    """Premultiplied result: co = cs as + cb ab (1 - as), with cs = (1 - ab) cs + ab B(cb, cs)."""
    (*cb, ab), (*cs, alpha) = backdrop.astype(float), source.astype(float)
    if mode == "plus-lighter":  # CSS Compositing Level 2: the sum of premultiplied values
        return [min(1, alpha * s + ab * b) for s, b in zip([*cs, 1], [*cb, 1], strict=True)]
    blend = (
        WHOLE[mode](cb, cs)
        if mode in WHOLE
        else [SEPARABLE[mode](b, s) for b, s in zip(cb, cs, strict=True)]
    )
    mixed = [(1 - ab) * s + ab * m for s, m in zip(cs, blend, strict=True)]
    return [alpha * m + (1 - alpha) * ab * b for m, b in zip(mixed, cb, strict=True)] + [
        alpha + ab * (1 - alpha)
    ]


def inputs(rng):
    """Random colours and alphas, with the corners 0, one half and 1 among them."""
    pair = rng.random((2, 24, 24, 4)).astype(np.float32)
    corners = rng.random(pair.shape) < 0.3
    pair[corners] = rng.choice([0, 0.25, 0.5, 1], corners.sum())
    return np.rint(pair * 255).astype(np.uint8)


def test_all_are_there():
    """The 16 of the standard, plus-lighter, and eight more."""
    assert (
        set(BLEND_MODES) == set(SEPARABLE) | set(WHOLE) | {"plus-lighter"}
        and len(CSS) == 17
        and len(BLEND_MODES) == 25
    )


@pytest.mark.parametrize("mode", BLEND_MODES)
def test_against_the_published_formula(rng, mode):
    backdrop, source = inputs(rng).astype(np.float32) / 255
    found = premultiplied(composite(backdrop, source, mode))
    expected = np.array(
        [
            [published(mode, b, s) for b, s in zip(*rows, strict=True)]
            for rows in zip(backdrop, source, strict=True)
        ]
    )
    np.testing.assert_allclose(found, expected, atol=3e-5)  # float32 against float64


@pytest.mark.parametrize("mode", CSS)
def test_against_chromium(rng, drawn, mode):
    """Chromium's 8-bit premultiplied pipeline quantises colour where alpha is low: premultiplied
    values, within 3/255.

    Dodge and burn divide: where the divisor is a few steps of 8 bits, one step of the input is many
    of the result. There one value in a hundred may lie further off.
    """
    backdrop, source = inputs(rng)
    size = "width=24 height=24"
    html = (
        f'<div style="isolation:isolate;position:absolute;width:24px;height:24px"><img {size} '
        f'src="{data_url(backdrop)}">'
        f'<img {size} style="mix-blend-mode:{mode}" src="{data_url(source)}"></div>'
    )
    theirs = drawn(html, 24, 24)
    ours = premultiplied(composite(backdrop / np.float32(255), source / np.float32(255), mode))
    low = (
        np.minimum(backdrop[..., 3], source[..., 3]) < 26
    )  # there one step of 8 bits is a tenth of the colour
    share = 0.99 if mode in ("color-dodge", "color-burn") else 1.0
    assert np.quantile(np.abs(theirs - ours)[~low], share) <= 3.0 / 255
    assert np.abs(theirs - ours).mean() <= 0.8 / 255


@pytest.mark.parametrize("opacity", [0.25, 0.6])
def test_opacity_against_chromium(rng, drawn, opacity):
    backdrop, source = inputs(rng)
    backdrop[..., 3] = source[..., 3] = 255
    html = (
        f'<img src="{data_url(backdrop)}"><img '
        f'style="opacity:{opacity};mix-blend-mode:multiply" src="{data_url(source)}">'
    )
    theirs = drawn(f'<div style="isolation:isolate">{html}</div>', 24, 24)
    ours = premultiplied(
        composite(backdrop / np.float32(255), source / np.float32(255), "multiply", opacity)
    )
    assert np.abs(theirs - ours).max() <= 2.5 / 255


@pytest.mark.parametrize("base, coat", [(0.0, 0.3), (1.0, 0.3), (0.5, 0.8), (0.2, 0.9)])
@pytest.mark.parametrize("in_lights, in_darks", [(1, 1), (2.5, 0.5), (0, 1)])
def test_a_coat_into_lights_and_darks(store, base, coat, in_lights, in_darks):
    """Ours, of the standard's two: the differences that multiply and screen make, the first as far
    as the tone is light, the second as far as it is dark."""
    from kilncore import engine
    from tests.documents import mark, piece, px, step
    from tests.pictures import png

    name = store.keep(png(np.full((20, 20), round(coat * 255), np.uint8)))
    art = {"kind": "lettering", "text": "I", "size": px(200)}
    art["colour"] = "#" + f"{round(base * 255):02x}" * 3
    settings = {"way": "both", "in_lights": in_lights, "in_darks": in_darks}
    steps = [step("coat", "overlay", 1.0, texture={"hash": name}, **settings)]
    found = engine.render(piece(mark(art, treatment=steps), ground={"kind": "none"}), assets=store)
    b, s = round(base * 255) / 255, round(coat * 255) / 255
    made = b + in_lights * b * (multiply(b, s) - b) + in_darks * (1 - b) * (screen(b, s) - b)
    inside = found[..., 3] > 0.999
    assert np.abs(found[inside][:, :3] - np.clip(made, 0, 1)).max() < 1e-3


def test_a_coat_into_lights_and_darks_shows_on_black_and_on_white(store, rng):
    from kilncore import engine
    from tests.documents import mark, piece, px, step
    from tests.pictures import png

    name = store.keep(png(rng.integers(0, 256, (60, 60), dtype=np.uint8)))
    for colour in ("#000000", "#ffffff"):
        art = {"kind": "lettering", "text": "I", "size": px(200), "colour": colour}
        spread = {}
        for way in ("mode", "both"):
            coat = step("coat", "overlay", 1.0, texture={"hash": name}, way=way)
            document = piece(mark(art, treatment=[coat]), ground={"kind": "none"})
            found = engine.render(document, assets=store)
            spread[way] = found[found[..., 3] > 0.999][:, 0].std()
        assert spread["mode"] < 1e-4 < 0.2 < spread["both"]
        whole = piece(mark(art, treatment=[coat]), ground={"kind": "none"})
        assert np.array_equal(
            engine.render(whole, assets=store)[100:150, 190:230],
            engine.render(whole, region=(190, 100, 40, 50), assets=store),
        )
