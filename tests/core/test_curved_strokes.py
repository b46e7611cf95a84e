"""Strokes through points that were set, that taper, that end flat; moved, bent and changed: against
constructions of their own.
"""

import numpy as np
import pytest
from scipy.spatial import cKDTree

from kilncore import edits, engine
from kilncore.errors import KilnError
from kilncore.geometry.box import Box
from kilncore.strokes import PACK, Stroke, added, file_of, pack_of, strokes_in, taken_back, told_in
from kilncore.strokes.bending import bent
from kilncore.strokes.curves import curve, tapered
from kilncore.strokes.dabs import dabs_of
from kilncore.system.cache import ByteCache
from tests.documents import lettering, mark, piece
from tests.strokes import drawn as covered_by

LANDING = ["stack", "gull", "landing"]
WIDE, TALL, UNIT = 360, 200, 200
OWN = (1 / UNIT, 0.0, 0.0, 1 / UNIT, (0.5 - WIDE / 2) / UNIT, (0.5 - TALL / 2) / UNIT)
POINTS = np.array([(-0.8, 0.2), (-0.45, -0.3), (-0.1, 0.25), (0.3, -0.2), (0.75, 0.1)])


def stroke(points=POINTS, **more):
    told = {"points": np.asarray(points).tolist(), "radius": 0.05, "hardness": 1, "curved": True}
    return Stroke(**(told | more))


def drawn(one, scale=1):
    """(H, W) of what a stroke covers of the page."""
    own = tuple(np.array(OWN[:4]) / scale) + tuple(
        (0.5 - side * scale / 2) / UNIT / scale for side in (WIDE, TALL)
    )
    return covered_by(one, own, Box(0, 0, WIDE * scale, TALL * scale))


def at(x, y):
    """(row, column) of a place of the frame."""
    return int(TALL / 2 + y * UNIT), int(WIDE / 2 + x * UNIT)


def pyramid(p, u):
    """Places between the middle two of four points, by P. J. Barry and R. N. Goldman (A recursive
    evaluation algorithm for a class of Catmull-Rom splines, SIGGRAPH 1988), knots centripetal.
    """
    t = np.concatenate([[0], np.cumsum(np.sqrt(np.hypot(*np.diff(p, axis=0).T)))])
    now = t[1] + u * (t[2] - t[1])

    def mixed(a, b, from_, to):
        share = ((now - from_) / (to - from_))[:, None]
        return a * (1 - share) + b * share

    first = [mixed(p[n], p[n + 1], t[n], t[n + 1]) for n in range(3)]
    second = [mixed(first[n], first[n + 1], t[n], t[n + 2]) for n in range(2)]
    return mixed(second[0], second[1], t[1], t[2])


@pytest.fixture
def document():
    return piece({**mark(lettering("Gull", 200), 300, 200), "id": "gull"}, size=(640, 400))


def touched(document, store, strokes):
    told = [one.model_dump(mode="json", exclude_defaults=True) for one in strokes]
    return edits.apply(document, [{"op": "add_strokes", "path": LANDING, "strokes": told}], store)


def changed(document, store, **edit):
    return edits.apply(document, [{"path": LANDING, **edit}], store)


def strokes_of(document, store):
    return [one for name in document.stack[0].landing.touch for one in told_in(store.data(name))]


def rendered(document, store, **more):
    return engine.render(document, assets=store, cache=ByteCache(), **more)


# --- the way ---


def test_a_curve_is_that_of_barry_and_goldman():
    places = curve(POINTS)
    fine = np.concatenate([pyramid(POINTS[n : n + 4], np.linspace(0, 1, 400)) for n in range(2)])
    first, last = (np.abs(places - POINTS[n]).sum(1).argmin() for n in (1, 3))
    away = cKDTree(fine).query(places[first : last + 1])[0]
    assert away.max() < 2e-3 and last - first > 60
    exact = pyramid(POINTS[:4], np.linspace(0, 1, 11))
    assert cKDTree(places).query(exact)[0].max() < 6e-3


def test_it_goes_through_every_point_and_turns_sharply_at_corners_alone():
    for corners, closed in (((), False), ((2,), False), ((1, 2), True), ((), True)):
        places = curve(POINTS, corners, closed)
        assert cKDTree(places).query(POINTS)[0].max() < 1e-12
        ways = np.diff(places, axis=0)
        turns = np.diff(np.unwrap(np.arctan2(ways[:, 1], ways[:, 0])))
        sharp = places[1:-1][np.abs(turns) > 0.5]
        np.testing.assert_allclose(sharp, POINTS[list(corners)], atol=1e-12)
        assert closed == np.allclose(places[0], places[-1])
    straight = curve(POINTS, (1, 2))
    between = straight[(straight[:, 0] > -0.45) & (straight[:, 0] < -0.1)]
    np.testing.assert_allclose(
        between[:, 1], -0.3 + (between[:, 0] + 0.45) * 0.55 / 0.35, atol=1e-9
    )


@pytest.mark.parametrize("points", [[(0, 0)], [(0, 0), (1, 0)], [(0, 0), (0, 0), (1, 1)]])
def test_few_points_are_drawn_straight(points):
    assert drawn(stroke(points)).max() == 1
    (one,) = strokes_in(file_of(stroke(points, closed=True, ends="flat", taper_in=0.2)))
    assert np.isfinite(one.points).all()


def test_what_it_covers_is_as_scipy_measures_its_distance():
    fine = np.concatenate([pyramid(POINTS[n : n + 4], np.linspace(0, 1, 900)) for n in range(2)])
    rows, columns = np.mgrid[:TALL, :WIDE]
    places = np.column_stack([columns.ravel() + 0.5 - WIDE / 2, rows.ravel() + 0.5 - TALL / 2])
    away = cKDTree(fine * UNIT).query(places)[0].reshape(TALL, WIDE)
    amount = drawn(stroke())
    inner = (columns > at(-0.3, 0)[1]) & (columns < at(0.1, 0)[1])
    assert (amount[inner & (away < 8.5)] > 0.999).all()
    assert (amount[inner & (away > 11.5)] == 0).all()


def test_a_taper_grows_over_its_length_as_a_parabola():
    """Straight, so that its width can be counted across it."""
    amount = drawn(stroke([(-0.8, 0), (0.8, 0)], taper_in=0.6, taper_out=0.3))
    for x, share in ((-0.7, 0.1 / 0.6), (-0.4, 0.4 / 0.6), (0, 1), (0.6, 0.2 / 0.3)):
        wide = amount[:, at(x, 0)[1]].sum()
        assert wide == pytest.approx(2 * 10 * share * (2 - share), abs=1.2), x
    assert drawn(stroke([(-0.8, 0), (0.8, 0)], taper_in=5, taper_out=5)).max() == 1


def test_what_a_broad_curve_takes_to_draw_is_bounded():
    points = np.random.default_rng(1).uniform(-190, 190, (200, 2))
    for radius, most in ((5.0, 840), (0.5, 1640), (0.02, 25_700)):
        (one,) = strokes_in(file_of(stroke(points, radius=radius, taper_in=3)))
        assert len(one.points) <= most, radius


def test_tapers_longer_than_the_way_are_shortened_alike():
    points, pressures, widths = tapered(np.array([(0.0, 0), (1, 0)]), None, 3, 1)
    assert pressures is None and widths[[0, -1]].max() == 0
    assert points[widths.argmax(), 0] == pytest.approx(0.75) and widths.max() == 1
    _, pressed, _ = tapered(np.array([(0.0, 0), (1, 0)]), np.array([0.2, 0.6]), 0.5, 0)
    assert pressed[0] == 0.2 and pressed[-1] == 0.6 and (np.diff(pressed) > 0).all()


def test_flat_ends_are_cut_where_the_way_ends():
    points = [(-0.5, 0), (0.5, 0)]
    flat, round_ = (drawn(stroke(points, ends=one)) for one in ("flat", "round"))
    row, edge = at(0.5, 0)
    assert flat[row, edge - 1] == 1 and flat[row, edge] < 0.2 and round_[row, edge + 6] == 1
    assert flat[row + 7, edge - 2] == 1 and round_[row + 9, edge + 5] == 0
    np.testing.assert_array_equal(flat[:, 120:240], round_[:, 120:240])
    many = [(x, 0) for x in np.linspace(-0.5, 0.5, 200)]
    np.testing.assert_allclose(drawn(stroke(many, ends="flat", curved=False)), flat, atol=0.01)


def test_rough_tips_follow_a_curve_and_taper():
    (one,) = strokes_in(file_of(stroke(tip="cork", taper_out=0.4, gap=0.1)))
    dabs = dabs_of(one)
    assert cKDTree(curve(POINTS)).query(dabs[:, :2])[0].max() < 0.01
    assert dabs[-1, 2] < 0.3 * dabs[0, 2] and dabs[:, 2].min() > 0


@pytest.mark.parametrize("more", [{}, {"taper_out": 0.5}, {"ends": "flat"}, {"tip": "chalk"}])
def test_drawn_at_two_scales_it_is_the_same_averaged_down(more):
    one = stroke(hardness=0.6, **more)
    large = drawn(one, 2).reshape(TALL, 2, WIDE, 2).mean((1, 3))
    assert np.abs(large - drawn(one)).mean() < 0.006
    assert np.corrcoef(large.ravel(), drawn(one).ravel())[0, 1] > 0.99


def test_crops_and_tiles_are_equal_to_the_bit(store, document):
    strokes = [stroke(closed=True, tip="rag"), stroke(taper_in=0.5, ends="flat", corners=(2,))]
    document = touched(document, store, strokes)
    whole = rendered(document, store)
    part = rendered(document, store, region=(150, 90, 300, 200), tile=(128, 96), threads=1)
    np.testing.assert_array_equal(part, whole[90:290, 150:450])


# --- kept, and changed ---

KINDS = [
    {},
    {"corners": (0, 3), "closed": True, "id": 77, "back": True},
    {"tip": "wire", "taper_in": 0.31, "turn_deg": 12.3, "gap": 0.123, "strays": 0.4, "seed": 5},
    {"curved": False, "pressures": (0.1, 0.4, 1, 0.5, 0.2), "thins": 0.7, "ends": "flat"},
]


@pytest.mark.parametrize("more", KINDS)
def test_what_is_kept_is_told_as_it_was_asked_for(more):
    kept = file_of(stroke(**more))
    (told,) = told_in(kept)
    assert file_of(told) == kept
    for name, value in more.items():
        if name not in ("tip", "pressures"):
            assert getattr(told, name) == pytest.approx(value, abs=0.01), name


def several(count):
    return [stroke(POINTS + n / 100, id=n + 1, tip=("", "cork")[n % 2]) for n in range(count)]


@pytest.mark.parametrize("number", [0, 7, PACK + 3])
def test_changed_is_as_if_it_had_been_drawn_so(store, document, number):
    strokes = several(PACK + 5)
    before = touched(document, store, strokes)
    changes = {"radius": 0.1, "taper_in": 0.5, "points": (POINTS[::-1]).tolist(), "corners": [1]}
    edit = {"number": number, "stroke_id": number + 1, "changes": changes}
    after = changed(before, store, op="change_stroke", **edit)
    told = strokes[number].model_dump() | changes
    strokes[number] = Stroke.model_validate(told)
    assert after == touched(document, store, strokes)


def test_moved_and_bent(store, document):
    free = stroke(np.column_stack([np.linspace(-1, 1, 81), np.zeros(81)]), curved=False)
    before = touched(document, store, [free])
    moved = changed(before, store, op="move_stroke", number=0, by=[0.25, -0.125])
    (one,) = strokes_of(moved, store)
    np.testing.assert_allclose(one.points, np.add(free.points, (0.25, -0.125)), atol=1e-3)
    edit = {"number": -1, "place": 0.5, "spread": 0.25, "by": [0, 0.4]}
    after = changed(before, store, op="bend_stroke", **edit)
    (one,) = strokes_of(after, store)
    found = np.array(one.points)
    assert found[40] == pytest.approx([0, 0.4], abs=1e-3) and found[30, 1] == pytest.approx(
        0.2, abs=0.01
    )
    np.testing.assert_allclose(found[:20], np.array(free.points)[:20], atol=1e-3)
    assert len(bent(stroke([(0, 0)]), 0.5, 1, (1, 0)).points) == 1


def test_a_stroke_is_found_again_by_its_id(store, document):
    """Another tab has taken back one before it."""
    strokes = several(6)
    shorter = changed(touched(document, store, strokes), store, op="take_back_stroke", number=1)
    edit = {"op": "move_stroke", "number": 4, "stroke_id": 5, "by": [0.5, 0]}
    after = changed(shorter, store, **edit)
    told = strokes_of(after, store)
    assert [one.id for one in told] == [1, 3, 4, 5, 6]
    off = [np.subtract(one.points, strokes[one.id - 1].points)[0, 0] for one in told]
    assert off == pytest.approx([0, 0, 0, 0.5, 0], abs=2e-3)
    gone = changed(after, store, op="take_back_stroke", number=0, stroke_id=5)
    with pytest.raises(KilnError, match="no longer there"):
        changed(gone, store, **edit)


@pytest.mark.parametrize(
    "edit",
    [
        {"op": "change_stroke", "changes": {"radius": -1}},
        {"op": "change_stroke", "changes": {"corners": [99]}},
        {"op": "change_stroke", "changes": {"points": [[0, float("nan")]]}},
        {"op": "change_stroke", "changes": {"points": [[0, 0]] * 201}},
        {"op": "change_stroke", "changes": {"ends": "square"}},
        {"op": "change_stroke", "changes": {"taper_in": 1e9}},
        {"op": "move_stroke", "by": [1e6, 0]},
        {"op": "move_stroke", "by": [float("inf"), 0]},
        {"op": "bend_stroke", "by": [0, 0], "place": 2, "spread": 1},
        {"op": "bend_stroke", "by": [0, 0], "place": 0.5, "spread": 0},
        {"op": "bend_stroke", "by": [0, float("nan")], "place": 0.5, "spread": 0.5},
    ],
)
def test_what_makes_no_stroke_is_refused_and_nothing_is_changed(store, document, edit):
    before = touched(document, store, several(2))
    with pytest.raises(KilnError):
        changed(before, store, number=0, **edit)


def test_five_thousand_strokes_on_one_landing(store, document):
    """Kept as few files, drawn, one more, one taken back from among them."""
    random = np.random.default_rng(8)
    ways = random.uniform(-1.2, 1.2, (5000, 1, 2)) + random.normal(0, 0.04, (5000, 5, 2))
    files = [file_of(stroke(way, radius=0.006, id=n + 1)) for n, way in enumerate(ways)]
    packs = [pack_of(files[n : n + PACK]) for n in range(0, len(files) // PACK * PACK, PACK)]
    touch = [store.keep(one) for one in (*packs, *files[len(packs) * PACK :])]
    assert len(touch) < 200
    with_all = changed(document, store, op="set", path=[*LANDING, "touch"], value=touch)
    assert (rendered(with_all, store) != rendered(document, store)).any()
    more = added(touch, stroke(radius=0.006), store)
    assert more[:-1] == touch
    shorter = taken_back(more, 2500, store, 2501)
    assert sum(len(store.strokes(name)) for name in shorter) == 5000
    assert shorter[:78] == touch[:78] and shorter[78] != touch[78]
