"""The engine's parts on their own: boxes, cache, pool, passes, and follow against the standard's
displacement.
"""

import threading
import time

import numpy as np
import pytest

from kilncore import engine, sampling
from kilncore.engine import pool
from kilncore.engine.merging import landed, passes
from kilncore.engine.plan import Plan
from kilncore.geometry.box import EVERYWHERE, NOWHERE, Box, crop, put, scaled
from kilncore.masks import luminance
from kilncore.prep.texture_ref import TextureRef
from kilncore.steps.base import setting, step
from kilncore.system.cache import ByteCache
from tests.documents import lettering, mark, piece, px
from tests.documents import step as asked


def test_boxes_meet_join_and_grow():
    a, b = Box(0, 0, 10, 8), Box(6, -2, 20, 5)
    assert (
        a.intersection(b) == Box(6, 0, 10, 5)
        and a.union(b) == Box(0, -2, 20, 8)
        and a.expanded(3) == Box(-3, -3, 13, 11)
    )
    assert a.intersection(Box(30, 30, 40, 40)).empty and a.union(NOWHERE) == a == a.intersection(
        EVERYWHERE
    )


def test_regions_widen_outwards():
    """Pixel i covers [i / s, (i + 1) / s): a region takes every pixel that it touches, and no
    other.
    """
    assert scaled(10, 10, 10, 10, 0.5) == Box(5, 5, 10, 10)
    assert scaled(9, 11, 10, 10, 0.5) == Box(4, 5, 10, 11)
    assert scaled(0, 0, 3, 1, 1 / 3) == Box(0, 0, 1, 1)


def test_cut_and_put_are_each_others_other_side(rng):
    pixels, have, here = rng.random((4, 8, 10)), Box(5, 5, 15, 13), Box(7, 6, 11, 12)
    part = crop(pixels, have, here).copy()
    assert part.shape == (4, 6, 4)
    blank = np.zeros_like(pixels)
    put(blank, have, here, part)
    np.testing.assert_array_equal(crop(blank, have, here), part)
    assert np.count_nonzero(blank) == part.size


def test_two_who_want_one_tile_do_its_work_once():
    cache, made = ByteCache(), []

    def make():
        made.append(1)
        time.sleep(0.05)
        return np.zeros(10)

    threads = [threading.Thread(target=lambda: cache.get("tile", make)) for _ in range(6)]
    [t.start() for t in threads], [t.join() for t in threads]
    assert len(made) == 1


def test_a_tile_that_fails_is_tried_by_the_next():
    cache = ByteCache()
    with pytest.raises(ZeroDivisionError):
        cache.get("tile", lambda: 1 / 0)
    assert cache.get("tile", lambda: "made") == "made"


def test_the_least_recently_used_is_dropped():
    cache, tile = ByteCache(budget=3600), lambda: np.zeros(125)  # 1000 bytes, and some for the key
    for name in ("a", "b", "c"):
        cache.get(name, tile)
    cache.get("a", tile)
    cache.get("d", tile)
    assert set(cache._values) == {"a", "c", "d"} and cache.nbytes == 3600


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
        pool.each(
            lambda n: (_ for _ in ()).throw(ValueError("three")) if n == 3 else None, range(50)
        )


@pytest.mark.parametrize(
    "strength, expected", [(0, []), (0.4, [0.4]), (1, [1]), (1.6, [1, 0.6]), (3, [1, 1, 1])]
)
def test_strength_in_passes(strength, expected):
    assert passes(strength) == pytest.approx(expected)


def test_follow_is_the_standards_displacement_by_the_surfaces_own_relief(texture, store):
    """W3C Filter Effects: feDisplacementMap with X = Y = luma - mean + 0.5, resampled smoothly."""
    ground = {"kind": "texture", "texture": texture}
    document = piece(
        mark(
            lettering("OX", 200),
            treatment=[asked("follow", across=px(1.8), down=px(-1.1), smooth=px(0))],
        ),
        ground=ground,
    )
    bare = engine.render(piece(mark(lettering("OX", 200)), ground={"kind": "none"}), assets=store)
    beneath = engine.render(piece(ground=ground), assets=store)
    box = Plan(document).art(document.stack[0]).extent.intersection(Plan(document).page)
    luma = luminance(beneath)
    mean = luma[box.top : box.bottom, box.left : box.right].mean()
    map_ = np.full_like(beneath, 0.5)
    map_[..., 0] = map_[..., 1] = luma - mean + 0.5  # within 0..1 for this texture, or cut there
    inside = (luma - mean + 0.5 >= 0) & (luma - mean + 0.5 <= 1)
    assert inside.mean() > 0.99
    steep = 1.8 * np.abs(np.gradient(luma)).max(0)
    inside &= steep < 0.28  # elsewhere a pixel is the mean of nine
    expected = sampling.displace(bare, map_, 1.8, -1.1, "R", "G", "bicubic")[..., 3]
    found = engine.render(
        document.model_copy(update={"ground": piece(ground=ground).ground}),
        assets=store,
        with_ground=False,
    )[..., 3]
    assert inside.mean() > 0.3
    # each value may have moved by half a step of 8 bits over edges that rise by some 1.2 a px
    np.testing.assert_allclose(found[inside], expected[inside], atol=0.01)
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
    from kilncore.model.base import Model

    class Params(Model):
        amount: float = setting(1, "Amount", "How much.", "slider")

    with pytest.raises(ValueError, match="twice"):
        step("wear", settings=Params, gives="cover", title="", sentence="", summary=str)(print)
    with pytest.raises(ValueError, match="must give one of"):
        step("velvet", settings=Params, gives="joy", title="", sentence="", summary=str)
    with pytest.raises(ValueError, match="can change alpha, colour and place"):
        step(
            "velvet",
            settings=Params,
            gives="paint",
            changes={"mood"},
            title="",
            sentence="",
            summary=str,
        )
    with pytest.raises(ValueError, match="no model of settings"):
        step("velvet", settings=dict, gives="paint", title="", sentence="", summary=str)(print)
    with pytest.raises(TypeError, match="must return"):
        landed("nothing", None, None)


def test_what_is_larger_than_the_whole_budget_is_made_once():
    cache, made = ByteCache(budget=1000), []
    for _ in range(3):
        for name in ("small", "large"):
            cache.get(
                name,
                lambda name=name: made.append(name) or np.zeros({"small": 10, "large": 1000}[name]),
            )
    assert made == ["small", "large"] and cache.nbytes < 1000


def test_a_texture_is_decoded_once_however_many_ask_at_once(store, texture, monkeypatch):
    from concurrent.futures import ThreadPoolExecutor

    from kilncore import assets

    decoded, read = [], assets.reading.read
    monkeypatch.setattr(
        assets.reading, "read", lambda data: decoded.append(1) or time.sleep(0.05) or read(data)
    )
    with ThreadPoolExecutor(8) as threads:
        found = list(threads.map(store.texture, [TextureRef(**texture)] * 8))
    assert len(decoded) == 1 and all(one is found[0] for one in found)


def test_a_texture_counts_all_that_it_holds(rng):
    from kilncore.textures.texture import Texture

    one = Texture(rng.integers(0, 255, (3, 256, 256)))
    bare = one.nbytes
    one.level(2), one.luminance.level(1), one.luminance.toned(3.0, False, 0.2, 1.0, 0.8)
    assert bare == 3 * 256 * 256 and one.nbytes > bare + 3 * 128 * 128 * 2 + 256 * 256 * 2


def test_keys_change_with_the_code(tmp_path):
    from kilncore.system.code_version import code_version

    (tmp_path / "steps.py").write_text("STRENGTH = 1")
    before = code_version(tmp_path)
    code_version.cache_clear()
    (tmp_path / "steps.py").write_text("STRENGTH = 2")
    assert code_version(tmp_path) != before


def test_kernels_are_compiled_anew_for_new_code_and_for_nothing_else(tmp_path):
    from kilncore.compiled.kernel_cache import digest

    core = tmp_path / "kilncore"
    (core / "pixels").mkdir(parents=True)
    (core / "pixels" / "colour.py").write_text("WEIGHT = 3\n\ndef unused():\n    return 1\n")
    kernel = (
        "from kilncore.compiled.kernels import kernel\nfrom kilncore.pixels.colour import "
        "WEIGHT\n\n@kernel\ndef double(x):\n    return x * WEIGHT\n"
    )
    found = []
    for name, text in (
        ("k.py", kernel),
        ("k.py", '"""A text."""\n' + kernel.replace("return", '"""Told anew."""\n    return')),
        ("pixels/colour.py", "WEIGHT = 3\n\ndef unused():\n    return 2\n"),
        ("other.py", "X = 1"),
        ("pixels/colour.py", "WEIGHT = 4"),
        ("k.py", kernel.replace("x *", "x +")),
    ):
        (core / name).write_text(text)
        digest.cache_clear()
        found.append(digest(core))
    digest.cache_clear()
    assert len(set(found[:4])) == 1 and len({found[3], found[4], found[5]}) == 3


def test_where_kernels_are_is_worked_out_once_for_a_version(tmp_path, monkeypatch):
    from kilncore.compiled import kernel_cache

    monkeypatch.setenv("XDG_CACHE_HOME", str(tmp_path))
    monkeypatch.setattr(kernel_cache, "digest", lambda: "0123456789abcdef")
    kernel_cache.known_digest.cache_clear()
    assert kernel_cache.folder().name == "kernels-0123456789abcdef"
    (kept,) = (tmp_path / "kilnmark").glob("digest-*")
    for text, found in (("f" * 16, "f" * 16), ("../../etc", "0123456789abcdef")):
        kept.write_text(text)
        kernel_cache.known_digest.cache_clear()
        assert kernel_cache.known_digest() == found
    kernel_cache.known_digest.cache_clear()
