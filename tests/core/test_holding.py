"""What holds a landing: blend ranges of any reading, all but some tones, limits together or any of
them, fades with a curve and round a point; each switched off without being lost.
"""

import colorsys

import numpy as np
import pytest

from kilncore import engine
from kilncore.document import load
from kilncore.engine.range_tones import range_tones
from kilncore.errors import KilnError
from kilncore.masks import blend_range
from tests.documents import mark, piece, px, step
from tests.pictures import png

SIZE = (64, 48)


@pytest.fixture
def ground(store, rng):
    pixels = rng.integers(0, 256, (48, 64, 3), dtype=np.uint8)
    place = {"x": px(0), "y": px(0)}
    return pixels / 255, {
        "kind": "texture",
        "texture": {"hash": store.keep(png(pixels))},
        "placement": place,
    }


def weighed(store, ground, **landing):
    """The weight with which white lands on a ground, from what it changes."""
    pixels, fill = ground
    white = {"hash": store.keep(png(np.full((16, 16), 255, np.uint8)))}
    coat = step("coat", texture=white, keep_to_art=False)
    coat["landing"] |= landing
    tree = piece(size=SIZE).model_dump(mode="json") | {"ground": {"fill": fill}, "stack": []}
    shown = engine.render(load({**tree, "treatment": [coat]}), assets=store)[..., :3]
    room = np.where(pixels < 0.8, 1 - pixels, np.nan)
    return np.ma.masked_invalid((shown - pixels) / room).mean(axis=2).filled(np.nan)


def trapezoid(values, points):
    a, b, c, d = points
    up = np.clip((values - a) / max(b - a, 1e-9), 0, 1) if b > a else (values >= b).astype(float)
    down = np.clip((d - values) / max(d - c, 1e-9), 0, 1) if d > c else (values <= c).astype(float)
    return up * down


READ = {
    "red": lambda p: p[..., 0],
    "green": lambda p: p[..., 1],
    "blue": lambda p: p[..., 2],
    "luminance": lambda p: p @ np.array([0.2126, 0.7152, 0.0722]),  # ITU-R BT.709
    "lightness": lambda p: np.array([[colorsys.rgb_to_hls(*q)[1] for q in row] for row in p]),
    "saturation": lambda p: np.array([[colorsys.rgb_to_hls(*q)[2] for q in row] for row in p]),
}
NAMES = ("hidden_below", "shown_from", "shown_to", "hidden_above")


@pytest.mark.parametrize("reads", READ)
@pytest.mark.parametrize("outside", [False, True])
def test_a_range_reads_what_it_says(store, ground, reads, outside):
    """HSL by Python's own colorsys."""
    points = (0.2, 0.35, 0.6, 0.8)
    told = dict(zip(NAMES, points, strict=True)) | {"reads": reads, "outside": outside}
    found = weighed(store, ground, range_input=told)
    wanted = trapezoid(READ[reads](ground[0]), points)
    wanted = 1 - wanted if outside else wanted
    there = np.isfinite(found)
    assert np.abs(found - wanted)[there].max() < 0.01


def test_several_hold_at_once_and_what_is_off_is_kept_but_does_not(store, ground):
    low = {"hidden_above": 0.6, "shown_to": 0.4}
    high = {"hidden_below": 0.2, "shown_from": 0.3, "reads": "red"}
    both = weighed(store, ground, range_input=low, range_beneath=None, range_own=None)
    assert np.nanmean(both) < 0.6
    one = weighed(store, ground, range_input=low | {"on": False})
    assert np.nanmin(one) > 0.99
    red = weighed(store, ground, range_input=high)
    assert 0.3 < np.nanmean(red) < 0.95


@pytest.mark.parametrize("seed", range(20))
def test_the_trapezoid_is_continuous_and_monotone_on_its_shoulders(seed):
    points = np.sort(np.random.default_rng(seed).random(4))
    tones = np.linspace(0, 1, 5000)[None]
    found = blend_range(tones, *points)[0]
    assert np.abs(np.diff(found)).max() < 1.1 * 2e-4 / max(np.diff(points)[[0, 2]].min(), 2e-4)
    rise, fall = tones[0] <= points[2], tones[0] >= points[1]
    assert (np.diff(found[rise]) >= -1e-6).all() and (np.diff(found[fall]) <= 1e-6).all()
    assert np.abs(found - trapezoid(tones[0], points)).max() < 1e-4


def test_equal_points_step_and_the_tone_itself_passes():
    tones = np.array([[0.0, 0.2499, 0.25, 0.2501, 0.5, 0.5001, 1.0]])
    assert blend_range(tones, 0.25, 0.25, 0.5, 0.5).tolist() == [[0, 0, 1, 1, 1, 0, 0]]
    assert blend_range(tones, 0, 0, 1, 1).min() == 1
    for wrong in ((0.5, 0.2, 0.6, 0.7), (-0.1, 0, 1, 1), (0, 0, 1, 1.2)):
        with pytest.raises(KilnError):
            blend_range(tones, *wrong)
    with pytest.raises(KilnError):
        blend_range(np.zeros(3), 0, 0, 1, 1)
    assert blend_range(np.zeros((0, 4)), 0, 0, 1, 1).shape == (0, 4)


def region(x, outside=False, **more):
    place = {"x": px(x), "y": px(24), "width": px(20), "height": px(40)}
    return {"kind": "region", "outside": outside, **place, **more}


def test_all_of_them_or_any(store, ground):
    every = weighed(store, ground, limits=[region(20), region(30)])
    either = weighed(store, ground, limits=[region(20), region(30)], together="any")
    x = np.arange(64) + 0.5
    first, second = np.abs(x - 20) < 9, np.abs(x - 30) < 9
    row = slice(10, 38)
    for found, wanted in ((every, first & second), (either, first | second)):
        inside = np.nanmean(found[row], 0)
        assert inside[wanted].min() > 0.99
    assert np.nanmean(every[row], 0)[np.abs(x - 11.5) < 1].max() < 0.01
    assert np.nanmean(either[row], 0)[np.abs(x - 50) < 8].max() < 0.01
    off = weighed(store, ground, limits=[region(20), region(30, on=False)])
    assert np.nanmean(off[row], 0)[first].min() > 0.99


@pytest.mark.parametrize("middle", [0.2, 0.5, 0.8])
def test_a_fade_reaches_half_where_it_is_told(store, ground, middle):
    fade = {"x0": px(0), "y0": px(0), "x1": px(64), "y1": px(0), "middle": middle}
    found = np.nanmean(weighed(store, ground, fade=fade), 0)
    x = (np.arange(64) + 0.5) / 64
    assert np.abs(found - (1 - x ** (np.log(0.5) / np.log(middle)))).max() < 0.02
    off = weighed(store, ground, fade=fade | {"on": False})
    assert np.nanmin(off) > 0.99


def test_a_fade_that_sweeps_round_a_point(store, ground):
    fade = {"shape": "sweep", "x0": px(32), "y0": px(24), "x1": px(60), "y1": px(24)}
    found = weighed(store, ground, fade=fade)
    y, x = np.mgrid[0:48, 0:64] + 0.5
    turn = np.arctan2(y - 24, x - 32) / (2 * np.pi) % 1
    far = (np.hypot(y - 24, x - 32) > 4) & np.isfinite(found) & (np.abs(y - 24) > 1.5)
    assert np.abs(found - (1 - turn))[far].max() < 0.02


def test_old_documents_hold_as_they_did(store, ground):
    """A range, a limit and a fade without what came later."""
    plain = weighed(store, ground, range_input={"shown_from": 0.4, "hidden_below": 0.2})
    told = {"shown_from": 0.4, "hidden_below": 0.2, "on": True, "reads": "luminance"}
    assert np.array_equal(plain, weighed(store, ground, range_input=told), equal_nan=True)
    item = mark(treatment=[step("soften")])
    item["landing"]["limits"] = [
        {"kind": "region", "x": px(1), "y": px(1), "width": px(5), "height": px(5)}
    ]
    assert load(piece(item).model_dump(mode="json")).stack[0].landing.limits[0].on


def test_the_tones_of_exactly_the_pixels_concerned(store, ground):
    """Half of the page is black, half white, and the mark lies on the black half alone."""
    halves = np.zeros((48, 64), np.uint8)
    halves[:, 32:] = 255
    fill = {"kind": "texture", "texture": {"hash": store.keep(png(halves))}}
    bar = {"kind": "lettering", "text": "I", "size": px(30), "colour": "#ff0000"}
    grey = {"hash": store.keep(png(np.full((16, 16), 102, np.uint8)))}
    coat = step("coat", "multiply", texture=grey)
    document = piece(mark(bar, 16, 24, [coat]), ground=fill, size=SIZE)
    item = document.stack[0]

    def tone(step_id, of, reads="luminance"):
        counts = range_tones(document, item.id, step_id, of, reads, store)
        assert counts.sum() == pytest.approx(1)
        return (counts * np.arange(256)).sum()

    made = item.treatment[0].id
    assert tone(None, "beneath") < 1 and tone(None, "input") < 1
    assert tone(made, "beneath") < 1
    assert tone(made, "input") == pytest.approx(0.2126 * 255, abs=1)  # red's luma
    assert tone(made, "input", "red") == pytest.approx(255, abs=1)
    assert tone(made, "own") == pytest.approx(102, abs=1)
    assert tone(None, "own", "red") == pytest.approx(102, abs=2)  # red, multiplied
    with pytest.raises(KilnError):
        range_tones(document, item.id, made, "above", "luminance", store)
    with pytest.raises(KilnError):
        range_tones(document, "ground", None, "own", "luminance", store)


def test_limits_without_ids_have_the_same_ones_whenever_they_are_read():
    item = mark()
    place = {"x": px(1), "y": px(1), "width": px(5), "height": px(5)}
    known = {"kind": "region", "id": "limit-0", **place}
    item["landing"]["limits"] = [known, {"kind": "region", **place}, {"kind": "region", **place}]
    first, again = (piece(item).stack[0].landing.limits for _ in range(2))
    assert [one.id for one in first] == ["limit-0", "limit-1", "limit-2"]
    assert first == again


def test_several_ranges_of_the_same_tones_hold_together(store, ground):
    """Dark, and blue rather than grey: each a trapezoid of what lies there, multiplied."""
    dark = {"of": "input", "shown_to": 0.4, "hidden_above": 0.7}
    rich = {"of": "input", "reads": "saturation", "hidden_below": 0.2, "shown_from": 0.6}
    found = weighed(store, ground, ranges=[dark, rich])
    pixels = ground[0]
    wanted = trapezoid(READ["luminance"](pixels), (0, 0, 0.4, 0.7))
    wanted *= trapezoid(READ["saturation"](pixels), (0.2, 0.6, 1, 1))
    assert np.abs(found - wanted)[np.isfinite(found)].max() < 0.01


def test_what_is_no_range_is_refused_in_words(store):
    item = mark()
    item["landing"] |= {"range_own": 5}
    with pytest.raises(KilnError):
        piece(item)
    item["landing"] = {"ranges": [{"of": "elsewhere"}]}
    with pytest.raises(KilnError):
        piece(item)


@pytest.mark.parametrize("reads", ["luminance", "blue", "lightness"])
@pytest.mark.parametrize(("of", "mode"), [("input", "multiply"), ("beneath", "screen")])
def test_drafts_through_ranges_on_a_grainy_ground_are_as_the_exact_picture(
    store, rng, reads, of, mode
):
    """Within 2 of 255 over 16 x 16 px; single pixels have grain of their own in either."""
    wide, tall = 1600, 1152
    soft = np.linspace(0.15, 0.8, wide)[None, :, None] + rng.normal(0, 0.12, (tall, wide, 1))
    pixels = np.rint(np.clip(soft + rng.normal(0, 0.02, (tall, wide, 3)), 0, 1) * 255)
    ground = {"kind": "texture", "texture": {"hash": store.keep(png(pixels.astype(np.uint8)))}}
    paint = np.full((16, 16, 3), 0, np.uint8) + np.array([200, 90, 40], np.uint8)
    told = {"of": of, "reads": reads, **dict(zip(NAMES, (0.3, 0.45, 0.6, 0.8), strict=True))}
    coat = step("coat", mode, texture={"hash": store.keep(png(paint))}, keep_to_art=False)
    coat["landing"]["ranges"] = [told]
    flat = {"kind": "picture", "hash": store.keep(png(np.full((16, 16, 3), 140, np.uint8)))}
    item = mark(flat | {"width": 16, "height": 16}, wide / 2, tall / 2, [coat], scale=100)
    ground["placement"] = {"x": px(0), "y": px(0)}
    tree = piece(size=(wide, tall)).model_dump(mode="json") | {"ground": {"fill": ground}}
    laid = {"stack": [item]} if of == "beneath" else {"stack": [], "treatment": [coat]}
    document = load(tree | laid)
    draft, exact = (
        draw(document, None, 0.25, store)[..., :3] for draw in (engine.render, engine.exact)
    )
    apart = (draft - exact)[: tall // 64 * 16, : wide // 64 * 16]
    blocks = apart.reshape(tall // 64, 16, wide // 64, 16, 3).mean((1, 3))
    assert np.abs(blocks).max() < 2 / 255
