"""Follow surface: its maps, by tone and by slope, what comes in from beyond, steep places, crops
and drafts; each against arrays.
"""

from concurrent.futures import ThreadPoolExecutor

import numpy as np
import pytest
from scipy import ndimage

from kilncore import engine
from kilncore.document import load
from kilncore.engine.followed import followed, torn_at
from kilncore.errors import KilnError
from kilncore.sampling import displace_by_slope
from tests.documents import lettering, mark, piece, px, step
from tests.pictures import png

SIZE = (240, 180)


def relief(rng, sigma=6, channels=1):
    soft = ndimage.gaussian_filter(rng.random((SIZE[1], SIZE[0], channels)), (sigma, sigma, 0))
    soft = (soft - soft.min()) / np.ptp(soft)
    return np.rint(soft * 255).astype(np.uint8)


def texture(store, pixels):
    return {"hash": store.keep(png(np.squeeze(pixels)))}


def filled(store, pixels):
    """A ground that is a picture, pixel on pixel."""
    place = {"x": px(0), "y": px(0)}
    return {"kind": "texture", "texture": texture(store, pixels), "placement": place}


def bent(store, ground, more=(), **settings):
    art = lettering("H", 150, "#ffffff")
    steps = [step("follow", smooth=px(0), **settings)]
    return piece(mark(art, 120, 90, steps), *more, ground=ground, size=SIZE)


def alpha(document, store, **more):
    return engine.render(document, assets=store, with_ground=False, **more)[..., 3]


def moved(plane, dx, dy):
    """By SciPy, with straight lines between pixels."""
    rows, columns = np.mgrid[: plane.shape[0], : plane.shape[1]].astype(float)
    return ndimage.map_coordinates(plane, (rows + dy, columns + dx), order=3)


def away_from_edges(found, wanted, bare):
    flat = ndimage.maximum_filter(np.abs(ndimage.sobel(bare)), 9) < 1e-3
    return np.abs(found - wanted)[flat].max(), np.abs(found - wanted).mean()


def test_by_tone_from_middle_grey_or_from_the_mean(store, rng):
    pixels = relief(rng)
    ground = filled(store, pixels)
    bare = alpha(piece(mark(lettering("H", 150), 120, 90), ground=ground, size=SIZE), store)
    tone = pixels[..., 0] / 255
    found = alpha(bent(store, ground, across=px(20), down=px(-12), middle="half"), store)
    wanted = moved(bare, 20 * (tone - 0.5), -12 * (tone - 0.5))
    assert np.abs(found - wanted).mean() < 0.004
    shifted = alpha(bent(store, ground, across=px(20), down=px(-12)), store)
    assert np.abs(shifted - found).max() > 0.05  # the mean over the mark is not one half


def test_channels_of_a_texture_move_across_and_down(store, rng):
    pixels, ground = relief(rng, channels=3), {"kind": "colour", "colour": "#808080"}
    bare = alpha(piece(mark(lettering("H", 150), 120, 90), ground=ground, size=SIZE), store)
    place = {"x": px(0), "y": px(0)}
    art = lettering("H", 150, "#ffffff")
    told = {"map": "texture", "texture": texture(store, pixels), "channel": "split"}
    told |= {"middle": "half", "across": px(24), "down": px(18), "smooth": px(0)}
    item = mark(art, 120, 90, [step("follow", placement=place, **told)])
    item["frame"] = {"x": 0.0, "y": 0.0, "unit": 1.0}
    document = load(piece(item, ground=ground, size=SIZE).model_dump(mode="json"))
    # the texture lies about the mark's frame: where that is, the engine's own map says
    from kilncore.layout.layout import Layout

    frame = Layout(document).frame(document.stack[0])
    x, y = round(frame.x - SIZE[0] / 2), round(frame.y - SIZE[1] / 2)
    lies = np.roll(pixels, (y, x), (0, 1)) / 255
    wanted = moved(bare, 24 * (lies[..., 0] - 0.5), 18 * (lies[..., 1] - 0.5))
    found = alpha(document, store)
    assert np.abs(found - bare).mean() > 0.01
    assert np.abs(found - wanted).mean() < 0.006


def test_by_slope_pixels_slide_as_in_the_plain_function(store, rng):
    """Black to white within 10 px moves by the whole amount."""
    pixels = relief(rng, 4)
    ground = filled(store, pixels)
    bare = engine.render(
        piece(mark(lettering("H", 150), 120, 90), ground=ground, size=SIZE),
        assets=store,
        with_ground=False,
    )
    found = alpha(bent(store, ground, way="slope", across=px(14), down=px(-9)), store)
    tone = (pixels[..., 0] / 255).astype(np.float32)
    wanted = displace_by_slope(bare, tone, 140, -90, 0.0, "bicubic")[..., 3]
    assert np.abs(wanted - bare[..., 3]).mean() > 0.004
    assert np.abs(found - wanted).mean() < 0.004


def test_the_ground_alone_is_not_bent_by_the_marks_on_it(store, rng):
    ground = filled(store, relief(rng))
    below = mark(lettering("OO", 120, "#000000"), 120, 90)
    art = lettering("H", 150, "#ffffff")

    def following(which, *under):
        steps = [step("follow", across=px(20), map=which)]
        return piece(*under, mark(art, 120, 90, steps), ground=ground, size=SIZE)

    def top(document):
        return engine.render(document, assets=store)[..., 0] > 0.97  # the white of the upper mark

    alone, over = top(following("ground")), top(following("ground", below))
    assert (alone & ~over).sum() < 0.02 * alone.sum()
    beneath = top(following("beneath", below))
    assert (alone ^ beneath).sum() > 2 * (alone ^ over).sum()


@pytest.mark.parametrize("settings", [{}, {"way": "slope"}, {"invert": True, "contrast": 2.0}])
def test_crops_are_the_whole_s_and_drafts_bend_as_much(store, rng, settings):
    ground = filled(store, relief(rng, 9))
    document = bent(store, ground, across=px(30), down=px(24), **settings)
    whole = alpha(document, store)
    for region in ((40, 30, 90, 70), (101, 57, 64, 41)):
        x, y, wide, tall = region
        crop = engine.render(document, region, assets=store, with_ground=False, tile=(64, 32))
        assert (crop[..., 3] == whole[y : y + tall, x : x + wide]).all()
    draft = alpha(document, store, scale=0.5)
    exact = engine.exact(document, None, 0.5, store, with_ground=False)[..., 3]
    assert np.abs(draft - exact).mean() < 0.012


def test_steep_places_are_drawn_from_nine_samples(store):
    """A stair in the map would cut an edge hard: no pixel of it jumps from none to all."""
    ramp = np.zeros((SIZE[1], SIZE[0]), np.uint8)
    ramp[:, 118:] = 255
    ground = filled(store, np.repeat(ramp[..., None], 1, 2))
    art = lettering("/", 150, "#ffffff")

    def drawn(smooth):
        steps = [step("follow", across=px(0), down=px(26), smooth=px(smooth))]
        return alpha(piece(mark(art, 120, 90, steps), ground=ground, size=SIZE), store)

    torn = drawn(3)
    jumps = np.abs(np.diff(torn, axis=1))[:, 105:131]
    inside = torn[:, 105:131]
    partly = ((inside > 0.1) & (inside < 0.9)).sum() / max((jumps > 0.9).sum(), 1)
    assert partly > 4


@pytest.mark.parametrize("beyond", ["repeat", "mirror"])
def test_what_comes_in_from_beyond_the_art(store, rng, beyond):
    """A picture that fills its box keeps it, and shows its border or its mirror image there."""
    pixels = rng.integers(60, 255, (60, 80, 3), dtype=np.uint8)
    art = {"kind": "picture", "hash": store.keep(png(pixels)), "width": 80, "height": 60}
    ground = {"kind": "colour", "colour": "#ffffff"}

    def drawn(how):
        told = {"across": px(20), "down": px(0), "middle": "half", "beyond": how}
        steps = [step("follow", smooth=px(0), **told)]
        return engine.render(
            piece(mark(art, 120, 90, steps), ground=ground, size=SIZE),
            assets=store,
            with_ground=False,
        )[60:120, 80:160]

    empty, found = drawn("empty"), drawn(beyond)
    assert (empty[:, -10:, 3] == 0).all() and (empty[:, :69, 3] > 0.99).all()
    assert (found[..., 3] > 0.99).all()
    bytes_ = np.rint(found[..., :3] * 255)
    assert (bytes_[:, :68] == pixels[:, 10:78]).all()
    wanted = pixels[:, -1:] if beyond == "repeat" else pixels[:, 79:70:-1]
    assert np.abs(bytes_[:, 70:79] - wanted).max() < 2


def test_linked_one_amount_counts_for_both(store, rng):
    ground = filled(store, relief(rng))
    linked = alpha(bent(store, ground, across=px(18), down=px(-50), linked=True), store)
    both = alpha(bent(store, ground, across=px(18), down=px(18)), store)
    assert (linked == both).all()


def test_without_a_texture_or_contrast_nothing_moves(store):
    flat = {"kind": "colour", "colour": "#777777"}
    bare = alpha(
        piece(mark(lettering("H", 150, "#ffffff"), 120, 90), ground=flat, size=SIZE), store
    )
    for told in ({}, {"map": "texture"}, {"way": "slope"}, {"map": "ground", "channel": "split"}):
        found = alpha(bent(store, flat, across=px(40), down=px(40), **told), store)
        assert np.abs(found - bare).max() < 1e-5


def test_the_recorded_map_and_the_mark_moved_together_give_the_same_picture_moved(store, rng):
    pixels = relief(rng, 3)
    told = {"map": "texture", "texture": texture(store, pixels), "across": px(22), "down": px(8)}
    white = lettering("H", 90, "#ffffff")

    def at(x, y):
        steps = [step("follow", **told)]
        return alpha(piece(mark(white, x, y, steps), ground={"kind": "none"}, size=SIZE), store)

    one, other = at(90, 80), at(123, 97)
    assert np.abs(one[10:150, 10:190] - other[27:167, 43:223]).max() < 1e-5


def waved(store, amount, wide=120):
    """A mark over the whole of a ground that is a wave of tones across."""
    wave = 0.5 + 0.5 * np.sin(2 * np.pi * (np.arange(SIZE[0]) + 0.5) / wide)
    pixels = np.repeat(np.rint(wave * 255).astype(np.uint8)[None, :, None], SIZE[1], 0)
    art = {"kind": "picture", "hash": store.keep(png(np.full((16, 16), 90, np.uint8)))}
    told = {"across": px(amount), "down": px(0), "smooth": px(1)}
    item = mark(art | {"width": 16, "height": 16}, 120, 90, [step("follow", **told)], scale=20)
    item["treatment"][0]["id"] = "f"
    return piece(item, ground=filled(store, pixels), size=SIZE)


def test_how_far_it_moves_and_where_it_tears(store):
    """A sine of amplitude A / 2 folds where its slope passes 1: A pi / wide, cos of the phase."""
    for amount in (20, 60, 120):
        found = followed(waved(store, amount), "f", store)
        steepest = amount * np.pi / 120
        assert found.largest_px == pytest.approx(amount / 2, rel=0.05)
        assert found.times == pytest.approx(1 / steepest, rel=0.06)
        share = np.arccos(min(1 / steepest, 1)) / np.pi
        assert found.torn == pytest.approx(share, abs=0.03)
        assert not found.flat


def test_as_strong_as_it_can_be_hardly_tears_and_a_little_more_does(store):
    start = waved(store, 30)
    times = followed(start, "f", store).times
    at, above = (followed(waved(store, 30 * times * more), "f", store) for more in (0.99, 1.15))
    assert at.torn <= 0.004 and above.torn > 0.05


def test_tears_are_shown_where_they_are(store):
    whole, area = torn_at(waved(store, 90), "f", (0, 0, *SIZE), 1.0, store)
    assert area.min() > 0.99
    slope = 90 * np.pi / 120 * np.cos(2 * np.pi * (np.arange(SIZE[0]) + 0.5) / 120)
    torn, clear = whole[90] < 0.5, np.abs(slope + 1) > 0.1
    assert (torn == (slope < -1))[clear][2:-2].all()
    small, _ = torn_at(waved(store, 90), "f", (0, 0, *SIZE), 0.25, store)
    assert small.shape == (45, 60) and 0.2 < (small < 0.5).mean() < 0.5


def test_a_flat_map_says_so_and_one_that_is_off_tells_nothing(store):
    flat = bent(store, {"kind": "colour", "colour": "#777777"}, across=px(40))
    found = followed(flat, flat.stack[0].treatment[0].id, store)
    assert found.flat and found.torn == 0
    assert followed(flat, "none", store) is None
    with pytest.raises(KilnError, match="off"):
        torn_at(flat, "none", (0, 0, *SIZE), 1.0, store)


def test_a_map_that_is_kept_as_a_whole_tile_is_sampled_under_another_name(store, rng):
    """Found by the fuzzer: a kept tile waited for its own samples, for ever."""
    told = {"map": "texture", "texture": texture(store, relief(rng)), "across": px(9)}
    told["placement"] = {"x": px(3.3), "y": px(0), "scale": 1.3, "rotation_deg": 20.0}
    white = lettering("H", 150, "#ffffff")
    steps = [step("follow", **told), step("soften", radius=px(2)), step("follow", **told)]
    document = piece(mark(white, 120, 90, steps), ground={"kind": "none"}, size=SIZE)
    with ThreadPoolExecutor(1) as one:  # a picture that never comes fails, and does not hang
        whole = one.submit(lambda: alpha(document, store)).result(timeout=60)
        again = one.submit(lambda: alpha(document, store, scale=0.37)).result(timeout=60)
    assert whole.max() > 0.9 and again.max() > 0.9
