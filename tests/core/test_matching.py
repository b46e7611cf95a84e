"""Grain and tones as the surface has them, sorts of grain, and the surface through the mark."""

import numpy as np
import pytest

from kilncore import engine
from kilncore.engine.matched import share_through, softness_after, surface_of
from kilncore.measure import grain
from kilncore.pixels.colour import BT709
from tests.documents import lettering, mark, piece, px, step
from tests.pictures import png

SIZE = (320, 240)
FLAT = {"kind": "colour", "colour": "#808080"}


def filled(store, pixels):
    pixels = np.rint(np.clip(pixels, 0, 1) * 255).astype(np.uint8)
    place = {"x": px(0), "y": px(0)}
    return {"kind": "texture", "texture": {"hash": store.keep(png(pixels))}, "placement": place}


def block(store, tone, steps):
    """A mark of one tone over the whole piece."""
    art = {"kind": "picture", "hash": store.keep(png(np.full((16, 16, 3), tone, np.uint8)))}
    item = mark(art | {"width": 16, "height": 16}, 160, 120, steps, scale=25)
    item["treatment"][0]["id"] = "s"
    return item


def drawn(store, tone, one, ground, **more):
    document = piece(block(store, tone, [one]), ground=ground, size=SIZE)
    return engine.render(document, assets=store, **more)[..., :3]


@pytest.mark.parametrize("sort", ["gaussian", "uniform", "clumped", "film"])
@pytest.mark.parametrize("size", [1.0, 2.5])
def test_every_sort_keeps_the_mean_and_is_as_strong_as_asked(store, sort, size):
    told = step("grain", "linear-light", amount=6, size=px(size), sort=sort)
    found = drawn(store, 128, told, FLAT)
    assert found.mean() == pytest.approx(128 / 255, abs=0.01 if sort == "clumped" else 0.004)
    assert found.std() == pytest.approx(0.12, rel=0.08)  # linear light lays twice
    grey = found[..., 0]
    if sort == "uniform" and size == 1:
        assert np.abs(grey - grey.mean()).max() < 0.12 * np.sqrt(3) * 1.03
    beside = np.corrcoef(grey[:, 8:].ravel(), grey[:, :-8].ravel())[0, 1]
    near = np.corrcoef(grey[:, 2:].ravel(), grey[:, :-2].ravel())[0, 1]
    assert abs(beside) < (0.05 if sort != "clumped" else 0.4) and (near > 0.2) == (
        sort == "clumped" or size > 2
    )


@pytest.mark.parametrize(("tones", "where"), [("lights", 225), ("mids", 128), ("darks", 30)])
def test_it_shows_most_in_the_tones_it_is_kept_to(store, tones, where):
    told = step("grain", "linear-light", amount=4, tones=tones)
    spread = {tone: drawn(store, tone, told, FLAT).std() for tone in (30, 128, 225)}
    assert max(spread, key=spread.get) == where
    assert min(spread.values()) < 0.45 * spread[where]


@pytest.mark.parametrize("strength", [0.03, 0.07])
@pytest.mark.parametrize("cell", [1, 2])
def test_matched_grain_is_the_surface_s(store, rng, strength, cell):
    """Read back from the mark, within 10 %."""
    noise = rng.normal(0, strength, (240 // cell, 320 // cell))
    ground = filled(store, 0.5 + np.kron(noise, np.ones((cell, cell))))
    found = drawn(store, 150, step("grain", match=True), ground) @ BT709
    measured, size = grain(found)
    assert measured == pytest.approx(strength, rel=0.1)
    assert size == pytest.approx(cell, rel=0.2)


def test_matched_tones_are_within_the_surface_s(store, rng):
    ground = filled(store, rng.uniform(0.25, 0.7, (240, 320)))
    darkest, lightest = (drawn(store, tone, step("tones", match=True), ground) for tone in (0, 255))
    assert darkest.mean() == pytest.approx(0.25, abs=0.01)
    assert lightest.mean() == pytest.approx(0.7, abs=0.01)
    document = piece(block(store, 0, [step("tones", match=True)]), ground=ground, size=SIZE)
    surface = surface_of(document, "s", store)
    assert (surface.black, surface.white) == pytest.approx((0.25, 0.7), abs=0.01)
    assert surface_of(document, "none", store) is None


def test_matches_are_live_and_read_a_region(store, rng):
    """Another ground, another match; half of the ground by itself."""
    noise = rng.normal(0, 1, (240, 320)) * np.where(np.arange(320) < 160, 0.02, 0.09)
    left, right = {"x": px(-80)}, {"x": px(80)}
    found = []
    for region in (left, right):
        place = {"width": px(140), "height": px(200), "y": px(0), **region}
        told = step("grain", match=True, place=place)
        found.append(grain(drawn(store, 150, told, filled(store, 0.5 + noise)) @ BT709)[0])
    assert found[0] == pytest.approx(0.02, rel=0.15) and found[1] == pytest.approx(0.09, rel=0.15)


def cracked():
    """Cracks a tenth of the surface wide, and as much in half shade beside them."""
    pixels = np.full((240, 320), 0.8)
    pixels[:, ::10], pixels[:, 1::10] = 0.1, 0.45
    return pixels


def test_the_surface_s_shadows_come_through_and_how_much_is_read(store):
    """The darkest tenth and a half, through a soft shoulder, whatever the tones of the surface."""
    pixels = cracked()
    for lighter in (0.0, 0.15):
        ground = filled(store, pixels + lighter)
        told = step("surface_through", contrast=1.0, share=0.15, soft=0.7)
        document = piece(block(store, 255, [told]), ground=ground, size=SIZE)
        found = engine.render(document, assets=store)[..., 0]
        assert np.abs(found[:, ::10] - 0.1 - lighter).max() < 0.02
        half = 1 - 0.5 * (1 - 0.45 - lighter)  # its tone is the very middle of the shoulder
        assert np.abs(found[:, 1::10] - half).max() < 0.03
        assert np.abs(found[:, 2::10] - 1).max() < 0.01
        share = share_through(document, document.stack[0].id, "s", store)
        assert share == pytest.approx(0.15, abs=0.02)


def test_lights_and_all_of_it_come_through_too(store):
    ground = filled(store, cracked())
    whole = drawn(store, 0, step("surface_through", contrast=1.0, shows="all"), ground)
    assert np.abs(whole[..., 0] - cracked()).max() < 0.01
    told = step("surface_through", contrast=1.0, shows="lights", share=0.8, soft=0.1)
    lights = drawn(store, 0, told, ground)[..., 0]
    assert np.abs(lights[:, ::10]).max() < 0.01 and lights[:, 3::10].min() > 0.3


def test_what_comes_through_is_as_much_in_a_draft(store, rng):
    pixels = np.clip(0.5 + rng.normal(0, 0.15, (240, 320)), 0, 1)
    told = step("surface_through", contrast=1.0, share=0.3, soft=0.1)
    document = piece(block(store, 255, [told]), ground=filled(store, pixels), size=SIZE)
    draft = engine.render(document, None, 0.25, store)[..., :3]
    exact = engine.exact(document, None, 0.25, store)[..., :3]
    assert abs(float((draft - exact).mean())) < 0.06


def test_contrast_and_saturation_of_what_comes_through_are_its_own(store):
    ground = {"kind": "colour", "colour": "#8a4a2a"}
    grey = drawn(
        store, 255, step("surface_through", contrast=1.0, saturation=0.0, shows="all"), ground
    )
    assert np.ptp(grey[100, 100]) < 0.01
    steep = drawn(store, 255, step("surface_through", contrast=2.0, shows="all"), ground)[100, 100]
    wanted = np.clip(0.5 + (np.array([0x8A, 0x4A, 0x2A]) / 255 - 0.5) * 2, 0, 1)
    assert np.abs(steep - wanted).max() < 0.01


def test_the_softness_of_a_mark_is_read_after_the_step(store):
    steps = [step("soften", radius=px(2.5))]
    item = mark(lettering("H", 200, "#c03020"), 160, 120, steps)
    item["treatment"][0]["id"] = "s"
    document = piece(item, ground=FLAT, size=SIZE)
    assert softness_after(document, "s", store) == pytest.approx(2.5, rel=0.1)
    assert softness_after(document, "none", store) is None


def test_a_smooth_gradient_has_no_grain_and_leaves_the_mark_as_it_is(store):
    """Of many tones and no grain in any: nothing is divided by nothing."""
    ground = filled(store, np.full((240, 320), 0.1) + np.repeat(np.arange(5) * 0.2, 64)[None])
    found = drawn(store, 150, step("grain", match=True), ground)
    assert np.abs(found - 150 / 255).max() < 0.01
