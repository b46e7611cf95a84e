"""All of a landing: blend ranges, limits, fades, touch-up, several results; on steps and
on items.
"""

import numpy as np
import pytest

from kilncore import engine
from kilncore.document import load
from kilncore.errors import KilnError
from kilncore.masks import luminance
from kilncore.model.base import Model
from kilncore.steps import STEPS
from kilncore.steps.base import Cover, Paint, step
from kilncore.strokes import Stroke, file_of
from kilncore.system.cache import ByteCache
from tests.documents import lettering, mark, piece, px
from tests.documents import step as asked
from tests.pictures import png
from tests.rows import worked


def drawn(document, store=None, **how):
    return engine.render(document, assets=store, cache=ByteCache(), seen=None, **how)


def coated(**landing):
    """The whole piece painted over by one colour through a landing: what shows is the weight
    itself.
    """
    dot = mark(lettering("M", 90, "#000000"), 120, 100)
    dot["id"] = "dot"
    paint = {**asked("white"), "landing": {"mode": "normal", "strength": 1.0, **landing}}
    return piece(
        dot, ground={"kind": "colour", "colour": "#000000"}, size=(240, 200), treatment=[paint]
    )


@pytest.fixture(autouse=True)
def white():
    """A step that paints white over everything."""

    class Params(Model):
        pass

    @step(
        "white",
        title="White",
        sentence="",
        gives="paint",
        settings=Params,
        summary=lambda p: "",
        spills=lambda p: True,
    )
    def run(params, view):
        return Paint(np.ones((1, view.box.height, view.box.width), np.float32), False)

    yield
    STEPS.remove("white")


def weight(store=None, **landing):
    return drawn(coated(**landing), store)[..., 0]


def strokes(store, *described):
    return [store.keep(file_of(Stroke.model_validate(one))) for one in described]


def trapezoid(tones, *points):
    return worked(lambda row: row.program.op("trapezoid", row, numbers=points), tones)


def test_a_trapezoid_at_its_points():
    tones = np.array([[0, 0.1, 0.15, 0.2, 0.5, 0.7, 0.8, 0.9, 1]], np.float32)
    found = trapezoid(tones, 0.1, 0.2, 0.7, 0.9)
    np.testing.assert_allclose(found, [[0, 0, 0.5, 1, 1, 1, 0.5, 0, 0]], atol=1e-5)
    whole = trapezoid(tones, 0, 0, 1, 1)
    np.testing.assert_array_equal(whole, np.ones_like(tones))
    step_up = trapezoid(tones, 0.5, 0.5, 1, 1)
    np.testing.assert_array_equal(step_up, [[0, 0, 0, 0, 1, 1, 1, 1, 1]])


@pytest.mark.parametrize("where", ["range_beneath", "range_input"])
def test_through_the_tones_of_the_ground(texture, store, where):
    """A coat that lands in the ground's lights only is weighted by the ground's own luma, through
    the trapezoid.
    """
    blend_range = {"hidden_below": 0.3, "shown_from": 0.6, "shown_to": 0.9, "hidden_above": 1.0}
    document = coated(**{where: blend_range}).model_dump(mode="json")
    document["ground"]["fill"], document["stack"] = {"kind": "texture", "texture": texture}, []
    bare = drawn(load({**document, "treatment": []}), store)
    expected = np.interp(luminance(bare), list(blend_range.values()), [0, 1, 1, 0])[..., None]
    np.testing.assert_allclose(
        drawn(load(document), store)[..., :3],
        bare[..., :3] + expected * (1 - bare[..., :3]),
        atol=1e-5,
    )


def test_a_wear_through_its_own_tones_takes_only_there(texture, store):
    """The mask's own darks are shut out: what they would have taken stays."""

    def alpha(**landing):
        worn = {**asked("wear", texture=texture, black=0.0, white=1.0), "landing": landing}
        return drawn(piece(mark(treatment=[worn]), ground={"kind": "none"}), store)[..., 3]

    blend_range = {"hidden_below": 0.5, "shown_from": 0.5}
    bare = drawn(piece(mark(), ground={"kind": "none"}))[..., 3]
    full, gated = alpha(), alpha(range_own=blend_range)
    kept = full / np.maximum(bare, 1e-6)  # the mask itself, inside the art
    inside = bare == 1
    np.testing.assert_allclose(gated[inside & (kept < 0.499)], 1, atol=1e-5)
    np.testing.assert_allclose(
        gated[inside & (kept > 0.501)], full[inside & (kept > 0.501)], atol=1e-5
    )


def test_inside_and_outside_another_mark():
    document = coated()
    art = (
        1 - drawn(document.model_copy(update={"treatment": ()}))[..., 0]
    )  # black on black: nothing to see
    assert not (1 - art).any()
    inside = weight(limits=[{"kind": "mark", "mark": "dot"}])
    outside = weight(limits=[{"kind": "mark", "mark": "dot", "outside": True}])
    alone = drawn(
        piece(
            {**mark(lettering("M", 90, "#ffffff"), 120, 100)},
            ground={"kind": "colour", "colour": "#000000"},
            size=(240, 200),
        )
    )
    np.testing.assert_allclose(inside, alone[..., 0], atol=1e-5)
    np.testing.assert_allclose(inside + outside, 1, atol=1e-5)
    soft = weight(limits=[{"kind": "mark", "mark": "dot", "feather": px(12)}])
    assert soft.sum() == pytest.approx(inside.sum(), rel=0.01) and (
        np.abs(np.diff(soft)).max() < 0.3 < np.abs(np.diff(inside)).max()
    )


def test_a_mark_that_goes_takes_its_limits_with_it():
    from kilncore import edits

    document = coated(limits=[{"kind": "mark", "mark": "dot"}])
    without = edits.apply(document, [{"op": "remove_mark", "mark": "dot"}])
    assert without.treatment[0].landing.limits == ()
    with pytest.raises(KilnError, match="held|holds"):
        load(document.model_dump(mode="json") | {"stack": []})


def test_inside_a_colour():
    found = weight(limits=[{"kind": "colour", "colour": "#000000", "tolerance": 0.02}])
    assert (found == 1).all()
    assert not weight(limits=[{"kind": "colour", "colour": "#ffffff"}]).any()
    assert (weight(limits=[{"kind": "colour", "colour": "#ffffff", "outside": True}]) == 1).all()


def test_inside_a_region():
    """A rectangle's area in px, an ellipse's by pi: edges of one pixel keep it."""
    place = {"x": px(120), "y": px(100), "width": px(80), "height": px(50)}
    assert weight(limits=[{"kind": "region", **place}]).sum() == pytest.approx(4000, rel=0.01)
    round_one = weight(limits=[{"kind": "region", "shape": "ellipse", **place, "feather": px(6)}])
    assert round_one.sum() == pytest.approx(np.pi * 40 * 25, rel=0.02) and round_one[100, 120] == 1
    turned = weight(limits=[{"kind": "region", **place, "rotation_deg": 90}])
    assert turned[100 - 38, 120] == 1 and turned[100, 120 - 30] == 0


def test_a_fade_runs_from_its_first_point_to_its_second():
    line = {"x0": px(40), "y0": px(0), "x1": px(140), "y1": px(0), "start": 1.0, "end": 0.2}
    found = weight(fade=line)
    np.testing.assert_allclose(
        found[50, [10, 39, 89, 90, 180]], [1, 1, 0.604, 0.596, 0.2], atol=1e-4
    )
    around = weight(fade={**line, "y0": px(100), "y1": px(100), "shape": "round"})
    assert around[100, 39] == pytest.approx(1, abs=0.01) and around[100 + 50, 40] == pytest.approx(
        0.6, abs=0.01
    )


def test_touch_up_hides_and_brings_back_in_order(store):
    """t = 1 - a where hidden; then t + a (1 - t) where brought back. Hard strokes, so that a is 1
    or the strength.
    """
    across = {"points": [[-0.4, 0], [0.4, 0]], "radius": 0.1, "hardness": 1.0}

    def weight(touch):
        return drawn(coated(touch=strokes(store, *touch)), store)[..., 0]

    hidden = weight(touch=[{**across, "strength": 0.75}])
    assert hidden[100, 120] == pytest.approx(0.25, abs=0.002) and hidden[20, 120] == 1
    back = weight(touch=[{**across, "strength": 0.75}, {**across, "back": True, "strength": 0.5}])
    assert back[100, 120] == pytest.approx(0.25 + 0.5 * 0.75, abs=0.003)
    other_order = weight(
        touch=[{**across, "back": True, "strength": 0.5}, {**across, "strength": 0.75}]
    )
    assert other_order[100, 120] == pytest.approx(0.25, abs=0.002)
    dot = weight(touch=[{"points": [[0, 0]], "radius": 0.2, "hardness": 0.9}])
    assert (1 - dot).sum() == pytest.approx(np.pi * 38**2, rel=0.04)  # soft from 36 to 40 px


def test_touch_up_on_an_items_landing_hides_the_art_and_turns_with_it(store):
    def hidden(**place):
        one = mark(lettering("M", 90, "#ffffff"), 120, 100, **place)
        one["landing"] = {
            "touch": strokes(
                store, {"points": [[0.0, -2.0], [0.0, 2.0]], "radius": 0.1, "hardness": 1.0}
            )
        }
        return drawn(piece(one, ground={"kind": "none"}, size=(240, 200)), store)[..., 3]

    upright, turned = hidden(), hidden(rotation_deg=90)
    assert not upright[:, 120].any() and upright.any()
    assert not turned[100].any() and turned[:, 120].any()


def test_weights_multiply():
    fade = {"x0": px(0), "y0": px(0), "x1": px(240), "y1": px(0)}
    region = {"kind": "region", "x": px(60), "y": px(100), "width": px(100), "height": px(100)}
    np.testing.assert_allclose(
        weight(fade=fade, limits=[region]), weight(fade=fade) * weight(limits=[region]), atol=1e-5
    )


@pytest.mark.parametrize("invert", [False, True])
def test_a_coat_on_worn_art_has_its_colour_in_a_draft_too(store, rng, invert):
    """Half of the pixels are taken whole: those that are left are coated as solid art is, however
    far away they are seen.
    """
    specks = {
        "hash": store.keep(png(rng.integers(0, 256, (256, 256), dtype=np.uint8))),
        "edges": "repeat",
    }
    grey = {"hash": store.keep(png(np.full((32, 32), 90, np.uint8))), "edges": "repeat"}
    worn = asked("wear", texture=specks, black=0.5, white=0.5, invert=invert)
    document = piece(
        mark(lettering("MM", 150), treatment=[worn, asked("coat", "multiply", texture=grey)]),
        ground={"kind": "none"},
    )
    draft = drawn(document, store, scale=0.25)
    exact = engine.exact(document, None, 0.25, store, cache=ByteCache(), seen=None)
    inside = exact[..., 3] > 0.3
    assert inside.mean() > 0.1
    np.testing.assert_allclose(draft[inside].mean(0), exact[inside].mean(0), atol=0.012)


def test_a_tinted_coat_through_its_own_tones_is_as_strong_in_a_draft(store, rng):
    """How far its tones spread about the draft's is known of the tinted ones."""
    specks = store.keep(png(rng.integers(0, 256, (256, 256), dtype=np.uint8)))
    tint = {"colours": "two", "darks": "#404040", "lights": "#c0c0c0"}
    coat = asked("coat", texture={"hash": specks, "edges": "repeat"}, keep_to_art=False, **tint)
    coat["landing"] = {"range_own": {"hidden_below": 0.6, "shown_from": 0.7}}
    black = {"kind": "colour", "colour": "#000000"}
    document = piece(ground=black, size=(240, 240), treatment=[coat])
    draft = drawn(document, store, scale=0.125)
    exact = engine.exact(document, None, 0.125, store, cache=ByteCache(), seen=None)
    np.testing.assert_allclose(draft[..., 0].mean(), exact[..., 0].mean(), rtol=0.25)


def test_several_results_land_one_after_another():
    """A step that takes away and then paints: the paint lies on what is left."""

    class Params(Model):
        pass

    try:

        @step(
            "both",
            title="Both",
            sentence="",
            gives=("cover", "paint"),
            settings=Params,
            summary=lambda p: "",
        )
        def both(params, view):
            shape = view.box.height, view.box.width
            return Cover(np.full(shape, 0.25, np.float32)), Paint(
                np.ones((1, *shape), np.float32), True
            )

        bare = drawn(piece(mark(), ground={"kind": "none"}))
        found = drawn(piece(mark(treatment=[asked("both")]), ground={"kind": "none"}))
        np.testing.assert_allclose(found[..., 3], 0.25 * bare[..., 3], atol=1e-6)
        np.testing.assert_allclose(found[..., :3][found[..., 3] > 0.01], 1, atol=1e-4)
    finally:
        STEPS.remove("both")


def test_linear_light_mixes_light():
    """IEC 61966-2-1: half of white light over black is encoded as 0.7354, half of the encoded value
    is 0.5.
    """

    def half(light):
        tree = coated(strength=0.5).model_dump(mode="json") | {"stack": [], "light": light}
        return drawn(load(tree))[50, 50, 0]

    assert half("encoded") == pytest.approx(0.5, abs=1e-5)
    assert half("linear") == pytest.approx(0.735357, abs=1e-4)


@pytest.mark.parametrize(
    "landing, reason",
    [
        ({"range_own": {"hidden_below": 0.5, "shown_from": 0.2}}, "must not cross"),
        ({"touch": ["x"]}, "not written as it must be"),
        ({"touch": ["f" * 64] * 513}, "at most"),
        ({"limits": [{"kind": "moon"}]}, "refused"),
        ({"strength": 3.1}, "3 at most|300 % at most"),
    ],
)
def test_landings_that_make_no_sense_are_refused(landing, reason):
    with pytest.raises(KilnError, match=reason):
        coated(**landing)
