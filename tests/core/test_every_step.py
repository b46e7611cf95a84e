"""What every step must hold to, whatever it does. A step that is registered is put through all of
this by itself.
"""

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from kilncore import engine
from kilncore.model.base import Model
from kilncore.steps import STEPS
from kilncore.steps.base import Paint, step
from kilncore.system.cache import ByteCache
from tests.documents import lettering, mark, one_step, piece, px
from tests.documents import step as asked

WIDE, TALL = 420, 330


def alone(document, store, **how):
    """Drawn by itself: nothing kept from, or for, another picture."""
    return engine.render(document, assets=store, cache=ByteCache(), seen=None, **how)


def with_steps(texture, *steps, part="mark", **more):
    """The steps on a mark, or on the whole piece, over a textured ground."""
    on_mark = steps if part == "mark" else ()
    art = mark(
        lettering("Gull\nrock", 110), 215.5, 160.25, on_mark, rotation_deg=-9, mode="multiply"
    )
    ground = {"kind": "texture", "texture": texture, "placement": {"scale": 1.3}}
    return piece(
        art, ground=ground, size=(WIDE, TALL), treatment=() if part == "mark" else steps, **more
    )


def held(document, store, region, scale, tile):
    """A crop alone, in other tiles and on one thread, against the whole in its usual
    tiles on two.
    """
    whole = alone(document, store, scale=scale)
    part = alone(document, store, scale=scale, region=region, tile=tile, threads=1)
    left, top = (int(np.floor(n * scale + 1e-9)) for n in region[:2])
    np.testing.assert_array_equal(
        part, whole[top : top + part.shape[0], left : left + part.shape[1]]
    )


PARTS = [
    (kind, part) for kind in STEPS for part in ("mark", "piece") if part in STEPS[kind].offered_for
]


@pytest.mark.parametrize("kind, part", PARTS)
@settings(
    max_examples=6, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture]
)
@given(
    st.integers(0, WIDE - 30),
    st.integers(0, TALL - 30),
    st.integers(1, 260),
    st.integers(1, 200),
    st.sampled_from([0.4, 1.0, 2.0]),
    st.sampled_from([(64, 48), (512, 96), (37, 211)]),
)
def test_a_crop_is_the_same_in_any_tiles_on_any_threads(
    texture, store, kind, part, x, y, width, height, scale, tile
):
    held(
        with_steps(texture, one_step(kind, texture), part=part),
        store,
        (x, y, width, height),
        scale,
        tile,
    )


@pytest.mark.parametrize("kind, part", PARTS)
def test_bypassed_it_is_as_if_it_were_not_there(texture, store, kind, part):
    off = {**one_step(kind, texture), "on": False}
    np.testing.assert_array_equal(
        alone(with_steps(texture, off, part=part), store),
        alone(with_steps(texture, part=part), store),
    )


@pytest.mark.parametrize("kind, part", PARTS)
def test_at_a_strength_of_nought_it_changes_nothing_and_at_full_it_does(texture, store, kind, part):
    full, none = one_step(kind, texture), one_step(kind, texture)
    none["landing"] = {**none["landing"], "strength": 0}
    bare = alone(with_steps(texture, part=part), store)
    np.testing.assert_array_equal(alone(with_steps(texture, none, part=part), store), bare)
    assert np.abs(alone(with_steps(texture, full, part=part), store) - bare).max() > 0.02


@pytest.mark.parametrize("kind, part", PARTS)
def test_through_a_blend_range_that_is_shut_it_changes_nothing(texture, store, kind, part):
    """Every landing goes through the weights, so that no step has to."""
    shut = one_step(kind, texture)
    shut["landing"] = {
        **shut["landing"],
        "fade": {"x0": px(0), "y0": px(0), "x1": px(9), "y1": px(0), "start": 0, "end": 0},
    }
    bare, found = (alone(with_steps(texture, *steps, part=part), store) for steps in ((), (shut,)))
    np.testing.assert_allclose(found, bare, atol=2e-6)


@pytest.mark.parametrize("scale", [1.0, 0.4])
@pytest.mark.parametrize("kind", STEPS)
def test_kept_tiles_and_fresh_ones_are_the_same(texture, store, kind, scale):
    """A control that moves: the second and third picture find what the first kept."""
    from kilncore.engine.cache_policy import Recent

    cache, seen = ByteCache(), Recent()
    for radius in (1.0, 2.0, 2.0, 3.0):
        document = with_steps(
            texture,
            one_step("wear", texture),
            one_step(kind, texture),
            asked("coat", "multiply", 0.2 * radius, texture=texture),
            asked("soften", radius=px(radius)),
        )
        found = engine.render(document, scale=scale, assets=store, cache=cache, seen=seen)
        np.testing.assert_array_equal(found, alone(document, store, scale=scale))


def test_the_net_catches_a_step_that_looks_at_its_box(texture, store):
    """The proof that these checks can fail: a step whose pixels depend on the box that is drawn."""

    class Params(Model):
        pass

    try:

        @step(
            "tell", title="Tell", sentence="", gives="paint", settings=Params, summary=lambda p: ""
        )
        def tell(params, view):
            return Paint(
                np.linspace(0, 1, view.box.width * view.box.height, dtype=np.float32).reshape(
                    1, view.box.height, -1
                )
            )

        with pytest.raises(AssertionError):
            held(with_steps(texture, asked("tell")), store, (150, 100, 120, 80), 1.0, (64, 48))
    finally:
        STEPS.remove("tell")


@pytest.mark.parametrize("size", [1, 1.6, 5])
@pytest.mark.parametrize("scale", [0.5, 0.2, 0.33])
def test_a_draft_has_the_grain_of_the_exact_picture(store, size, scale):
    """Common practice: grain looks the same at any zoom. Not only as strong: the very grains,
    averaged.
    """
    grained = piece(
        ground={"kind": "colour", "colour": "#808080"},
        size=(600, 400),
        treatment=[asked("grain", amount=9, size=px(size))],
    )
    draft = alone(grained, store, scale=scale)[..., 0]
    exact = engine.exact(grained, None, scale, store, cache=ByteCache(), seen=None)[..., 0]
    assert (
        draft.std() == pytest.approx(exact.std(), rel=0.15)
        and np.corrcoef(draft.ravel(), exact.ravel())[0, 1] > 0.6
    )


@pytest.mark.parametrize("light", ["encoded", "linear"])
@pytest.mark.parametrize("sigma", [0.7, 3, 20])
def test_flat_colours_are_the_same_in_any_crop(store, light, sigma):
    """Where a crop holds one colour only, or rows without art, short cuts are taken: they must come
    to the same bits.
    """
    art = mark(
        lettering("II", 160, "#b3481c"), 200, 160, [asked("soften", radius=px(sigma))], strength=0.7
    )
    flat = piece(
        art,
        ground={"kind": "colour", "colour": "#c9b27d"},
        size=(WIDE, TALL),
        treatment=[asked("soften", radius=px(sigma))],
    )
    flat = flat.model_copy(update={"light": light})
    for region in ((5, 5, 60, 40), (150, 120, 30, 70), (180, 90, 200, 30), (0, 150, 420, 3)):
        held(flat, store, region, 1.0, (33, 21))


@pytest.mark.parametrize("light", ["encoded", "linear"])
@pytest.mark.parametrize("mode", ["normal", "multiply", "plus-lighter"])
def test_crops_that_a_mark_does_not_reach(store, light, mode):
    """What is not there in a crop is there, as nothing, in the whole: half of a blur beyond the
    art, a mark above another.
    """
    soft = asked("soften", strength=0.45, radius=px(4))
    marks = [
        mark(
            lettering("I", 120, colour),
            x,
            160,
            [soft, {**soft, "landing": {"mode": "multiply", "strength": 0.6}}],
            mode=mode,
        )
        for colour, x in (("#b3481c", 150), ("#35688c", 260))
    ]
    document = piece(*marks, ground={"kind": "none"}, size=(WIDE, TALL)).model_copy(
        update={"light": light}
    )
    for region in ((100, 60, 30, 200), (185, 90, 60, 120), (290, 100, 100, 90), (176, 60, 1, 200)):
        held(document, store, region, 1.0, (29, 64))
