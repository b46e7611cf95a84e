"""Strokes with rough tips, pens, scratches and scrapes: against constructions of their own; taken
back, turned round, and added by a step.
"""

import base64
import zlib

import numpy as np
import pytest
from scipy.spatial import cKDTree

from kilncore import edits, engine
from kilncore.errors import KilnError
from kilncore.geometry.box import Box
from kilncore.strokes import PACK, Stroke, file_of, pack_of, strokes_in
from kilncore.strokes.dabs import dabs_of
from kilncore.strokes.scrapes import scrapes
from kilncore.strokes.scratches import handful, scratch
from kilncore.strokes.tip import SHIPPED, SIZE, tip_from, tip_named, tip_of
from kilncore.system.cache import ByteCache
from tests.documents import lettering, mark, piece, step
from tests.strokes import drawn as covered_by

LANDING = ["stack", "gull", "landing"]
UNIT = 100  # px of the frame's unit
PAGE = Box(0, 0, 300, 200)
ROUGH = {"gap": 0.3, "turns": 0.6, "sizes": 0.4, "strays": 0.3, "flips": True, "loaded": 0.7}


def own(scale=1.0, turn=0.0):
    """From px of the page to a frame in its middle."""
    cos, sin = np.cos(turn) / (UNIT * scale), np.sin(turn) / (UNIT * scale)
    x, y = 0.5 - 150 * scale, 0.5 - 100 * scale
    return cos, -sin, sin, cos, cos * x + sin * y, cos * y - sin * x


def wave(**more):
    along = np.linspace(-1, 1, 40)
    points = np.column_stack([along * 1.1, 0.3 * np.sin(along * 4)])
    return Stroke(**({"points": points.tolist(), "radius": 0.2, "seed": 9} | more))


def drawn(stroke, matrix=None, page=PAGE):
    """(H, W) of what a stroke covers of the page."""
    return covered_by(stroke, matrix or own(), page)


@pytest.fixture
def document():
    return piece({**mark(lettering("Gull", 200), 300, 200), "id": "gull"}, size=(640, 400))


def touched(document, store, strokes):
    told = [one.model_dump(mode="json", exclude_defaults=True) for one in strokes]
    return edits.apply(document, [{"op": "add_strokes", "path": LANDING, "strokes": told}], store)


def rendered(document, store, **more):
    return engine.render(document, assets=store, cache=ByteCache(), **more)


# --- tips ---


def test_every_tip_that_ships_is_a_picture_of_its_own_and_strokes_in_its_own_way():
    found = {name: drawn(wave(tip=name, gap=0.2, seed=3)) for name in SHIPPED}
    assert len(SHIPPED) >= 10
    for name, amount in found.items():
        assert tip_named(name).pixels.shape == (SIZE, SIZE)
        assert 0.2 < amount.max() <= 1 and 0.001 < amount.mean() < 0.5, name
        for other in set(SHIPPED) - {name}:
            assert np.abs(amount - found[other]).max() > 0.2, (name, other)


def test_a_stamped_stroke_is_one_less_the_product_of_what_its_dabs_let_through():
    """By an independent loop over pixels and dabs, with the tip read between its pixels."""
    pixels = np.random.default_rng(2).random((SIZE, SIZE))
    tip = tip_of(pixels)
    stroke = wave(tip=tip.told, radius=0.7, strength=0.9, **ROUGH)
    (one,) = strokes_in(file_of(stroke))
    values, through = tip.pixels / 255, np.ones((200, 300))
    ys, xs = np.mgrid[:200, :300]
    padded = np.pad(values, 1)
    for x, y, radius, turn, flip, load in dabs_of(one):
        # 64 px and more across: the tip is read at full size, or halved where that is enough
        level = padded
        size = SIZE
        while size > 3 * radius * UNIT:
            size //= 2
            level = np.pad(level[1:-1, 1:-1].reshape(size, 2, size, 2).mean((1, 3)), 1)
        dx, dy = xs + 0.5 - 150 - x * UNIT, ys + 0.5 - 100 - y * UNIT
        u = (dx * np.cos(turn) + dy * np.sin(turn)) * flip / (2 * radius * UNIT) * size
        v = (dy * np.cos(turn) - dx * np.sin(turn)) / (2 * radius * UNIT) * size
        u, v = np.clip(u + size / 2 + 0.5, 0, size + 1), np.clip(v + size / 2 + 0.5, 0, size + 1)
        i, j = np.minimum(u.astype(int), size), np.minimum(v.astype(int), size)
        s, t = u - i, v - j
        value = (level[j, i] * (1 - s) + level[j, i + 1] * s) * (1 - t)
        value += (level[j + 1, i] * (1 - s) + level[j + 1, i + 1] * s) * t
        through *= 1 - load * value
    np.testing.assert_allclose(drawn(stroke), np.minimum(1 - through, one.strength), atol=2e-4)


def test_a_stroke_turns_and_grows_with_its_frame():
    """Turned by a quarter, the page is the same, turned."""
    square = Box(-50, -100, 350, 300)
    stroke = wave(tip="cork", follows=True)
    flat, turned = (drawn(stroke, own(turn=one), square) for one in (0, np.pi / 2))
    np.testing.assert_allclose(np.rot90(flat, -1), turned, atol=0.02)
    assert flat.sum() > 1000


@pytest.mark.parametrize("tip", ["", *SHIPPED])
def test_drawn_at_two_scales_it_is_the_same_averaged_down(tip):
    told = {"gap": SHIPPED[tip].gap, "loaded": SHIPPED[tip].loaded} if tip else {}
    stroke = wave(tip=tip, radius=0.3, **told)
    large = drawn(stroke, own(2), Box(0, 0, 600, 400)).reshape(200, 2, 300, 2).mean((1, 3))
    small = drawn(stroke)
    assert abs(large.mean() - small.mean()) < 0.02 * max(small.mean(), 0.02)
    assert np.abs(large - small).mean() < 0.016
    if tip not in ("wire", "spatter"):  # of lines and drops of less than a pixel little is left
        assert np.corrcoef(large.ravel(), small.ravel())[0, 1] > 0.97


def test_a_smooth_stroke_is_as_scipy_measures_its_distance():
    stroke = wave(radius=0.25, hardness=0.4)
    (one,) = strokes_in(file_of(stroke))
    fine = np.concatenate(
        [np.linspace(a, b, 60) for a, b in zip(one.points[:-1], one.points[1:], strict=True)]
    )
    ys, xs = np.mgrid[:200, :300]
    places = np.column_stack([xs.ravel() + 0.5, ys.ravel() + 0.5])
    away = cKDTree(fine * UNIT + (150, 100)).query(places)[0].reshape(200, 300)
    radius, soft = one.radius * UNIT, one.radius * UNIT * (1 - one.hardness)
    share = np.clip((away - radius + soft) / soft, 0, 1)
    np.testing.assert_allclose(drawn(stroke), 1 - share * share * (3 - 2 * share), atol=0.004)


def test_a_pen_that_presses_less_draws_a_thinner_line():
    points = [(-1.2, 0), (0, 0), (1.2, 0)]
    even = drawn(wave(points=points, hardness=0.9))
    pressed = drawn(
        wave(points=points, hardness=0.9, pressures=(0.1, 1, 0.1), thins=1.0),
    )
    assert np.all(pressed <= even + 1e-6)
    widths = [(pressed[:, x] > 0.5).sum() for x in (60, 110, 150, 240)]
    assert widths[0] < widths[1] < widths[2] and widths[3] < widths[1]
    rough = wave(points=points, tip="cork", pressures=(0.2, 1, 0.2), thins=0.8, eases=1.0)
    dabs = dabs_of(strokes_in(file_of(rough))[0])
    assert dabs[0, 2] < 0.5 * dabs[:, 2].max() and dabs[0, 5] < 0.3 * dabs[:, 5].max()


def test_a_line_thinner_than_a_pixel_covers_less_of_it():
    sums = [drawn(wave(points=[(-1, 0), (1, 0)], radius=r)).sum() for r in (0.001, 0.002, 0.004)]
    assert 1.8 < sums[1] / sums[0] < 2.2 and 1.8 < sums[2] / sums[1] < 2.2


# --- what cannot be a stroke ---

BOMB = base64.b64encode(zlib.compress(bytes(50_000_000))).decode()


@pytest.mark.parametrize(
    "asked",
    [
        {"tip": "no such tip"},
        {"tip": BOMB[:60_000]},
        {"tip": base64.b64encode(zlib.compress(b"short")).decode()},
        {"tip": "cork", "gap": 0},
        {"tip": "cork", "seed": -1},
        {"pressures": [1.0]},
        {"pressures": [2.0] * 40},
        {"points": [[float("nan"), 0]]},
        {"points": [[0, 0]], "tip": "cork", "loaded": 3},
    ],
)
def test_what_is_no_stroke_is_refused(store, document, asked):
    told = {"points": [[0.1, 0.1]] * 40, "radius": 0.1, **asked}
    with pytest.raises(KilnError):
        edits.apply(document, [{"op": "add_stroke", "path": LANDING, "stroke": told}], store)


def test_a_stroke_of_a_hundred_thousand_points_is_drawn(store, document):
    points = np.random.default_rng(1).uniform(-1, 1, (100_000, 2))
    after = touched(document, store, [Stroke(points=points.tolist(), radius=0.003, tip="crumb")])
    assert rendered(after, store).shape == (400, 640, 4)


def test_what_a_broad_stroke_takes_to_draw_is_bounded():
    """A scribble as wide as the mark, over and over: a few hundred dabs and points."""
    points = np.random.default_rng(1).uniform(-1, 1, (100_000, 2)).tolist()
    for radius, dabs, most in ((1.0, 600, 800), (10.0, 300, 800), (0.02, 30_000, 20_000)):
        (one,) = strokes_in(file_of(Stroke(points=points, radius=radius, tip="rag", gap=0.02)))
        assert len(dabs_of(one)) <= dabs and len(one.points) <= most


def test_scratches_are_edits_of_their_own(store, document):
    one = {"op": "add_scratch", "path": LANDING, "start": [-1, 0], "end": [1, 0.2]}
    several = {"op": "add_scratches", "path": LANDING, "across": [3, 1], "count": 9}
    how = {"width": 0.02, "seed": 4}
    after = edits.apply(document, [{**one, **how}, {**several, **how}], store)
    assert len(after.stack[0].landing.touch) == 10
    assert np.abs(rendered(after, store) - rendered(document, store)).max() > 0.2
    for bad in ({"start": [1]}, {"width": -1}, {"end": [1e9, 0]}, {"seed": "x"}, {"strength": 4}):
        with pytest.raises(KilnError):
            edits.apply(document, [{**one, **how, **bad}], store)
    with pytest.raises(KilnError):
        edits.apply(document, [{**several, **how, "count": 900}], store)


def test_strokes_far_outside_change_nothing(store, document):
    far = [Stroke(points=[(150, 150), (190, 199)], radius=1, tip=tip) for tip in ("", "rag")]
    np.testing.assert_array_equal(
        rendered(touched(document, store, far), store), rendered(document, store)
    )


# --- taken back, turned round ---


def several(count):
    random = np.random.default_rng(5)
    return [
        Stroke(
            points=random.uniform(-0.6, 0.6, (4, 2)).tolist(),
            radius=0.05,
            tip=("", "cork", "chalk")[n % 3],
            back=n % 4 == 3,
            seed=n,
        )
        for n in range(count)
    ]


@pytest.mark.parametrize("number", [0, 5, PACK - 1, PACK, 2 * PACK + 3, -1])
def test_taken_back_is_as_if_it_had_never_been_drawn(store, document, number):
    strokes = several(2 * PACK + 5)
    after = edits.apply(
        touched(document, store, strokes),
        [{"op": "take_back_stroke", "path": LANDING, "number": number}],
        store,
    )
    del strokes[number]
    assert after == touched(document, store, strokes)


def test_one_that_is_not_there_is_not_taken_back(store, document):
    for number in (3, -4):
        with pytest.raises(KilnError, match="no longer there"):
            edits.apply(
                touched(document, store, several(3)),
                [{"op": "take_back_stroke", "path": LANDING, "number": number}],
                store,
            )


def test_inverted_hides_what_was_shown_and_twice_is_as_it_was(store, document):
    before = touched(document, store, several(PACK + 3))
    invert = [{"op": "invert_strokes", "path": LANDING}]
    once = edits.apply(before, invert, store)
    bare = [edits.apply(document, [], store), edits.apply(document, invert, store)]
    shown, hidden = (rendered(one, store).astype(float) for one in bare)
    straight, turned = (rendered(one, store).astype(float) for one in (before, once))
    # of each pixel as much is shown in the one as is hidden in the other
    np.testing.assert_allclose(straight + turned, shown + hidden, atol=4 / 255)
    assert edits.apply(once, invert, store) == before


def test_a_pack_keeps_each_tip_once():
    files = [file_of(one) for one in several(PACK)]
    assert len(pack_of(files)) < sum(map(len, files)) / 5
    for alone, packed in zip(
        [strokes_in(one)[0] for one in files], strokes_in(pack_of(files)), strict=True
    ):
        np.testing.assert_array_equal(alone.points, packed.points)
        assert (alone.rough is None) == (packed.rough is None)
        if alone.rough:
            np.testing.assert_array_equal(alone.rough.tip.pixels, packed.rough.tip.pixels)


def test_rough_strokes_are_the_same_in_any_tiles_and_crops(store, document):
    document = touched(document, store, several(PACK + 9))
    whole = rendered(document, store)
    part = rendered(document, store, region=(150, 90, 300, 200), tile=(128, 96), threads=1)
    np.testing.assert_array_equal(part, whole[90:290, 150:450])


def test_one_stroke_more_is_drawn_onto_the_others_to_the_bit(store, document):
    """Also after one is taken back, and another drawn."""
    cache, strokes = ByteCache(), several(PACK + 12)
    document = touched(document, store, strokes[: PACK + 6])
    for n in range(PACK + 6, PACK + 12):
        document = touched(document, store, strokes[n : n + 1])
        kept = engine.render(document, assets=store, cache=cache)
        np.testing.assert_array_equal(kept, rendered(document, store))
    back = [{"op": "take_back_stroke", "path": LANDING, "number": PACK + 2}]
    document = edits.apply(document, back, store)
    kept = engine.render(document, assets=store, cache=cache)
    np.testing.assert_array_equal(kept, rendered(document, store))


# --- laid by a seed ---


def test_a_scratch_tapers_and_goes_where_it_is_told():
    one = scratch((-1, 0.2), (1, -0.2), 0.06, 4)
    assert one.points[0] == (-1, 0.2) and one.points[-1] == pytest.approx((1, -0.2))
    assert one.pressures[0] < 0.2 > one.pressures[-1] and max(one.pressures) > 0.7
    assert one == scratch((-1, 0.2), (1, -0.2), 0.06, 4) != scratch((-1, 0.2), (1, -0.2), 0.06, 5)


def test_a_handful_lies_over_the_item_and_bad_counts_are_refused():
    made = handful(20, (3.0, 1.0), 0.05, 1.0, 8)
    middles = np.array([np.mean(one.points, 0) for one in made])
    assert len(made) == 20 and np.abs(middles).max(0)[0] < 1.6 and np.abs(middles).max(0)[1] < 0.7
    for count in (0, 61):
        with pytest.raises(KilnError):
            handful(count, (1, 1), 0.1, 1, 1)


def test_scrapes_follow_the_outline_on_the_side_that_is_asked_for():
    ring = np.linspace(0, 2 * np.pi, 90, endpoint=False)
    loop = np.column_stack([np.cos(ring), np.sin(ring)])
    brush = Stroke(points=((0, 0),), radius=0.05, tip="torn-card")
    every = scrapes([loop], brush, 3)
    away = np.concatenate([np.hypot(*np.transpose(one.points)) for one in every])
    assert len(every) > 5 and np.abs(away - 1).max() < 0.25 and np.abs(away - 1).mean() < 0.05
    assert {one.tip for one in every} == {"torn-card"}
    left = scrapes([loop], brush, 3, "left")
    assert 0 < len(left) < len(every)
    assert all(np.mean(one.points, 0)[0] < -0.5 for one in left)
    assert scrapes([loop], brush, 3) == every
    assert scrapes([loop[:2]], brush, 3) == []


# --- dabs, a step ---


def dabbed(store, keep_to_art=True, **params):
    step_ = step("dabs", keep_to_art=keep_to_art, **params) | {"id": "dabs"}
    art = lettering("Gull", 200, "#808080")
    document = piece({**mark(art, 300, 200), "id": "gull", "treatment": [step_]}, size=(640, 400))
    path = ["stack", "gull", "treatment", "dabs", "params"]
    stroke = {"points": [[-2, 0], [2, 0]], "radius": 0.2, "hardness": 1.0}
    return document, edits.apply(
        document, [{"op": "add_stroke", "path": path, "stroke": stroke}], store
    )


def test_dabs_add_a_colour_to_the_art_alone_or_spill_over(store):
    bare, kept = dabbed(store, colour="#ff0000")
    _, spilt = dabbed(store, False, colour="#ff0000")
    red = np.array([255, 0, 0, 255])
    before, on_art, all_over = (
        np.rint(rendered(one, store) * 255).astype(int) for one in (bare, kept, spilt)
    )
    art = (np.abs(before - [128, 128, 128, 255]).max(-1) < 2)[200]
    assert (np.abs(on_art[200][art] - red).max(-1) < 3).mean() > 0.9
    beyond = (np.abs(before - before[0, 0]).max(-1) == 0)[200]
    np.testing.assert_array_equal(on_art[200][beyond], before[200][beyond])
    assert (np.abs(all_over[200] - red).max(-1) < 3).all()
    np.testing.assert_array_equal(on_art[:120], before[:120])


@pytest.mark.parametrize(("adds", "becomes"), [("darker", 64), ("lighter", 192)])
def test_dabs_darken_by_multiplying_and_lighten_by_screening(store, adds, becomes):
    """W3C Compositing and Blending Level 1: b b, and 1 - (1 - b) (1 - b)."""
    bare, after = (rendered(one, store) * 255 for one in dabbed(store, adds=adds))
    art = np.abs(bare[200, :, :3] - 128).max(-1) < 1
    assert art.sum() > 40
    assert np.median(after[200][art][:, 0]) == pytest.approx(becomes, abs=1.5)


def test_dabs_of_no_strokes_change_nothing(store):
    bare, _ = dabbed(store, colour="#ff0000")
    plain = bare.model_copy(update={"stack": (bare.stack[0].model_copy(update={"treatment": ()}),)})
    np.testing.assert_array_equal(rendered(bare, store), rendered(plain, store))


def test_strokes_are_laid_only_where_strokes_are_kept(store, document):
    for path in (["stack", "gull"], ["stack", "gull", "placement"], ["ground", "landing"]):
        with pytest.raises(KilnError):
            edits.apply(
                document,
                [{"op": "add_stroke", "path": path, "stroke": {"points": [[0, 0]], "radius": 1}}],
                store,
            )


def test_a_tip_is_made_of_the_part_that_is_asked_for():
    """A dark ring in the upper right quarter of a pale texture, of 8 and of 16 bits."""
    rows, columns = np.mgrid[:400, :600]
    away = np.hypot(columns - 480, rows - 90)
    pale = np.where((away > 20) & (away < 50), 30, 220).astype(np.uint8)[None]
    for planes in (pale, pale.astype(np.uint16) * 257):
        ring = tip_from(planes, True, 0.35, (0.8, 0.225)).pixels.astype(int)
        middle = SIZE // 2
        assert ring[middle, middle] == 0 and ring[middle, middle + 48] > 200
        assert tip_from(planes, False, 0.35, (0.8, 0.225)).pixels[middle, middle] > 200
    corner = tip_from(pale, True, 0.35, (1, 0)).pixels
    np.testing.assert_array_equal(corner, tip_from(pale, True, 0.35, (0.95, 0.05)).pixels)
