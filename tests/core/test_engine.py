"""The engine's promises: crops, drafts, bypassing, strength, grounds, seams."""

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from kilncore import edits, engine
from kilncore.engine.plan import Plan, Point
from kilncore.errors import KilnError, MissingAsset, Superseded
from kilncore.system.cache import ByteCache
from tests.documents import every_step, lettering, mark, piece, px, step
from tests.pictures import png


def drawn(document, store, **options):
    """Without the shared cache, so that nothing is taken over from another drawing."""
    return engine.render(document, assets=store, cache=ByteCache(), **options)


@pytest.fixture
def busy(texture):
    """Everything at once, over more than one tile."""
    ground = {"kind": "texture", "texture": texture, "placement": {"scale": 1.3, "rotation_deg": 4}}
    return piece(
        mark(
            lettering("Bell\nrope", 190),
            340,
            300,
            every_step(texture),
            rotation_deg=-7,
            mode="hard-light",
            strength=0.9,
        ),
        mark(lettering("Cup", 120, "#203040"), 560, 480, [step("soften", radius=px(3))]),
        ground=ground,
        size=(700, 600),
        treatment=[step("coat", "multiply", 0.5, texture=texture), step("follow")],
    )


@pytest.mark.parametrize(
    "region", [(0, 0, 30, 20), (333, 207, 210, 333), (500, 500, 199.5, 99.2), (511, 511, 2, 2)]
)
def test_a_crop_alone_equals_that_crop_of_the_whole(busy, store, region):
    whole, part = drawn(busy, store), drawn(busy, store, region=region)
    x, y = int(region[0]), int(region[1])
    np.testing.assert_array_equal(part, whole[y : y + part.shape[0], x : x + part.shape[1]])


def test_a_crop_of_the_exact_picture_equals_that_of_the_whole(busy, store):
    whole = engine.exact(busy, None, 0.4, store, cache=ByteCache())
    part = engine.exact(busy, (100, 150, 250, 300), 0.4, store, cache=ByteCache())
    np.testing.assert_array_equal(part, whole[60:180, 40:140])


def test_the_same_picture_every_time(busy, store):
    np.testing.assert_array_equal(drawn(busy, store), drawn(busy, store))


def test_the_exact_picture_is_the_fired_one_made_smaller(busy, store):
    """Common practice: what is fitted to the screen is the fired file made smaller. Area average,
    premultiplied.
    """
    fired = drawn(busy, store)
    small = engine.exact(busy, None, 0.5, store)
    np.testing.assert_allclose(
        small[..., :3], fired[..., :3].reshape(300, 2, 350, 2, 4 - 1).mean((1, 3)), atol=2e-5
    )


def test_above_true_size_pixels_repeat(busy, store):
    large = engine.exact(busy, (100, 100, 40, 30), 3.0, store)
    np.testing.assert_array_equal(large[1::3, 1::3], drawn(busy, store, region=(100, 100, 40, 30)))


def test_a_draft_resembles_the_exact_picture(busy, store):
    draft, exact = drawn(busy, store, scale=0.5), engine.exact(busy, None, 0.5, store)
    assert (
        np.abs(draft - exact).mean() < 0.05
    )  # the textures here are one-pixel noise: the hardest there is


def test_bypassing_equals_leaving_out(texture, store):
    steps = every_step(texture)
    for n in range(len(steps)):
        off = [{**s, "on": i != n} for i, s in enumerate(steps)]
        without = steps[:n] + steps[n + 1 :]
        ground = {"kind": "texture", "texture": texture}
        np.testing.assert_array_equal(
            drawn(piece(mark(treatment=off), ground=ground), store),
            drawn(piece(mark(treatment=without), ground=ground), store),
        )


def test_a_strength_of_nought_changes_nothing(texture, store):
    ground = {"kind": "texture", "texture": texture}
    bare = drawn(piece(mark(), ground=ground), store)
    for one in every_step(texture):
        one["landing"]["strength"] = 0
        np.testing.assert_array_equal(
            drawn(piece(mark(treatment=[one]), ground=ground), store), bare
        )
    empty = drawn(piece(ground=ground), store)
    np.testing.assert_array_equal(drawn(piece(mark(strength=0), ground=ground), store), empty)


def test_inverting_a_wear_swaps_what_is_kept(texture, store):
    """Common practice. Kept and taken together are the whole mark."""
    kept = [
        drawn(
            piece(
                mark(treatment=[step("wear", texture=texture, invert=i)]), ground={"kind": "none"}
            ),
            store,
        )[..., 3]
        for i in (False, True)
    ]
    bare = drawn(piece(mark(), ground={"kind": "none"}), store)[..., 3]
    np.testing.assert_allclose(kept[0] + kept[1], bare, atol=1e-5)


def test_a_texture_travels_with_its_mark(texture, store):
    def worn(x, y):
        treatment = [step("wear", texture=texture), step("coat", "multiply", texture=texture)]
        return drawn(piece(mark(x=x, y=y, treatment=treatment), ground={"kind": "none"}), store)

    np.testing.assert_allclose(
        worn(200, 150)[60:200, 80:300], worn(230, 190)[100:240, 110:330], atol=1e-6
    )


def test_a_coat_spills_only_when_it_is_told_to(texture, store):
    def alpha(keep):
        coat = step("coat", texture=texture, keep_to_art=keep)
        return drawn(piece(mark(treatment=[coat]), ground={"kind": "none"}), store)[..., 3]

    assert alpha(False).min() == 1
    np.testing.assert_array_equal(
        alpha(True), drawn(piece(mark(), ground={"kind": "none"}), store)[..., 3]
    )


def test_a_tinted_coat_runs_from_one_colour_to_another(store):
    """The formula, by hand: dark + (light - dark) luma, of a grey and of a coloured texture."""
    ramp = np.arange(0, 256, dtype=np.uint8)
    grey = np.broadcast_to(ramp, (64, 256))
    coloured = np.stack([grey, 255 - grey, np.full_like(grey, 40)], axis=-1)
    luma = coloured @ np.array([0.2126, 0.7152, 0.0722]) / 255
    low, high = np.array([0x20, 0x40, 0x80]) / 255, np.array([0xFF, 0xE0, 0x90]) / 255
    for pixels, tones in ((grey, grey / 255), (coloured, luma)):
        texture = {"hash": store.keep(png(np.ascontiguousarray(pixels))), "edges": "repeat"}
        for way, light in (("one", np.ones(3)), ("two", high)):
            tint = {"colours": way, "darks": "#204080", "lights": "#ffe090"}
            coat = step("coat", texture=texture, keep_to_art=False, **tint)
            found = drawn(piece(size=(256, 64), treatment=[coat]), store)[..., :3]
            expected = low + (light - low) * tones[..., None]
            np.testing.assert_allclose(found, expected, atol=2e-6)


@pytest.mark.parametrize("edges", ["repeat", "none"])
def test_a_tinted_coat_of_black_and_white_is_the_texture(texture, store, edges):
    """From black to white it is its own luma; where a texture ends, it ends."""
    pair = []
    for more in ({}, {"colours": "two", "darks": "#000000", "lights": "#ffffff"}):
        grey = {"hash": store.keep(png(np.full((96, 128), 90, np.uint8))), "edges": edges}
        coat = step("coat", texture=grey, **more)
        pair.append(drawn(piece(mark(treatment=[coat]), size=(500, 400)), store))
    np.testing.assert_allclose(pair[0], pair[1], atol=2e-6)


def test_following_an_even_ground_moves_nothing(store):
    """There is no relief in a plain colour, however dark it is."""
    for colour in ("#000000", "#404040", "#ffffff"):
        ground = {"kind": "colour", "colour": colour}
        bare = drawn(piece(mark(), ground=ground), store)
        bent = drawn(
            piece(mark(treatment=[step("follow", across=px(40), down=px(40))]), ground=ground),
            store,
        )
        np.testing.assert_allclose(bent, bare, atol=2e-3)


def test_following_reads_the_ground_even_when_it_is_not_painted(texture, store):
    document = piece(
        mark(treatment=[step("follow", across=px(30))]),
        ground={"kind": "texture", "texture": texture},
    )
    bent = drawn(document, store, with_ground=False)[..., 3]
    straight = drawn(piece(mark(), ground={"kind": "none"}), store)[..., 3]
    assert np.abs(bent - straight).max() > 0.5 and bent.min() == 0


def test_overlapping_letters_do_not_show_their_overlap(store):
    """Common practice: tight tracking makes letters overlap; a half-strong mark stays even."""
    document = piece(
        mark(lettering("ooo", 150, tracking=-300), strength=0.5), ground={"kind": "none"}
    )
    assert drawn(document, store)[..., 3].max() <= 0.5 + 1e-6


def test_points_along_a_treatment(busy, store):
    first = busy.stack[0]
    finished = drawn(busy, store, point=Point("piece", 2))
    np.testing.assert_array_equal(finished, drawn(busy, store))
    pictures = [
        drawn(busy, store, scale=0.25, point=Point(first.id, n))
        for n in range(len(first.treatment) + 2)
    ]
    assert all(np.abs(a - b).max() > 0.01 for a, b in zip(pictures, pictures[1:], strict=False))


def test_keys_hold_what_is_read_and_nothing_else(texture):
    """A ground that no step reads, a name, an id: none of them draws a mark anew. A ground that is
    read does.
    """
    document = piece(mark(treatment=[step("soften")]), mark(treatment=[step("follow")]))
    black = edits.apply(
        document, [{"op": "set", "path": ["ground", "fill", "colour"], "value": "#000000"}]
    )
    named = edits.apply(
        document, [{"op": "set", "path": ["stack", document.stack[0].id, "name"], "value": "x"}]
    )

    def key(of, n):
        plan = Plan(of)
        return plan.item(of.stack[n].id).node.key

    assert key(document, 0) == key(black, 0)
    assert key(document, 1) != key(black, 1)
    assert Plan(document).finished().node.key == Plan(named).finished().node.key


def test_what_cannot_be_drawn_is_refused(busy, store, tmp_path):
    from kilncore.assets import AssetStore

    with pytest.raises(KilnError, match="outside the piece"):
        engine.render(busy, (900, 900, 10, 10), 1.0, store)
    with pytest.raises(KilnError, match="scale"):
        engine.render(busy, None, 0.0, store)
    with pytest.raises(MissingAsset):
        engine.render(busy, None, 1.0, AssetStore(tmp_path / "empty"), cache=ByteCache())


def test_a_superseded_picture_stops_between_tiles(busy, store):
    with pytest.raises(Superseded):
        engine.render(busy, None, 1.0, store, cache=ByteCache(), cancelled=lambda: True)


def test_a_small_cache_gives_the_same_picture(busy, store):
    small = engine.render(busy, assets=store, cache=ByteCache(budget=8 * 2**20))
    np.testing.assert_array_equal(small, drawn(busy, store))


@settings(max_examples=12, deadline=None)
@given(
    st.integers(0, 380),
    st.integers(0, 280),
    st.integers(1, 200),
    st.integers(1, 200),
    st.sampled_from([0.3, 0.5, 1.0, 1.7]),
)
def test_any_crop_at_any_scale(x, y, width, height, scale):
    document = piece(mark(treatment=[step("soften", radius=px(2))], rotation_deg=13))
    whole = engine.render(document, None, scale, None)
    part = engine.render(document, (x, y, width, height), scale, None)
    left, top = int(np.floor(x * scale + 1e-9)), int(np.floor(y * scale + 1e-9))
    np.testing.assert_array_equal(
        part, whole[top : top + part.shape[0], left : left + part.shape[1]]
    )
