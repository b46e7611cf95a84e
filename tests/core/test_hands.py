"""What a draft takes a shorter way to while a hand moves something, and what stays the same for
it: each beside the long way.
"""

from typing import Any

import numpy as np
import pytest

from kilncore import engine
from kilncore.edits import apply
from kilncore.engine.near import near
from kilncore.engine.plans import plan_of
from kilncore.engine.recall import Recall
from kilncore.engine.render import render_node
from kilncore.engine.wholes import value_of
from kilncore.geometry.box import Box
from kilncore.graph.plane import enlarged
from kilncore.masks import levels
from kilncore.perspective.homography import between
from kilncore.perspective.projection import Projection
from kilncore.planes.mark_shape import DraftShape, MovedShape
from kilncore.planes.surface_facts import _quantile
from kilncore.solve.tones import BINS, Tones
from kilncore.system.cache import ByteCache
from kilncore.textures.copies import halved
from kilncore.textures.texture import Texture
from kilncore.textures.toned import most_folds, toned_blocks
from tests.documents import lettering, mark, piece, px, step
from tests.pictures import png


@pytest.mark.parametrize("kind", [np.uint8, np.uint16])
@pytest.mark.parametrize("folds", [0, 1, 3])
@pytest.mark.parametrize("gamma", [1.0, 1.7])
def test_tones_through_levels_are_means_of_blocks(rng, kind, folds, gamma):
    tones = rng.integers(0, np.iinfo(kind).max, (64, 96)).astype(kind)
    side = 2**folds
    straight = (tones / np.iinfo(kind).max).astype(np.float32)
    through = levels(straight, 0.2, gamma, 0.6)
    blocks = np.stack([through, through**2]).reshape(2, 64 // side, side, 96 // side, side)
    made = toned_blocks(tones, 0.2, gamma, 0.6, folds) / 65535
    np.testing.assert_allclose(made, blocks.mean((2, 4)), atol=5e-5)


def test_blocks_are_whole(rng):
    assert most_folds(np.zeros((96, 40)), 9) == 3
    with pytest.raises(ValueError, match="whole blocks"):
        toned_blocks(np.zeros((96, 42), np.uint8), 0.1, 1.0, 0.9, 2)


@pytest.mark.parametrize("kind", [np.uint8, np.uint16])
def test_half_a_texture_is_rounded_means(rng, kind):
    planes = rng.integers(0, np.iinfo(kind).max, (3, 34, 48)).astype(kind)
    full = 257 if kind is np.uint8 else 1
    means = planes.reshape(3, 17, 2, 24, 2).sum((2, 4), dtype=np.int64) * (full / 4)
    np.testing.assert_array_equal(halved(planes, 24, 17), np.rint(means).astype(np.uint16))


def test_shares_from_running_sums_are_the_shares(rng):
    counts = rng.random((5, BINS)).astype(np.float32)
    told = (np.arange(5), counts, counts.sum(1) + 1.0, rng.random(5))
    whole, soon = Tones(*told), Tones(*told, sampled=True)
    for black, white in ((-0.2, 0.1), (0.3, 0.31), (0.5, 0.5), (0.2, 0.9), (0.95, 1.4)):
        np.testing.assert_allclose(
            soon.lost(black, white), whole.lost(black, white), atol=3e-5, rtol=0
        )
    for share in (0.05, 0.3, 0.8):
        near_to = zip(soon.points(share, 0.2, 0.4), whole.points(share, 0.2, 0.4), strict=True)
        assert all(abs(one - other) < 1e-3 for one, other in near_to)


WORDS = ["stack", "held", "art", "text"]


def _three(texture, at=(0.0, 0.0)):
    treated = [
        step("wear", texture=texture, black=0.3, white=0.6, bias=0.5),
        step("grain", size=px(2)),
        step("follow", across=px(4), down=px(3)),
    ]
    marks = [
        mark(lettering("OX", 90), 160 + at[0], 140 + at[1], treated) | {"id": "held"},
        mark(lettering("FERRY", 60), 420, 180, treated) | {"id": "beside"},
        mark(lettering("BOAT", 60), 200, 430, treated) | {"id": "below"},
    ]
    return piece(*marks, size=(640, 560))


def test_a_step_reads_only_the_items_that_reach_it(texture, store):
    """The stack beneath the last mark is the ground alone; its picture is the whole stack's."""
    plan = plan_of(_three(texture))
    whole, box = plan.beneath("below").node, Box(100, 380, 300, 480)
    few = near(whole, box)
    assert few.key == plan.treated_ground().key and few is not whole
    assert near(whole, Box(0, 0, 640, 560)) is whole
    region = 100, 380, 200, 100
    pictures = [render_node(one, plan.piece, region, 1.0, store) for one in (whole, few)]
    np.testing.assert_array_equal(*pictures)


def test_a_mark_elsewhere_changes_no_key_of_a_step(texture):
    before = _three(texture)
    first = before.item("held").treatment[0].id
    way = ["stack", "held", "treatment", first, "params", "black"]
    after = apply(before, [{"op": "set", "path": way, "value": 0.4}])
    for name, same in (("held", False), ("beside", True), ("below", True)):
        one, other = (_step_node(of, name, 1).key for of in (before, after))
        assert (one == other) is same


def _step_node(of, name, number):
    """The node of a mark's step."""
    return plan_of(of).finished().landings[of.item(name).treatment[number].id]


def test_what_is_dragged_lies_whole_px_of_the_draft_away(texture, store):
    """And nothing but it: its textures are the ones that were sampled where it lay."""
    recall, rest = Recall(ByteCache()), _three(texture)
    recall.rests(rest, plan_of(rest).layout)
    moved = recall.on_whole_px(_three(texture, (7.3, -4.6)), 0.4)
    x, y = (getattr(moved.item("held").placement, name).value for name in "xy")
    assert (x - 160) * 0.4 == pytest.approx(round((x - 160) * 0.4)) and abs(x - 167.3) <= 1.25
    assert (y - 140) * 0.4 == pytest.approx(round((y - 140) * 0.4)) and abs(y - 135.4) <= 1.25
    assert moved.item("beside") is not None and recall.on_whole_px(rest, 0.4) is rest


@pytest.mark.parametrize("unit", ["px", "mm", "%"])
def test_what_is_dragged_to_the_end_of_the_world_is_drawn(texture, store, unit):
    """Places of a document are held to bounds; whole px beside one may lie beyond them."""
    recall, rest = Recall(ByteCache()), _three(texture)
    recall.rests(rest, plan_of(rest).layout)
    way = ["stack", "held", "placement", "x"]
    far = apply(rest, [{"op": "set", "path": way, "value": {"value": 99_999.9, "unit": unit}}])
    engine.pixels(far, None, 0.37, store, recall=recall, cache=recall.cache)


def test_a_dragged_mark_samples_nothing_anew(texture, store, monkeypatch):
    """Its mask's blocks are found by what they are, wherever they lie."""
    cache, sampled = ByteCache(), []
    recall, rest = Recall(cache), _three(texture)
    how = {"cache": cache, "recall": recall}
    engine.pixels(rest, None, 0.4, store, truly=True, **how)
    engine.pixels(_three(texture, (30, 10)), None, 0.4, store, **how)
    read = Texture.sample
    monkeypatch.setattr(Texture, "sample", lambda *given: sampled.append(given) or read(*given))
    drawn = engine.pixels(_three(texture, (57, 23)), None, 0.4, store, **how)
    assert not sampled
    anew = engine.pixels(_three(texture, (57, 23)), None, 0.4, store, cache=ByteCache(), seen=None)
    assert np.abs(drawn.astype(int) - anew).mean() < 2.5


def test_a_shape_goes_along(texture, store):
    """The shape of a mark that was moved is the one that it had, where the mark is now."""
    first, now = (
        _step_node(_three(texture, at), "held", 0).planes["shape"] for at in ((0, 0), (64, 32))
    )
    moved = now.stand_in(first)
    assert isinstance(moved, MovedShape) and (moved.across, moved.down) == (64, 32)
    told, true = (value_of(one, store, ByteCache()) for one in (moved, now))
    box = Box(150, 120, 290, 220)
    np.testing.assert_allclose(
        told.at(told.deep, box, 1.0), true.at(true.deep, box, 1.0), atol=0.51
    )
    # a shape that was moved is no dead end: the next one is told from the same
    again = now.stand_in(first.stand_in(first) or moved)
    assert isinstance(again, MovedShape) and again.of is first
    assert now.stand_in(DraftShape(now.reads, now.whole, 0.5)) is None
    changed = apply(_three(texture), [{"op": "set", "path": WORDS, "value": "XO"}])
    assert _step_node(changed, "held", 0).planes["shape"].stand_in(first) is None


def test_a_shape_of_a_draft_is_told_from_the_draft(texture, store):
    """As deep, in px of the piece, as the exact one, to a px of the draft."""
    of = _three(texture)
    node = plan_of(of, 0.5).finished().landings[of.item("held").treatment[0].id]
    shape: Any = node.planes["shape"]
    assert isinstance(shape.hasty, DraftShape)
    told, true = (value_of(one, store, ByteCache()) for one in (shape.hasty, shape))
    box, ours, exact = Box(0, 0, 200, 120), *(one.scale for one in (told, true))
    deep, exactly = told.at(told.deep, box, 0.5) / ours, true.at(true.deep, box, 0.5) / exact
    assert exactly.max() > 5
    np.testing.assert_allclose(deep, exactly, atol=2.0)


@pytest.mark.parametrize("channels", [1, 3])
def test_what_a_hand_moves_in_perspective_is_read_nearly_as_it_lies(rng, channels):
    """One place a pixel instead of nine and more: the same picture on average."""
    coarse = rng.integers(0, 255, (channels, 32, 32)).astype(np.uint8)
    texture = Texture(np.kron(coarse, np.ones((1, 16, 16), np.uint8)))
    corners = [(20.0, 10.0), (230.0, 40.0), (200.0, 190.0), (5.0, 150.0)]
    flat = [(0.0, 0.0), (240.0, 0.0), (240.0, 200.0), (0.0, 200.0)]
    laid = Projection((between(flat, corners),))
    matrix = (2.0, 0.0, 0.0, 2.0, -240.0, -200.0)
    fine, _ = texture.sample(matrix, 30, 40, 150, 100, "repeat", laid)
    hasty = Projection(laid.parts, hasty=True)
    quick, _ = texture.sample(matrix, 30, 40, 150, 100, "repeat", hasty)
    assert quick.shape == fine.shape and np.abs(quick - fine).mean() < 0.03
    box = Box(30, 40, 180, 140)
    np.testing.assert_allclose(hasty.seen(box), laid.seen(box), atol=0.02)


def test_a_cache_shrinks_by_what_was_not_asked_for_longest():
    cache = ByteCache(10_000)
    for n in range(9):
        cache.put(n, np.zeros(100, np.float64))
    cache.get(0, lambda: None)
    cache.shrink(0.25)
    assert cache.nbytes <= 2500 and 0 in cache and 8 in cache and 1 not in cache


def test_a_draft_of_a_grained_photo_keeps_its_place_on_the_page(store, rng):
    """Blocks begin where the texture does: the parts of a picture meet."""
    name = store.keep(png(rng.integers(0, 255, (96, 128, 3), dtype=np.uint8)))
    worn = [step("wear", texture={"hash": name}, black=0.2, white=0.8)]
    of = piece(mark(lettering("OO", 300), 320, 260, worn), size=(640, 520))
    whole = engine.pixels(of, None, 0.5, store, cache=ByteCache(), seen=None)
    part = engine.pixels(of, (100, 80, 300, 220), 0.5, store, cache=ByteCache(), seen=None)
    np.testing.assert_array_equal(part, whole[40:150, 50:200])


@pytest.mark.parametrize("size", [(24, 31), (200, 173)])
def test_quantiles_of_sorted_values_are_those_of_numpy(rng, size):
    grey = rng.random(size).astype(np.float32)
    ordered, shares = np.sort(grey, axis=None), np.linspace(0, 1, 65)
    assert _quantile(ordered, shares).tolist() == np.quantile(grey, shares).tolist()
    for share in (0.005, 0.995):
        assert np.float32(_quantile(ordered, share)) == np.float32(np.quantile(grey, share))


@pytest.mark.parametrize("kind", [np.float16, np.uint16, np.int16])
@pytest.mark.parametrize("factor", [0.37, 1.0, 4.0])
def test_planes_between_their_values_are_rounded_as_numpy_rounds(rng, kind, factor):
    values, cells = (rng.random((60, 80)) * 200).astype(kind), Box(-10, 5, 70, 65)
    box = Box(-20, 9, 90, 70)
    far = (np.arange(box.left, box.right) + 0.5) / factor - 0.5 + 10
    down = (np.arange(box.top, box.bottom) + 0.5) / factor - 0.5 - 5
    at = [
        np.clip(np.floor(one)[None] + [[0], [1]], 0, most) for one, most in ((far, 79), (down, 59))
    ]
    columns, rows = (one.astype(int) for one in at)
    share, lower = ((one - np.floor(one)).astype(np.float32) for one in (far, down))
    near = values[rows[0]].astype(np.float32) * (1 - lower)[:, None]
    near = near + values[rows[1]].astype(np.float32) * lower[:, None]
    told = (near[:, columns[0]] * (1 - share) + near[:, columns[1]] * share) * np.float32(0.25)
    np.testing.assert_array_equal(enlarged(values, cells, factor, 0.25, box), told)
