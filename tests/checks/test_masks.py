"""Wear as a luminance mask, against CSS Masking as Chromium draws it.

Source: W3C CSS Masking Module Level 1, luminance masks (`mask-mode: luminance`). Chromium's masks
are 8 bits deep, so that values may differ by a step, and its luminance coefficients work on the
same sRGB-encoded values as BT.709's here.
"""

import numpy as np
import pytest
from scipy import ndimage

from kilncore import engine
from tests.checks.chromium import data_url
from tests.documents import mark, piece, px, step
from tests.pictures import png

SIZE = (120, 90)


@pytest.fixture
def colours(rng):
    soft = ndimage.gaussian_filter(rng.random((90, 120, 3)), (4, 4, 0), mode="wrap")
    soft = (soft - soft.min()) / np.ptp(soft)
    return np.rint(soft * 255).astype(np.uint8)


def worn(store, pixels, **more):
    name = store.keep(png(pixels))
    art = {"kind": "picture", "hash": store.keep(png(np.full((90, 120, 3), 60, np.uint8)))}
    art |= {"width": 120, "height": 90}
    # the texture's middle is the mark's
    wear = step("wear", texture={"hash": name}, black=0.0, white=1.0, **more)
    document = piece(mark(art, 60, 45, [wear]), ground={"kind": "none"}, size=SIZE)
    return engine.render(document, assets=store)[..., 3]


def test_a_wear_is_a_luminance_mask(drawn, store, colours):
    style = f"width:120px;height:90px;background:#3c3c3c;mask-image:url({data_url(colours)})"
    html = f'<div style="{style};mask-mode:luminance"></div>'
    shown = drawn(html, *SIZE)[..., 3]
    found = worn(store, colours)
    assert np.ptp(shown) > 0.5
    assert np.abs(found - shown).max() < 2.5 / 255


def test_white_reveals_black_conceals_and_inverting_swaps(store):
    """Common practice."""
    halves = np.zeros((90, 120), np.uint8)
    halves[:, 60:] = 255
    found, swapped = worn(store, halves), worn(store, halves, invert=True)
    assert found[:, :59].max() < 1e-3 and found[:, 61:].min() > 0.999
    assert swapped[:, 61:].max() < 1e-3 and swapped[:, :59].min() > 0.999


def test_at_less_strength_a_wear_is_subtler(store, colours):
    """Common practice: at 60 % strength a wear is clearly subtler than at 100 %."""
    name = store.keep(png(colours))
    art = {"kind": "lettering", "text": "I", "size": px(80)}
    left = []
    for strength in (0.6, 1.0):
        wear = step("wear", "normal", strength, texture={"hash": name}, black=0.3, white=0.6)
        document = piece(mark(art, 60, 45, [wear]), ground={"kind": "none"}, size=SIZE)
        left.append(engine.render(document, assets=store)[..., 3].sum())
    assert left[0] > 1.1 * left[1]
