"""The engine's parts on their own: boxes, cache, pool, passes, and follow against the standard's displacement."""

import threading
import time

import numpy as np
import pytest

from kilncore import engine, sampling
from kilncore.box import EVERYWHERE, NOWHERE, Box, cut, put, scaled
from kilncore.engine import pool
from kilncore.engine.cache import TileCache
from kilncore.engine.landing import landed, passes
from kilncore.engine.plan import Plan
from kilncore.masks import luminance
from kilncore.steps.base import setting, step
from tests.documents import lettering, mark, piece, px
from tests.documents import step as asked


def test_boxes_meet_join_and_grow():
    a, b = Box(0, 0, 10, 8), Box(6, -2, 20, 5)
    assert a.met(b) == Box(6, 0, 10, 5) and a.joined(b) == Box(0, -2, 20, 8) and a.grown(3) == Box(-3, -3, 13, 11)
    assert a.met(Box(30, 30, 40, 40)).empty and a.joined(NOWHERE) == a == a.met(EVERYWHERE)


def test_regions_widen_outwards():
    """Pixel i covers [i / s, (i + 1) / s): a region takes every pixel that it touches, and no other."""
    assert scaled(10, 10, 10, 10, 0.5) == Box(5, 5, 10, 10)
    assert scaled(9, 11, 10, 10, 0.5) == Box(4, 5, 10, 11)
    assert scaled(0, 0, 3, 1, 1 / 3) == Box(0, 0, 1, 1)


def test_cut_and_put_are_each_others_other_side(rng):
    pixels, have, here = rng.random((4, 8, 10)), Box(5, 5, 15, 13), Box(7, 6, 11, 12)
    part = cut(pixels, have, here).copy()
    assert part.shape == (4, 6, 4)
    blank = np.zeros_like(pixels)
    put(blank, have, here, part)
    np.testing.assert_array_equal(cut(blank, have, here), part)
    assert np.count_nonzero(blank) == part.size


def test_two_who_want_one_tile_do_its_work_once():
    cache, made = TileCache(), []

    def make():
        made.append(1)
        time.sleep(0.05)
        return np.zeros(10)

    threads = [threading.Thread(target=lambda: cache.get("tile", make)) for _ in range(6)]
    [t.start() for t in threads], [t.join() for t in threads]
    assert len(made) == 1


def test_a_tile_that_fails_is_tried_by_the_next():
    cache = TileCache()
    with pytest.raises(ZeroDivisionError):
        cache.get("tile", lambda: 1 / 0)
    assert cache.get("tile", lambda: "made") == "made"


def test_the_least_recently_used_is_dropped():
    cache, tile = TileCache(budget=3000), lambda: np.zeros(125)  # 1000 bytes
    for name in ("a", "b", "c"):
        cache.get(name, tile)
    cache.get("a", tile)
    cache.get("d", tile)
    assert set(cache._tiles) == {"a", "c", "d"} and cache._bytes == 3000


def test_pictures_take_turns_in_the_pool():
    """A long picture that began first does not keep a short one waiting until it ends."""
    order = []

    def work(name, seconds):
        def one(_):
            time.sleep(seconds)
            order.append(name)
        return one

    long = threading.Thread(target=lambda: pool.each(work("long", 0.02), range(30)))
    long.start()
    time.sleep(0.05)
    pool.each(work("short", 0.001), range(3))
    behind = order.count("long")
    long.join()
    assert behind < 20 and order.count("long") == 30


def test_an_error_in_the_pool_is_raised():
    with pytest.raises(ValueError, match="three"):
        pool.each(lambda n: (_ for _ in ()).throw(ValueError("three")) if n == 3 else None, range(50))


@pytest.mark.parametrize("strength, expected", [(0, []), (0.4, [0.4]), (1, [1]), (1.6, [1, 0.6]), (3, [1, 1, 1])])
def test_strength_in_passes(strength, expected):
    assert passes(strength) == pytest.approx(expected)


def test_follow_is_the_standards_displacement_by_the_surfaces_own_relief(texture, store):
    """W3C Filter Effects: feDisplacementMap with X = Y = luma - mean + 0.5, resampled smoothly."""
    ground = {"kind": "texture", "texture": texture}
    document = piece(mark(lettering("OX", 200), treatment=[asked("follow", across=px(18), down=px(-11), smooth=px(0))]), ground=ground)
    bare = engine.render(piece(mark(lettering("OX", 200)), ground={"kind": "none"}), assets=store)
    beneath = engine.render(piece(ground=ground), assets=store)
    box = Plan(document).art(document.stack[0]).extent.met(Plan(document).page)
    luma = luminance(beneath)
    mean = luma[box.top : box.bottom, box.left : box.right].mean()
    map_ = np.full_like(beneath, 0.5)
    map_[..., 0] = map_[..., 1] = luma - mean + 0.5  # within 0..1 for this texture, or cut there
    inside = (luma - mean + 0.5 >= 0) & (luma - mean + 0.5 <= 1)
    expected = sampling.displace(bare, map_, 18, -11, "R", "G", "bicubic")[..., 3]
    found = engine.render(document.model_copy(update={"ground": piece(ground=ground).ground}), assets=store, with_ground=False)[..., 3]
    assert inside.mean() > 0.99
    # each value may have moved by half a step of 8 bits, 18 / 510 px, over edges that rise by some 1.2 a px
    np.testing.assert_allclose(found[inside], expected[inside], atol=0.05)
    assert np.abs(found[inside] - expected[inside]).mean() < 1e-3


def test_the_ground_has_a_treatment_of_its_own(texture, store):
    ground = {"kind": "texture", "texture": texture}
    soft = piece(ground=ground).model_dump(mode="json")
    soft["ground"]["treatment"] = [asked("soften", radius=px(4))]
    from kilncore.document import load

    plain, softened = (engine.render(p, assets=store) for p in (piece(ground=ground), load(soft)))
    assert softened[..., :3].std() < 0.2 * plain[..., :3].std()
    assert softened.mean() == pytest.approx(plain.mean(), abs=0.01)


def test_wrong_registrations_fail_at_once():
    from kilncore.model import Model

    class Params(Model):
        amount: float = setting(1, "Amount", "How much.", "slider")

    with pytest.raises(ValueError, match="twice"):
        step("wear", params=Params, gives="cover", title="", sentence="", summary=str)
    with pytest.raises(ValueError, match="must give one of"):
        step("velvet", params=Params, gives="joy", title="", sentence="", summary=str)
    with pytest.raises(TypeError, match="must return"):
        landed("nothing", None, None)
