"""Words on arcs, circles, waves and curves, beside places worked out by hand; lines around them
beside SciPy's distance.
"""

import math

import numpy as np
import pytest
from scipy.ndimage import distance_transform_edt

from kilncore import engine
from kilncore.artwork.coverage import coverage
from kilncore.artwork.lettering import Lettering
from kilncore.edits import apply
from kilncore.errors import KilnError
from kilncore.system.cache import ByteCache
from kilncore.typesetting.shaping import Setting, shaped
from tests.documents import lettering, mark, piece, px

PPI, TALL = 300, 600
SIZE = (640, 600)
EM = 80.0


def words(text="PIER", along=None, **more):
    told = lettering(text, EM) | {"font": "anton", "along": along} | more
    return Lettering.model_validate(told)


def edges_px(art):
    """(N, 4) in px from the middle of its box."""
    return art._edges(art._bend(PPI, TALL), 0.0) * EM


def letters_px(art):
    return np.array([(x * EM, y * EM, turn) for x, y, turn in art._stands(PPI, TALL).letters()])


def middles(text, font="anton"):
    """The middle of each letter's advance from the middle of the line, in px, by HarfBuzz."""
    line = shaped(text, Setting(font))
    found = list(dict.fromkeys(glyph.middle for glyph in line.glyphs))
    return (np.array(found) - line.width / 2) * EM, line.width * EM


CIRCLE = {"kind": "circle", "radius": px(170)}


@pytest.mark.parametrize("start", [0, 65, -140])
@pytest.mark.parametrize("side", ["outside", "inside"])
def test_letters_stand_on_a_circle_where_analysis_says(side, start):
    """A letter whose middle lies s along stands at the angle s / R, turned by it."""
    art = words("PELLWICK", CIRCLE | {"side": side, "start_deg": start})
    s, _ = middles("PELLWICK")
    way = 1 if side == "outside" else -1
    turn = math.radians(start) + way * s / 170
    wanted = np.stack([170 * np.sin(turn), -170 * np.cos(turn)], 1)
    found = letters_px(art)
    np.testing.assert_allclose(found[:, :2], wanted, atol=0.1)
    upright = turn if side == "outside" else turn - math.pi
    np.testing.assert_allclose(np.cos(found[:, 2] - upright), 1, atol=1e-9)


def test_each_letter_is_the_same_letter_turned():
    art, flat = words("OI", CIRCLE), words("OI")
    s, _ = middles("OI")
    turn = s / 170
    found, straight = edges_px(art), edges_px(flat)
    # the first letter's edges come first in both
    count = len(edges_px(words("O")))
    baseline = flat.box_px(PPI, TALL)[1] / 2
    points = straight[:count, :2] - [s[0], baseline]
    cos, sin = math.cos(turn[0]), math.sin(turn[0])
    placed = points @ np.array([[cos, sin], [-sin, cos]])
    placed += [170 * sin, -170 * cos]
    np.testing.assert_allclose(found[:count, :2], placed, atol=0.1)


@pytest.mark.parametrize("share", [0.4, 1.0])
def test_a_spread_fills_its_share_of_the_circle(share):
    """All of it closes the ring: the last letter stands as far from the first as from others."""
    art = words("IIIIIIII", CIRCLE | {"spread": share})
    turns = letters_px(art)[:, 2]
    steps = np.diff(turns)
    assert np.ptp(steps) < 1e-9
    _, width = middles("IIIIIIII")
    letter = width / 8 / 170
    if share == 1.0:
        assert steps[0] * 8 == pytest.approx(2 * math.pi)
    else:
        assert turns[-1] - turns[0] + letter == pytest.approx(share * 2 * math.pi)


@pytest.mark.parametrize("turn", [120, -75])
def test_an_arc_turns_as_far_as_is_told(turn):
    art = words("NIGHT FERRY", {"kind": "arc", "turn_deg": turn})
    s, width = middles("NIGHT FERRY")
    found = letters_px(art)
    np.testing.assert_allclose(found[:, 2], np.radians(turn) * s / width, atol=1e-9)
    radius = width / abs(math.radians(turn))
    chords = np.hypot(*np.diff(found[:, :2], axis=0).T)
    np.testing.assert_allclose(chords, 2 * radius * np.sin(np.diff(s) / radius / 2), atol=0.1)


def test_joined_letters_are_bent_point_by_point():
    """Of outlines every point lies at the angle of its x, and at the radius of its y."""
    art = words("on", CIRCLE | {"how": "outlines"}, font="lobster")
    flat = words("on", font="lobster")
    baseline = flat.box_px(PPI, TALL)[1] / 2
    straight = edges_px(flat)
    turn, reach = straight[:, 0] / 170, 170 - (straight[:, 1] - baseline)
    wanted = np.stack([reach * np.sin(turn), -reach * np.cos(turn)], 1)
    found = edges_px(art)[:, :2]
    gaps = [np.hypot(*(found - point).T).min() for point in wanted[::7]]
    assert max(gaps) < 0.1


def test_what_a_face_joins_stays_joined_and_what_it_does_not_is_turned():
    script = words("minimum", {"kind": "arc", "turn_deg": 150}, font="pacifico")
    plain = words("minimum", {"kind": "arc", "turn_deg": 150}, font="anton")
    for art, bends in ((script, True), (plain, False)):
        stands = art._stands(PPI, TALL)
        assert any(len(group) > 1 for group, _ in stands._groups(0.0)) is bends


def test_a_wave_and_a_curve_go_where_they_are_told():
    wave = words("NIGHT FERRY", {"kind": "wave", "height": 0.4, "waves": 1})
    found, (_, width) = letters_px(wave), middles("NIGHT FERRY")
    x, y = (found[:, :2] - wave.plane_px(PPI, TALL)).T
    np.testing.assert_allclose(y, -0.4 * EM * np.sin(2 * math.pi * x / width), atol=0.3)
    points = [(-2.0, 0.4), (0.0, -0.6), (2.0, 0.4)]
    drawn = words("LAST BOAT", {"kind": "curve", "points": points})
    feet = letters_px(drawn)[:, :2] - drawn.plane_px(PPI, TALL)
    through = np.array(points) * EM
    assert np.hypot(*(feet - through[1]).T).min() < 0.5 * EM
    nearest = feet[np.abs(feet[:, 0]).argmin()]
    assert nearest[1] == pytest.approx(-0.6 * EM, abs=6)
    straight = words("LAST BOAT", {"kind": "curve", "points": [(-9.0, 0.0), (9.0, 0.0)]})
    np.testing.assert_allclose(letters_px(straight)[:, 2], 0, atol=1e-12)


def drawn_px(document, store, scale=1.0):
    return engine.pixels(document, None, scale, store, truly=True, cache=ByteCache(), seen=None)


def test_words_change_and_the_circle_stays(store):
    before = piece(mark(words("PIER", CIRCLE).model_dump(), 320, 300) | {"id": "ring"}, size=SIZE)
    way = ["stack", "ring", "art", "text"]
    after = apply(before, [{"op": "set", "path": way, "value": "PELLWICK"}])
    ring = [one.placement for one in (before.mark("ring"), after.mark("ring"))]
    assert ring[0] == ring[1]
    back = apply(after, [{"op": "set", "path": way, "value": "PIER"}])
    np.testing.assert_array_equal(drawn_px(back, store), drawn_px(before, store))


@pytest.mark.parametrize("kind", ["curve", "arc", "wave"])
def test_a_line_keeps_its_place_when_its_words_change(kind, store):
    art = words("PIER", {"kind": kind}).model_dump()
    before = piece(mark(art, 320, 300, rotation_deg=20, scale=1.3) | {"id": "line"}, size=SIZE)
    way = ["stack", "line", "art", "text"]
    after = apply(before, [{"op": "set", "path": way, "value": "PELLWICK NIGHT"}])
    origins = []
    for document in (before, after):
        line, layout = document.mark("line"), engine.plans.plan_of(document, 1.0).layout
        origins.append(layout.map(line).point(*line.art.plane_px(document.ppi, 600)))
    np.testing.assert_allclose(*origins, atol=1e-3)


LINES = {"outlined": "outside", "width": px(6), "colour": "#ff0000"}


def filled(edges, side=300):
    return coverage(edges + side / 2, side, side)


@pytest.mark.parametrize("by", [5.0, -4.0])
def test_letters_grow_by_a_distance(by):
    """Of a round letter, which has no corners: by SciPy on a raster four times as fine."""
    fine = 4
    art = words("O", font="josefin-sans-bold")
    edges = art._edges(None, 0.0) * EM * 2
    grown = art._edges(None, by / (EM * 2)) * EM * 2
    raster = coverage(edges * fine + 150 * fine, 300 * fine, 300 * fine) > 0.5
    inside = distance_transform_edt(raster) - 0.5
    outside = distance_transform_edt(~raster) - 0.5
    wanted = (np.where(raster, inside, -outside) / fine > -by).reshape(300, fine, 300, fine)
    away = np.abs(filled(grown) - wanted.mean((1, 3)))
    assert away.max() < 0.5 and away.mean() < 0.002


def test_lines_lie_where_they_are_told(store):
    blue, green, dark = "#0000ff", "#00ff00", "#101010"
    lines = LINES | {"second": True, "second_gap": px(8), "second_width": px(4)}
    lines |= {"second_colour": blue, "inline": True, "inset": px(5), "inline_width": px(3)}
    lines |= {"inline_colour": green, "drop": True, "across": px(60), "down": px(0)}
    lines |= {"drop_gap": px(0), "drop_colour": dark}
    art = words("I", size=px(300), lines=lines, colour="#ffffff").model_dump()
    plain = words("I", size=px(300)).model_dump() | {"colour": "#ffffff"}
    ground = {"kind": "colour", "colour": "#808080"}
    row = drawn_px(piece(mark(art, 320, 300), size=SIZE, ground=ground), store)[300, :, :3]
    bare = drawn_px(piece(mark(plain, 320, 300), size=SIZE, ground=ground), store)[300, :, 0]
    left = float(np.flatnonzero(bare > 0xC0)[0])
    wide = float((bare.astype(float) - 128).sum() / 127)
    for at, colour in (
        (-16.0, (0, 0, 255)), (-10.0, (128, 128, 128)), (-3.0, (255, 0, 0)),
        (2.0, (255, 255, 255)), (6.5, (0, 255, 0)), (wide / 2, (255, 255, 255)),
        (wide + 3.0, (255, 0, 0)), (wide + 50.0, (16, 16, 16)),
    ):  # fmt: skip
        np.testing.assert_array_equal(row[int(left + at)], colour)


def test_a_fill_takes_the_place_of_the_letters_alone(store):
    fill = {
        "kind": "gradient",
        "stops": [{"at": 0, "colour": "#00ff00"}, {"at": 1, "colour": "#00ff00"}],
    }
    art = words("I", size=px(300), lines=LINES, fill=fill).model_dump()
    row = drawn_px(piece(mark(art, 320, 300), size=SIZE), store)[300, :, :3]
    assert (row == [0, 255, 0]).all(1).any() and (row == [255, 0, 0]).all(1).sum() >= 8


@pytest.mark.parametrize("along", [CIRCLE, {"kind": "arc"}, {"kind": "wave"}, {"kind": "curve"}])
def test_crops_and_drafts_of_what_is_bent(store, along):
    art = words("PELLWICK\nNIGHT", along, lines=LINES).model_dump()
    document = piece(mark(art, 320, 300), size=SIZE)
    whole = drawn_px(document, store)
    part = engine.pixels(document, (111, 87, 300, 250), 1.0, store, truly=True, cache=ByteCache())
    np.testing.assert_array_equal(part, whole[87:337, 111:411])
    mean = whole.reshape(300, 2, 320, 2, -1).mean((1, 3))
    away = np.abs(engine.pixels(document, None, 0.5, store) - mean).max(2)
    # where an outline and its letter share a pixel, a mean of products is no product of means
    assert np.quantile(away, 0.98) < 16 and away.mean() < 1


@pytest.mark.parametrize(
    "along",
    [
        {"kind": "square"},
        {"kind": "curve", "points": [(0, 0)]},
        {"kind": "curve", "points": [(0, 0), (1e9, 0)]},
        {"kind": "circle", "spread": 2},
        {"kind": "wave", "waves": 0},
    ],
)
def test_what_words_cannot_stand_on_is_refused(along):
    document = piece(mark(words().model_dump()) | {"id": "a"}, size=SIZE)
    with pytest.raises(KilnError):
        apply(document, [{"op": "set", "path": ["stack", "a", "art", "along"], "value": along}])


@pytest.mark.parametrize(
    "along",
    [
        CIRCLE | {"radius": px(0)},
        CIRCLE | {"radius": px(-5)},
        {"kind": "arc", "turn_deg": 0},
        {"kind": "curve", "points": [(1, 1), (1, 1)]},
        {"kind": "wave", "height": 0, "waves": 40},
    ],
)
@pytest.mark.parametrize("text", ["", "A", " \n ", "ON\nTWO\nLINES"])
def test_odd_lines_are_drawn_sensibly(store, along, text):
    art = words(text, along, lines=LINES).model_dump()
    assert drawn_px(piece(mark(art, 320, 300), size=SIZE), store).shape[:2] == (600, 640)
