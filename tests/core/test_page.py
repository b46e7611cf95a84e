"""The page: cropped, enlarged, scaled, turned, at another resolution. What lies on it stays what it
was, to the pixel where pixels stay.
"""

import numpy as np
import pytest

from kilncore import engine
from kilncore.document import load
from kilncore.edits import apply
from kilncore.errors import KilnError
from kilncore.layout.layout import Layout
from kilncore.model.units import px_to_mm
from kilncore.strokes import Stroke, added
from kilncore.system.cache import ByteCache
from tests.documents import group, lettering, mark, piece, step
from tests.pictures import png

SIZE = (400, 300)


def pixels(document, store):
    return engine.pixels(document, None, 1.0, store, cache=ByteCache())


def mm(value):
    return {"value": value, "unit": "mm"}


def percent(value):
    return {"value": value, "unit": "%"}


def rich(texture, store, ground=None):
    """Lengths of every unit, frames, fades, regions, limits, strokes, groups, textures."""
    worn = step(
        "wear", texture=texture, black=0.3, white=0.7, placement={"x": percent(20), "y": mm(1)}
    )
    soft = step("soften", radius=mm(0.1))
    fade = {"x0": percent(10), "y0": percent(20), "x1": mm(30), "y1": percent(90)}
    region = {
        "kind": "region",
        "shape": "ellipse",
        "x": percent(60),
        "y": mm(12),
        "width": mm(20),
        "height": percent(50),
        "feather": percent(5),
    }
    coat = {
        **step("coat", "multiply", texture=texture),
        "landing": {"mode": "multiply", "fade": fade},
    }
    held = {
        **step("coat", "screen", 0.5, texture=texture),
        "landing": {"mode": "screen", "limits": [region]},
    }
    sized = {**lettering("GULL"), "size": percent(25)}
    first = mark(sized, 150, 110, [worn, soft, coat], rotation_deg=12)
    first["placement"]["x"] = percent(50)
    second = group(
        mark(lettering("O", 60), -30, 0, [worn]),
        mark(lettering("K", 60), 30, 4),
        x=280,
        y=200,
        treatment=[worn],
    )
    fill = ground or {
        "kind": "texture",
        "texture": texture,
        "placement": {"x": percent(3), "scale": 0.7},
    }
    of = piece(first, second, size=SIZE, ground=fill, treatment=[held])
    tree = of.model_dump(mode="json")
    tree["ground"]["treatment"] = [
        step("soften", radius=mm(0.1)),
        {
            **step("coat", "multiply", 0.5, texture=texture),
            "landing": {
                "mode": "multiply",
                "touch": [
                    t for t in added((), Stroke(points=((0, 0), (0.3, 0.2)), radius=0.2), store)
                ],
            },
        },
    ]
    return load(tree)


def trimmed(of, **sides):
    return apply(of, [{"op": "trim_piece", **sides}])


def test_cropped_it_shows_just_what_it_showed(texture, store):
    of = rich(texture, store)
    cut = trimmed(of, left=-40, top=-30, right=-21, bottom=-50)
    assert cut.size_px == (339, 220)
    np.testing.assert_array_equal(pixels(cut, store), pixels(of, store)[30:250, 40:379])


def test_enlarged_it_goes_on_beyond_and_cropped_again_it_is_as_it_was(texture, store):
    of = rich(texture, store)
    wide = trimmed(of, left=33, top=20, right=10, bottom=7)
    look = pixels(of, store)
    np.testing.assert_array_equal(pixels(wide, store)[20:320, 33:433], look)
    back = trimmed(wide, left=-33, top=-20, right=-10, bottom=-7)
    np.testing.assert_array_equal(pixels(back, store), look)
    assert (back.frame.x, back.frame.y, back.frame.unit) == pytest.approx((0, 0, 1))


@pytest.mark.parametrize("quarters", [1, 2, 3])
def test_turned_it_is_the_picture_turned(texture, store, quarters):
    """Where marks, textures and ground lie; edges and tones to a few levels."""
    of = rich(texture, store)
    turned = apply(of, [{"op": "turn_piece", "quarters": quarters}])
    assert turned.size_px == (SIZE if quarters == 2 else SIZE[::-1])
    expected = np.rot90(pixels(of, store), -quarters).astype(int)
    off = np.abs(pixels(turned, store) - expected)
    assert off.mean() < 0.5 and np.percentile(off, 99.5) < 12
    there = apply(turned, [{"op": "turn_piece", "quarters": 4 - quarters}])
    np.testing.assert_array_equal(pixels(there, store), pixels(of, store))


def test_scaled_all_grows_along(texture, store):
    of = rich(texture, store)
    large = apply(of, [{"op": "scale_piece", "width": 800}])
    assert large.size_px == (800, 600)
    before, after = Layout(of), Layout(large)
    for name, box in before.boxes().items():
        now = after.boxes()[name]
        for value in ("x", "y", "width", "height"):
            assert getattr(now, value) == pytest.approx(2 * getattr(box, value))
    for name, frame in before.frames().items():
        now = after.frames()[name]
        assert (now.x, now.y, now.unit_px) == pytest.approx(
            (2 * frame.x, 2 * frame.y, 2 * frame.unit_px), abs=1e-5
        )
    small = engine.pixels(large, None, 0.5, store, cache=ByteCache()).astype(int)
    assert np.abs(small - pixels(of, store)).mean() < 6  # the same picture, sampled finer
    back = apply(large, [{"op": "scale_piece", "width": 400}])
    np.testing.assert_array_equal(pixels(back, store), pixels(of, store))


def test_another_resolution_with_as_many_px_is_the_same_picture(texture, store):
    of = rich(texture, store)
    other = apply(of, [{"op": "set_ppi", "ppi": 141}])
    assert other.ppi == 141 and other.size_px == SIZE
    np.testing.assert_array_equal(pixels(other, store), pixels(of, store))


def test_another_resolution_with_as_many_mm_has_more_px(texture, store):
    of = rich(texture, store)
    other = apply(of, [{"op": "set_ppi", "ppi": 600, "resample": True}])
    assert other.size_px == (800, 600)
    assert px_to_mm(800, 600) == pytest.approx(px_to_mm(400, 300))
    radius = other.stack[0].treatment[1].params.radius
    assert (radius.value, radius.unit) == (0.1, "mm")


@pytest.mark.parametrize("fit", ["cover", "contain", "pixels", "mirror", "repeat"])
def test_a_picture_on_the_ground_is_cropped_and_turned_along(texture, store, rng, fit):
    name = store.keep(png(rng.integers(0, 256, (90, 130, 3), dtype=np.uint8)))
    fill = {"kind": "picture", "hash": name, "width": 130, "height": 90, "fit": fit}
    of = rich(texture, store, fill)
    look = pixels(of, store)
    cut = trimmed(of, left=-60, top=-40)
    np.testing.assert_array_equal(pixels(cut, store)[..., :3], look[40:, 60:, :3])
    turned = apply(of, [{"op": "turn_piece", "quarters": 1}])
    off = np.abs(pixels(turned, store)[..., :3] - np.rot90(look, -1)[..., :3].astype(int))
    assert off.mean() < 8


def test_a_gradient_fits_the_page_and_turns_with_it(texture, store):
    fill = {
        "kind": "gradient",
        "angle_deg": 90,
        "stops": [{"at": 0, "colour": "#000000"}, {"at": 1, "colour": "#ffffff"}],
    }
    of = piece(size=SIZE, ground=fill)
    turned = apply(of, [{"op": "turn_piece", "quarters": 1}])
    np.testing.assert_allclose(pixels(turned, store), np.rot90(pixels(of, store), -1), atol=1)
    cut = trimmed(of, left=-200)
    assert pixels(cut, store)[0, 0, 0] <= 1


@pytest.mark.parametrize(
    "edit",
    [
        {"op": "trim_piece", "left": -400},
        {"op": "trim_piece", "left": -390},
        {"op": "trim_piece", "right": 20_000, "bottom": 20_000},
        {"op": "scale_piece", "width": 3},
        {"op": "scale_piece", "width": 20_000},
        {"op": "set_ppi", "ppi": 2400, "resample": True},
        {"op": "set_ppi", "ppi": 0},
        {"op": "turn_piece", "quarters": 5},
        {"op": "trim_piece", "left": 1.5},
        {"op": "scale_piece", "width": float("nan")},
    ],
)
def test_a_page_of_nothing_or_too_much_is_refused_in_words(texture, store, edit):
    of = piece(mark(), size=(16_000, 12_000) if edit.get("width") == 20_000 else SIZE)
    if edit == {"op": "set_ppi", "ppi": 2400, "resample": True}:
        of = piece(mark(), size=(4000, 3000))
    before = of.model_dump()
    with pytest.raises(KilnError) as refused:
        apply(of, [edit])
    assert refused.value.message and of.model_dump() == before


def test_a_document_of_before_is_what_it_was(texture, store):
    """Format 4: nothing was locked or left out, the page's frame lay in its middle."""
    of = rich(texture, store)
    tree = of.model_dump(mode="json")
    for item in tree["stack"]:
        for one in (item, *item.get("members", ())):
            del one["left_out"], one["locked"]
            for name in ("axes", "features", "case", "kerning"):
                one.get("art", {}).pop(name, None)
    del tree["frame"], tree["backdrop"]
    again = load({**tree, "format": 4})
    assert again == of and again.format == 8
