"""The Tones step against the standard's own matrices and curves."""

import numpy as np
import pytest

from kilncore import engine
from kilncore.document import load
from kilncore.engine.dead_tones import dead_share
from kilncore.errors import KilnError
from kilncore.steps.tones import TonesSettings, curve, matrix
from tests.documents import mark, piece, px, step
from tests.pictures import png


def seen(store, pixels, **settings):
    """The same pixels through the step, as a ground."""
    name = store.keep(png(pixels))
    place = {"x": {"value": 0, "unit": "px"}}
    ground = {
        "fill": {"kind": "texture", "texture": {"hash": name}, "placement": place},
        "treatment": [step("tones", **settings)],
    }
    height, width = pixels.shape[:2]
    tree = piece(size=(width, height)).model_dump(mode="json") | {"ground": ground}
    return engine.render(load(tree), assets=store)[..., :3]


@pytest.fixture
def colours(rng):
    return rng.integers(0, 256, (40, 60, 3), dtype=np.uint8)


@pytest.mark.parametrize("amount", [0, 0.4, 1.7])
def test_saturation_is_fe_color_matrix_saturate(store, colours, amount):
    """W3C Filter Effects Module Level 1, feColorMatrix, type saturate, written out."""
    s = amount
    wanted = np.array(
        [
            [0.213 + 0.787 * s, 0.715 - 0.715 * s, 0.072 - 0.072 * s],
            [0.213 - 0.213 * s, 0.715 + 0.285 * s, 0.072 - 0.072 * s],
            [0.213 - 0.213 * s, 0.715 - 0.715 * s, 0.072 + 0.928 * s],
        ]
    )
    assert np.abs(matrix(s, 0) - wanted).max() < 1e-9
    found = seen(store, colours, saturation=s)
    assert np.abs(found - np.clip(colours / 255 @ wanted.T, 0, 1)).max() < 2e-3


@pytest.mark.parametrize("degrees", [30, -75, 180])
def test_hue_is_fe_color_matrix_hue_rotate(degrees):
    """The same, type hueRotate, written out."""
    c, s = np.cos(np.radians(degrees)), np.sin(np.radians(degrees))
    grey = np.array([[0.213, 0.715, 0.072]] * 3)
    by_cos = np.array([[0.787, -0.715, -0.072], [-0.213, 0.285, -0.072], [-0.213, -0.715, 0.928]])
    by_sin = np.array([[-0.213, -0.715, 0.928], [0.143, 0.140, -0.283], [-0.787, 0.715, 0.072]])
    wanted = grey + c * by_cos + s * by_sin
    assert np.abs(matrix(1, degrees) - wanted).max() < 1e-9


def test_chromium_turns_and_saturates_alike(drawn, store, colours):
    import base64

    data = base64.b64encode(png(colours)).decode()
    html = (
        f'<img width="60" height="40" src="data:image/png;base64,{data}" '
        'style="filter:hue-rotate(50deg)">'
    )
    shown = drawn(html, 60, 40)[..., :3]
    found = seen(store, colours, hue_deg=50)
    assert np.abs(found - shown).mean() < 2 / 255 and np.abs(found - shown).max() < 4 / 255


def test_nothing_set_changes_nothing(store, colours):
    assert np.abs(seen(store, colours) - colours / 255).max() < 1e-4


def test_lifted_blacks_and_lowered_whites_are_where_they_are_put(store):
    ends = np.zeros((20, 20, 3), np.uint8)
    ends[:, 10:] = 255
    found = seen(store, ends, lift=0.06, lower=0.9)
    assert np.allclose(found[:, :10], 0.06, atol=1e-3)
    assert np.allclose(found[:, 10:], 0.9, atol=1e-3)


def test_a_lifted_black_shows_an_overlay_that_pure_black_does_not(store, rng):
    """Common practice: overlay changes neither pure black nor pure white."""
    name = store.keep(png(rng.integers(0, 256, (60, 60), dtype=np.uint8)))
    coat = step("coat", "overlay", 1.0, texture={"hash": name})
    black = {
        "kind": "lettering",
        "text": "I",
        "colour": "#000000",
        "size": {"value": 150, "unit": "px"},
    }
    spreads = []
    for treatment in ([coat], [step("tones", lift=0.1), coat]):
        shown = engine.render(
            piece(mark(black, treatment=treatment), ground={"kind": "none"}), assets=store
        )
        inside = shown[..., 3] > 0.999
        spreads.append(shown[..., 0][inside].std())
    assert spreads[0] < 1e-4 < 0.01 < spreads[1]


def test_levels_contrast_lightness_and_invert():
    tones = np.linspace(0, 1, 256)
    levels = curve(TonesSettings(black=0.2, white=0.7, middle=2.0), tones)
    assert np.abs(levels - np.clip((tones - 0.2) / 0.5, 0, 1) ** 0.5).max() < 1e-9
    assert np.ptp(curve(TonesSettings(contrast=-1), tones)) == 0
    harder = curve(TonesSettings(contrast=0.5), tones)
    assert harder.std() > tones.std() and harder[127:129].mean() == pytest.approx(0.5, abs=1e-6)
    assert (curve(TonesSettings(lightness=1), tones) == 1).all()
    assert (curve(TonesSettings(lightness=-1), tones) == 0).all()
    assert np.abs(curve(TonesSettings(invert=True), tones) - tones[::-1]).max() < 1e-9


@pytest.mark.parametrize(
    "wrong", [{"black": 0.8, "white": 0.2}, {"lift": 0.9, "lower": 0.1}, {"saturation": -1}]
)
def test_what_does_not_fit_is_refused(wrong):
    with pytest.raises(KilnError):
        piece(mark(treatment=[step("tones", **wrong)]))


def test_the_letters_shape_stays(store):
    plain, toned = (
        engine.render(piece(mark(treatment=steps), ground={"kind": "none"}), assets=store)
        for steps in ([], [step("tones", contrast=0.4, hue_deg=90)])
    )
    assert np.abs(plain[..., 3] - toned[..., 3]).max() < 1e-6
    assert np.abs(plain[..., :3] - toned[..., :3]).max() > 0.1


@pytest.mark.parametrize(
    "colour, mode, share",
    [
        ("#000000", "overlay", 1),
        ("#ffffff", "soft-light", 1),
        ("#000000", "multiply", 1),
        ("#000000", "screen", 0),
        ("#ffffff", "screen", 1),
        ("#808080", "overlay", 0),
        ("#ff0000", "overlay", 1),
        ("#000000", "normal", 0),
    ],
)
def test_where_a_coat_can_have_no_effect(store, rng, colour, mode, share):
    """What is told agrees with what is drawn: there the coat changes nothing."""
    name = store.keep(png(rng.integers(0, 256, (60, 60), dtype=np.uint8)))
    art = {"kind": "lettering", "text": "I", "colour": colour, "size": px(150)}
    documents = [
        piece(mark(art, treatment=steps), ground={"kind": "none"})
        for steps in ([], [step("coat", mode, 1.0, texture={"hash": name})])
    ]
    coat = documents[1].stack[0].treatment[0]
    assert dead_share(documents[1], coat.id, mode, store) == pytest.approx(share, abs=0.02)
    bare, coated = (engine.render(one, assets=store) for one in documents)
    changed = np.abs(bare[..., :3] - coated[..., :3]).max(2)[bare[..., 3] > 0.999]
    assert (changed.max() < 1e-4) == (share == 1)
