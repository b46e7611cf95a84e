"""Soften: along a direction, out from the middle, with the silhouette kept, and as soft as the
surface.
"""

import numpy as np
import pytest
from scipy import ndimage

from kilncore import engine
from kilncore.measure import softness
from kilncore.pixels.colour import BT709
from tests.documents import lettering, mark, piece, px, step
from tests.pictures import png

SIZE = (200, 160)


def drawn(store, settings, art=None, ground=None, **more):
    item = mark(art or lettering("H", 120, "#c03020"), 100, 80, [step("soften", **settings)])
    document = piece(item, ground=ground or {"kind": "none"}, size=SIZE)
    return engine.render(document, assets=store, **more)


def picture(store, rng, wide=200, tall=160):
    pixels = rng.integers(0, 256, (tall, wide, 3), dtype=np.uint8)
    art = {"kind": "picture", "hash": store.keep(png(pixels)), "width": wide, "height": tall}
    return art, pixels / 255


@pytest.mark.parametrize("angle", [0, 90, 30])
def test_along_a_direction_is_the_mean_along_it(store, rng, angle):
    """Against SciPy's places along a line."""
    art, pixels = picture(store, rng)
    told = {"way": "along", "length": px(14), "angle_deg": angle}
    found = drawn(store, told, art)[..., :3]
    rows, columns = np.mgrid[:160, :200].astype(float)
    cos, sin = np.cos(np.radians(angle)), np.sin(np.radians(angle))
    count = int(np.ceil(14 * max(abs(cos), abs(sin)))) + 1
    places = ((np.arange(count) + 0.5) / count - 0.5) * 14
    wanted = np.mean(
        [
            np.dstack(
                [
                    ndimage.map_coordinates(
                        pixels[..., c], (rows + t * sin, columns + t * cos), order=1
                    )
                    for c in range(3)
                ]
            )
            for t in places
        ],
        0,
    )
    assert np.abs(found - wanted)[12:-12, 12:-12].max() < 0.01


def test_out_from_the_middle_leaves_the_middle_and_smears_the_rim(store, rng):
    art, pixels = picture(store, rng)
    found = drawn(store, {"way": "out", "spread": 0.15}, art)[..., :3]
    middle, corner = (slice(76, 84), slice(96, 104)), (slice(18, 40), slice(18, 50))
    assert np.abs(found - pixels)[middle].mean() < 0.08
    assert found[corner].std() < 0.4 * pixels[corner].std()


@pytest.mark.parametrize("settings", [{"way": "along", "angle_deg": 25.0}, {"way": "out"}])
def test_a_crop_is_the_whole_s_and_a_draft_is_as_soft(store, rng, settings):
    art, _ = picture(store, rng)
    whole = drawn(store, settings, art)
    crop = drawn(store, settings, art, region=(40, 30, 77, 61), tile=(32, 16))
    assert (crop == whole[30:91, 40:117]).all()
    draft = drawn(store, settings, art, scale=0.5)
    reduced = whole.reshape(80, 2, 100, 2, 4).mean((1, 3))
    assert np.abs(draft - reduced)[8:-8, 8:-8].mean() < 0.05


def test_the_silhouette_stays_while_colours_soften(store, rng):
    art, _ = picture(store, rng, 80, 60)
    bare = drawn(store, {"radius": px(0)}, art)
    kept = drawn(store, {"radius": px(4), "silhouette": True}, art)
    assert np.abs(kept[..., 3] - bare[..., 3]).max() < 1e-6
    inside = (slice(60, 100), slice(80, 120))
    assert kept[inside][..., :3].std() < 0.3 * bare[inside][..., :3].std()
    words = [drawn(store, {"radius": px(4), "silhouette": on}) for on in (True, False)]
    sharp = drawn(store, {"radius": px(0)})
    assert np.abs(words[0] - sharp).max() < 1e-5  # art of one colour has none to soften
    assert np.abs(words[1] - sharp).max() > 0.2


def blurred_ground(store, rng, sigma):
    """Boards with edges of a known softness."""
    hard = np.repeat(np.repeat(rng.integers(0, 2, (8, 10)), 40, 0), 40, 1) * 0.6 + 0.2
    soft = ndimage.gaussian_filter(np.kron(hard, np.ones((2, 2))), sigma * 2)[::2, ::2]
    pixels = np.rint(np.clip(soft, 0, 1) * 255).astype(np.uint8)
    place = {"x": px(0), "y": px(0)}
    return {"kind": "texture", "texture": {"hash": store.keep(png(pixels))}, "placement": place}


@pytest.mark.parametrize("sigma", [1.2, 2.5, 4.0])
def test_matched_it_is_as_soft_as_the_surface(store, rng, sigma):
    """Read back from the matched mark's own edges, within 10 %."""
    ground = blurred_ground(store, rng, sigma)
    art = lettering("H", 260, "#ffffff")

    def at(**settings):
        item = mark(art, 200, 160, [step("soften", **settings)])
        document = piece(item, ground=ground, size=(400, 320))
        return engine.render(document, assets=store, with_ground=False)

    surface = engine.render(piece(ground=ground, size=(400, 320)), assets=store)[..., :3] @ BT709
    assert softness(surface) == pytest.approx(sigma, rel=0.1)
    assert softness(at(match=True)[..., 3]) == pytest.approx(sigma, rel=0.1)
    assert softness(at(radius=px(0))[..., 3]) < 0.5 * sigma


def test_a_surface_without_edges_leaves_the_softness_as_it_is_set(store):
    flat = {"kind": "colour", "colour": "#808080"}
    matched, set_ = (
        drawn(store, told, ground=flat)
        for told in ({"match": True, "radius": px(3)}, {"radius": px(3)})
    )
    assert np.abs(matched - set_).max() < 1e-6
