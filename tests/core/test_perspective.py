"""Marks and groups in perspective: where they lie, how they are drawn, and what edits leave."""

import math

import cv2
import numpy as np
import pytest

from kilncore import engine
from kilncore.document import load
from kilncore.edits import apply
from kilncore.engine.covering import not_covered
from kilncore.engine.placing import placements
from kilncore.errors import KilnError
from kilncore.geometry.affine import Affine
from kilncore.geometry.box import Box
from kilncore.layout.layout import Layout
from kilncore.model.perspective import Corners
from kilncore.model.region import Region
from kilncore.model.texture import TexturePlacement
from kilncore.perspective.cylinder import Cylinder
from kilncore.perspective.homography import Homography, between, convex
from kilncore.perspective.projection import Projection
from tests.documents import STRONG, lettering, mark, one_step, piece, px, step
from tests.pictures import png

FLAT = ((-100, -50), (100, -50), (100, 50), (-100, 50))
LAID = ((-90, -70), (110, -40), (80, 60), (-120, 45))
CORNERS = {"kind": "corners", "width": 200, "height": 100, "corners": LAID}
ROUND = {"kind": "round", "radius": px(150), "tilt_deg": 20, "round_deg": 12, "axis_deg": 8}
WAYS = {"corners": CORNERS, "round": ROUND}


def words(treatment=(), **place):
    return mark(lettering("Gulls", 80), 200, 150, treatment, **place) | {"id": "m"}


def group(*members, **place):
    one = mark(x=200, y=150, **place) | {"kind": "group", "id": "g", "members": list(members)}
    del one["art"]
    return one


def drawn(document, store, **more):
    return engine.render(document, assets=store, **more)


# --- maps ---


def test_a_plane_brings_its_corners_where_they_are_and_the_way_back_is_the_way_back(rng):
    plane = between(FLAT, LAID)
    np.testing.assert_allclose(plane.points(np.array(FLAT, float)), LAID, atol=1e-9)
    chain = Projection.chain(
        Affine.similarity(30, 20, 1.3, 0.4), plane, Cylinder(10, 180, 0.2, 0.3), plane
    )
    points = rng.uniform(-60, 60, (200, 2))
    np.testing.assert_allclose(chain.flat_of(chain.points(points)), points, atol=1e-6)


def test_a_cylinder_is_as_wide_as_its_diameter_and_no_wider():
    found = Cylinder(0, 100, 0, 0).points(np.array([(-900.0, 5), (0, 5), (900, 5)]))
    np.testing.assert_allclose(found[:, 0], (-100, 0, 100), atol=1e-9)
    arc = Cylinder(0, 100, 0, 0).points(np.array([(100 * math.pi / 6, 0.0)]))
    assert arc[0, 0] == pytest.approx(50)  # sin 30 degrees


def test_chords_follow_the_curve_and_outlines_stay_closed():
    ring = [(-120, -40), (120, -40), (120, 40), (-120, 40)]
    edges = np.array([(*a, *b) for a, b in zip(ring, ring[1:] + ring[:1], strict=True)], float)
    round_ = Cylinder(0, 90, 0, 0.4)
    for chain in (Projection.chain(round_), Projection.chain(between(FLAT, LAID), round_)):
        found = chain.edges(edges)
        starts = {tuple(np.round(one, 6)) for one in found[:, :2]}
        assert starts == {tuple(np.round(one, 6)) for one in found[:, 2:]}
    found = round_.edges(edges)
    middles = (found[:, :2] + found[:, 2:]) / 2
    x = middles[np.abs(middles[:, 1]) < 80]
    on_curve = 90 * math.sin(0.4) * (np.sqrt(np.clip(1 - (x[:, 0] / 90) ** 2, 0, 1)) - 1)
    lower = x[:, 1] - on_curve
    assert (
        np.minimum(abs(lower - 40 * math.cos(0.4)), abs(lower + 40 * math.cos(0.4)))[
            np.abs(x[:, 0]) < 86
        ].max()
        < 0.05
    )


def test_what_reaches_behind_the_eye_is_cut_and_stays_finite():
    steep = Homography((1, 0, 0, 0, 1, 0, 0.01, 0, 1))  # the eye at x = -100
    edges = np.array([(-300, 0, 50, 0), (50, 0, 50, 40), (50, 40, -300, 40), (-300, 40, -300, 0)])
    found = steep.edges(edges.astype(float))
    assert np.isfinite(found).all() and len(found) == 6
    assert {tuple(one) for one in np.round(found[:, :2], 6)} == {
        tuple(one) for one in np.round(found[:, 2:], 6)
    }
    back = Projection.chain(steep).flat(Box(-4000, -4, -3990, 4))
    assert np.isfinite(back).all()


def test_only_corners_in_order_are_convex():
    assert convex(LAID) and convex(LAID[::-1])
    assert not convex((LAID[0], LAID[2], LAID[1], LAID[3]))
    assert not convex(((0, 0), (100, 0), (50, 50.05), (0, 100)))
    assert not convex(((0, 0), (50, 0), (100, 0), (0, 100)))
    assert convex([(x / 1000, y / 1000) for x, y in LAID])  # however small it is


# --- drawn ---


@pytest.mark.parametrize("way", WAYS)
def test_any_crop_and_any_tile_is_that_of_the_whole(store, texture, way):
    steps = [
        one_step("wear", texture),
        step("coat", "overlay", texture=texture),
        step("grain", size=px(2.4)),
    ]
    document = piece(words(steps, perspective=WAYS[way]), size=(400, 300))
    whole = drawn(document, store)
    crop = drawn(document, store, region=(37, 61, 211, 143))
    np.testing.assert_array_equal(crop, whole[61 : 61 + 143, 37 : 37 + 211])
    small = drawn(document, store, tile=(64, 48), threads=1)
    np.testing.assert_array_equal(small, whole)


@pytest.mark.parametrize("kind", ["lettering", "picture", "vector"])
def test_corners_that_lie_flat_change_nothing_to_be_seen(store, kind, rng):
    pixels = np.repeat(np.repeat(rng.integers(60, 200, (9, 12, 3), np.uint8), 8, 0), 8, 1)
    svg = (
        b'<svg xmlns="http://www.w3.org/2000/svg" width="96" height="72" viewBox="0 0 96 72">'
        b'<path fill="#b03020" d="M4 68 48 4 92 68z"/></svg>'
    )
    art = {
        "lettering": lettering("Gulls", 80),
        "picture": {"kind": "picture", "hash": store.keep(png(pixels)), "width": 96, "height": 72},
        "vector": {"kind": "vector", "hash": store.keep(svg), "width": 96, "height": 72},
    }[kind]
    place = {"scale": 2, "rotation_deg": 15} if kind != "lettering" else {}
    box = {"kind": "corners", "width": 200, "height": 100, "corners": FLAT}
    flat, laid = (
        drawn(piece(mark(art, **place, **more)), store) for more in ({}, {"perspective": box})
    )
    assert np.abs(laid - flat).max() < {"lettering": 1e-5, "picture": 0.02, "vector": 0.12}[kind]
    assert np.abs(laid - flat).mean() < 4e-4


def test_treatments_lie_in_the_surface(store, texture):
    """Worn flat and laid afterwards is worn laid: the texture goes along with the art."""
    one = step("wear", texture=texture | {"edges": "repeat"}, black=0.3, white=0.7)
    document = piece(words([one], perspective=CORNERS), size=(400, 300))
    laid = drawn(document, store)[..., 0]
    flat = drawn(piece(words([one]), size=(400, 300)), store)[..., 0]
    layout = Layout(document)
    projection = layout.projection(document.stack[0])
    x, y, _ = projection.flat(Box(0, 0, 400, 300)).astype(np.float32)
    expected = cv2.remap(flat, x - 0.5, y - 0.5, cv2.INTER_CUBIC)
    inside = drawn(piece(words(perspective=CORNERS), size=(400, 300)), store)[..., 0] < 0.76
    difference = np.abs(laid - expected)[inside]
    assert np.median(difference) < 0.03 and np.corrcoef(laid[inside], expected[inside])[0, 1] > 0.9


def test_fine_grain_stays_on_the_pieces_own_pixels(store):
    grain = step("grain", "linear-light", amount=12, size=px(1))
    laid = drawn(piece(words([grain], perspective=CORNERS)), store)[..., :3]
    bare = drawn(piece(words(perspective=CORNERS)), store)[..., :3]
    noise = (laid - bare)[..., 0][130:160, 150:250]
    across = np.corrcoef(noise[:, 1:].ravel(), noise[:, :-1].ravel())[0, 1]
    assert abs(across) < 0.1


@pytest.mark.parametrize("kind", sorted(STRONG))
@pytest.mark.parametrize("way", WAYS)
def test_drafts_are_near_what_is_exact(store, texture, kind, way):
    one = one_step(kind, texture)
    document = piece(words([one], perspective=WAYS[way]), size=(400, 300))
    whole = drawn(document, store)[..., :3]
    means = whole.reshape(150, 2, 200, 2, 3).mean((1, 3))
    draft = drawn(document, store, scale=0.5)[..., :3]
    assert np.abs(draft - means).mean() < 1.5 / 255


STROKE = {
    "points": [[-1.1, -0.2], [0.0, -0.5], [1.1, -0.25]],
    "radius": 0.18,
    "hardness": 0.5,
    "strength": 0.8,
    "back": False,
}


def touched(store, **place):
    """The words, partly hidden by a stroke."""
    told = {"op": "add_stroke", "path": ["stack", "m", "landing"], "stroke": STROKE}
    return apply(piece(words(**place)), [told], store)


def test_strokes_lie_in_the_surface(store):
    box = {"kind": "corners", "width": 200, "height": 100, "corners": FLAT}
    bare, flat = (drawn(one, store) for one in (piece(words()), touched(store)))
    assert np.abs(flat - bare).max() > 0.4
    np.testing.assert_allclose(drawn(touched(store, perspective=box), store), flat, atol=0.02)
    for way in WAYS.values():
        document, hidden = touched(store, perspective=way), piece(words(perspective=way))
        whole = drawn(document, store)
        assert np.abs(whole - drawn(hidden, store)).max() > 0.4
        crop = drawn(document, store, region=(90, 70, 160, 120))
        np.testing.assert_array_equal(crop, whole[70:190, 90:250])
    laid = touched(store, perspective=CORNERS)
    x, y, _ = Layout(laid).projection(laid.stack[0]).flat(Box(0, 0, 400, 300)).astype(np.float32)
    expected = cv2.remap(flat[..., 1], x - 0.5, y - 0.5, cv2.INTER_LINEAR)
    inside = drawn(piece(words(perspective=CORNERS)), store)[..., 1] < 0.2
    found = drawn(laid, store)[..., 1]
    assert np.abs(found - expected)[inside].mean() < 0.02 and found[inside].max() > 0.4


def test_what_a_texture_does_not_cover_is_told_where_it_lies(store):
    """As much of the art lies beyond a texture's end, however it is laid."""
    half = TexturePlacement(x=px(-150))
    flat, laid = (
        not_covered(piece(words(**more)), "m", half, (300, 900), store)
        for more in ({}, {"perspective": CORNERS})
    )
    assert 0.3 < flat < 0.8
    # what is nearer counts for more: between the shares of its near and its far side
    assert laid == pytest.approx(flat, abs=0.15) and laid != flat


def test_a_placement_is_found_for_what_is_laid(store, texture):
    one = step("wear", texture=texture, aim=True, share=0.2) | {"id": "w"}
    for way in WAYS.values():
        document = piece(words([one], perspective=way))
        found = placements(document, "w", 3, store)
        assert len(found) == 3 and all(np.isfinite(better) for _, better in found)


def test_a_region_is_measured_where_it_lies():
    document = piece(words(perspective=CORNERS))
    frame = Layout(document).frame(document.stack[0])
    box = Region(width=px(40), height=px(20)).box(frame)
    middle = frame.projection.points([(frame.x, frame.y)])[0]
    assert (box.left + box.right) / 2 == pytest.approx(middle[0], abs=3)
    assert (box.top + box.bottom) / 2 == pytest.approx(middle[1], abs=3)


# --- edits ---


def changed(document, *edits):
    return apply(document, list(edits))


def corners_on(document, item="m"):
    return np.array(Layout(document).boxes()[item].ring)


def test_four_corners_lie_where_they_are_put(store):
    wanted = [[100, 90], [320, 60], [300, 210], [80, 190]]
    told = {"op": "lay_corners", "mark": "m", "corners": wanted}
    document = changed(piece(words(scale=1.2, rotation_deg=9)), told)
    np.testing.assert_allclose(corners_on(document), wanted, atol=1e-6)
    inside = group(words(rotation_deg=5) | {"placement": {"x": px(10), "y": px(-5)}}, scale=0.8)
    document = changed(piece(inside), {"op": "set_in_perspective", "mark": "g", "way": "corners"})
    moved = corners_on(document, "g") + [(12, -9), (3, 4), (-6, 0), (8, 8)]
    document = changed(
        document, {"op": "lay_corners", "mark": "g", "corners": moved.tolist()}, told
    )
    np.testing.assert_allclose(corners_on(document), wanted, atol=1e-5)


@pytest.mark.parametrize(
    ("corners", "words_"),
    [
        ([[0, 0], [100, 100], [100, 0], [0, 100]], "cross"),
        ([[0, 0], [100, 0], [200, 0], [0, 100]], "one line"),
        ([[0, 0], [100, 0], [100, 100]], "Four corners"),
        ([[0, 0], [400, 0], [212, 40], [200, 40]], "too steep"),
    ],
)
def test_corners_that_cross_or_are_too_steep_are_refused_with_a_remedy(corners, words_):
    document = piece(words())
    with pytest.raises(KilnError) as refused:
        changed(document, {"op": "lay_corners", "mark": "m", "corners": corners})
    assert words_ in refused.value.message and "Drag" in refused.value.message


def test_it_is_laid_flat_again_and_wrapped():
    document = changed(
        piece(words(perspective=CORNERS)), {"op": "set_in_perspective", "mark": "m", "way": "round"}
    )
    assert document.stack[0].placement.perspective.kind == "round"
    box = Layout(document).boxes()["m"]
    flat = changed(document, {"op": "set_in_perspective", "mark": "m", "way": "flat"})
    assert flat.stack[0].placement.perspective is None
    wide = Layout(flat).boxes()["m"].width
    across = max(x for x, _ in box.outline) - min(x for x, _ in box.outline)
    assert across == pytest.approx(wide * math.sin(math.pi / 3) / (math.pi / 3), rel=0.01)


def test_letters_that_stay_stay_where_they_lie(store):
    """More words, and so another middle: the plane and the cylinder stand where they stood."""
    for way in (CORNERS, {**ROUND, "axis_deg": 0}):
        short = piece(words(perspective=way) | {"art": lettering("Gull", 60, align="left")})
        longer = changed(
            short, {"op": "set", "path": ["stack", "m", "art", "text"], "value": "Gulls"}
        )
        before, after = (drawn(one, store)[..., 1] for one in (short, longer))
        had = before < 0.5
        assert np.abs(after - before)[had].mean() < 0.03


def test_a_cylinder_stays_as_large_when_words_need_a_line_more():
    wrapped = {**ROUND, "radius": {"value": 220, "unit": "%"}, "axis": {"value": 9, "unit": "%"}}
    document = piece(words(perspective=wrapped))
    told = {"op": "set", "path": ["stack", "m", "art", "text"], "value": "Gulls\nover"}
    before, after = (
        next(part for part in Layout(one).projection(one.stack[0]).parts if hasattr(part, "radius"))
        for one in (document, changed(document, told))
    )
    assert after.radius == pytest.approx(before.radius)


@pytest.mark.parametrize("scale", [1.0, 0.7])
def test_taken_out_of_its_group_it_lies_where_it_lay(store, scale):
    member = words(rotation_deg=4) | {"placement": {"x": px(6), "y": px(3), "perspective": CORNERS}}
    other = words() | {"id": "n", "placement": {"x": px(0), "y": px(90)}}
    document = piece(group(member, other, scale=scale))
    document = changed(document, {"op": "set_in_perspective", "mark": "g", "way": "corners"})
    laid = corners_on(document, "g") + [(20, -9), (3, 4), (-16, 0), (8, 18)]
    document = changed(document, {"op": "lay_corners", "mark": "g", "corners": laid.tolist()})
    for edit in ({"op": "ungroup", "group": "g"}, {"op": "place_mark", "mark": "m", "into": None}):
        after = changed(document, edit)
        np.testing.assert_allclose(corners_on(after), corners_on(document), atol=1e-4)
        assert np.abs(drawn(after, store) - drawn(document, store)).max() < 0.02
    back = changed(after, {"op": "place_mark", "mark": "m", "into": "g"})
    np.testing.assert_allclose(corners_on(back), corners_on(document), atol=1e-4)


def test_out_of_a_wrapped_group_is_refused_in_words():
    document = piece(group(words(), words() | {"id": "n"}, perspective=ROUND))
    with pytest.raises(KilnError) as refused:
        changed(document, {"op": "ungroup", "group": "g"})
    assert "flat first" in refused.value.message


def test_a_member_moves_as_far_as_the_hand_does():
    member = words() | {"placement": {"x": px(0), "y": px(0)}}
    document = piece(group(member, words() | {"id": "n"}, perspective=CORNERS))
    layout = Layout(document)
    middle = layout.map(layout.item("m")[0])
    before = layout.projection(layout.item("m")[0]).points([(middle.e, middle.f)])[0]
    told = {"op": "transform_marks", "marks": ["m"], "about": [0.0, 0.0], "by": [14.0, -6.0]}
    layout = Layout(changed(document, told))
    middle = layout.map(layout.item("m")[0])
    after = layout.projection(layout.item("m")[0]).points([(middle.e, middle.f)])[0]
    np.testing.assert_allclose(after - before, (14, -6), atol=1e-6)


def test_a_page_made_larger_takes_it_along(store):
    for way in WAYS.values():
        document = piece(words(perspective=way))
        larger = changed(document, {"op": "scale_piece", "width": 800})
        np.testing.assert_allclose(corners_on(larger), 2 * corners_on(document), atol=0.01)


def test_documents_that_cannot_lie_are_refused():
    for one in (
        {**CORNERS, "corners": (LAID[0], LAID[2], LAID[1], LAID[3])},
        {**CORNERS, "corners": ((-200, 0), (200, 0), (12, 40), (0, 40))},
        {**ROUND, "round_deg": 120},
    ):
        with pytest.raises(KilnError):
            piece(words(perspective=one))
    assert (
        Corners(**CORNERS)
        == load(piece(words(perspective=CORNERS)).model_dump()).stack[0].placement.perspective
    )


def test_art_smaller_than_a_px_can_be_laid(store):
    svg = (
        b'<svg xmlns="http://www.w3.org/2000/svg" width="0.5" height="0.5">'
        b'<path d="M0 0h.5v.5z"/></svg>'
    )
    art = {"kind": "vector", "hash": store.keep(svg), "width": 0.5, "height": 0.5}
    document = piece(mark(art, scale=100) | {"id": "m"})
    document = changed(document, {"op": "set_in_perspective", "mark": "m", "way": "corners"})
    ring = corners_on(document) + [(0, 0), (-9, 6), (0, 0), (0, 0)]
    document = changed(document, {"op": "lay_corners", "mark": "m", "corners": ring.tolist()})
    np.testing.assert_allclose(corners_on(document), ring, atol=1e-3)
    assert np.isfinite(drawn(document, store)).all()
