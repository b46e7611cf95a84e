"""A wear that takes away a wanted share: true to the fired pixels; strokes and holes of what is
left.
"""

import numpy as np
import pytest
from scipy import ndimage

from kilncore import engine
from kilncore.engine.solved import solved_wear
from kilncore.engine.worn import worn as worn_of
from kilncore.errors import KilnError
from kilncore.measure import strokes
from kilncore.measure.strokes_left import strokes_left
from kilncore.output.fire import fire
from kilncore.solve import wear_points
from tests.documents import lettering, mark, piece, step
from tests.pictures import png


@pytest.fixture
def mottled(store, rng):
    soft = ndimage.gaussian_filter(rng.random((500, 700)), 2, mode="wrap")
    soft = (soft - soft.min()) / np.ptp(soft)
    return {"hash": store.keep(png(np.rint(soft * 255).astype(np.uint8))), "edges": "repeat"}


def worn(texture, **wear):
    treatment = [step("wear", texture=texture, **wear)] if wear else []
    words = mark(lettering("Gull", 200), 350, 250, treatment)
    return piece(words, ground={"kind": "none"}, size=(700, 500))


def alpha(document, store, **how):
    return float(engine.exact(document, assets=store, **how)[..., 3].sum(dtype=float))


@pytest.mark.parametrize("share", [0.03, 0.15, 0.5])
@pytest.mark.parametrize("scale, turn, invert", [(1, 0, False), (0.4, 0, True), (2.3, 31, False)])
def test_the_share_is_taken_from_the_fired_pixels(
    store, mottled, tmp_path, share, scale, turn, invert
):
    place = {"scale": scale, "rotation_deg": turn}
    wear = {"aim": True, "share": share, "invert": invert, "placement": place}
    document = worn(mottled, **wear)
    fired = fire(document, tmp_path / "fired.png", store)
    import cv2

    left = cv2.imread(str(fired.path), cv2.IMREAD_UNCHANGED)[..., 3].sum(dtype=float) / 255
    assert abs(1 - left / alpha(worn(mottled), store) - share) < 0.005


def test_a_draft_takes_about_as_much(store, mottled):
    wear = {"aim": True, "share": 0.2}
    left, bare = (
        engine.render(one, scale=0.4, assets=store)[..., 3].sum(dtype=float)
        for one in (worn(mottled, **wear), worn(mottled))
    )
    assert abs(1 - left / bare - 0.2) < 0.01


def test_what_was_worn_before_counts_no_more(store, mottled):
    """An aim is a share of what the step is given."""
    first = step("wear", texture=mottled, black=0.3, white=0.6)
    second = step("wear", texture=mottled, aim=True, share=0.3, invert=True)
    before, after = (
        piece(
            mark(lettering("Gull", 200), 350, 250, steps), ground={"kind": "none"}, size=(700, 500)
        )
        for steps in ([first], [first, second])
    )
    assert abs(1 - alpha(after, store) / alpha(before, store) - 0.3) < 0.005


def test_beyond_a_textures_end_nothing_is_taken_and_the_rest_makes_up_for_it(store, mottled):
    ends = {**mottled, "edges": "none"}
    wear = {"aim": True, "share": 0.2, "placement": {"x": {"value": -350, "unit": "px"}}}
    document = worn(ends, **wear)
    assert abs(1 - alpha(document, store) / alpha(worn(mottled), store) - 0.2) < 0.005
    most = worn(ends, **wear | {"share": 0.9})
    whole = solved_wear(most, _step(most), store)
    assert not whole.met and 0.2 < whole.taken < 0.8


def _step(document):
    return document.stack[0].treatment[0]


def test_what_is_solved_is_told_and_is_what_the_same_points_take(store, mottled):
    for invert in (False, True):
        document = worn(mottled, aim=True, share=0.25, contrast=0.2, invert=invert)
        found = solved_wear(document, _step(document), store)
        assert found.met and found.taken == pytest.approx(0.25, abs=1e-3)
        by_hand = worn(mottled, black=found.black, white=found.white, invert=invert)
        assert alpha(by_hand, store) == pytest.approx(alpha(document, store), rel=2e-3)
    assert solved_wear(worn(mottled, black=0.2), _step(worn(mottled, black=0.2)), store) is None


@pytest.mark.parametrize("share", [0.02, 0.2, 0.5, 0.8])
@pytest.mark.parametrize("contrast", [0.02, 0.25, 0.6])
def test_points_against_trying_all(rng, share, contrast):
    tone = ndimage.gaussian_filter(rng.random((80, 90)), 1)
    coverage = np.clip(rng.random((80, 90)) * 2 - 0.3, 0, 1)
    bias = np.linspace(-0.2, 0.3, 90) + 0 * tone

    def taken(black):
        kept = np.clip((tone + bias - black) / contrast, 0, 1)
        return ((1 - kept) * coverage).sum() / coverage.sum()

    black, white = wear_points(tone, coverage, share, contrast, bias)
    assert abs(taken(black) - share) < 0.002 and white - black == pytest.approx(contrast)
    tries = np.linspace(-1, 1.5, 2501)
    best = tries[np.argmin([abs(taken(one) - share) for one in tries])]
    assert abs(black - best) < 0.003


@pytest.mark.parametrize(
    "more", [{"share": 1.2}, {"contrast": 0}, {"coverage": np.zeros((9, 9))}, {"bias": np.zeros(3)}]
)
def test_points_that_cannot_be(more):
    given = {"tone": np.ones((9, 9)), "coverage": np.ones((9, 9)), "share": 0.2} | more
    with pytest.raises(KilnError):
        wear_points(**given)


def bars(widths, degrees):
    """Antialiased bars, side by side, turned."""
    y, x = np.mgrid[0:420, 0:420] - 210.0
    turn, found, at = np.radians(degrees), np.zeros((420, 420)), -90.0
    u, v = x * np.cos(turn) + y * np.sin(turn), y * np.cos(turn) - x * np.sin(turn)
    for width in widths:
        across = np.clip(np.minimum(u - at, at + width - u) + 0.5, 0, 1)
        found = np.maximum(found, across * np.clip(110 - np.abs(v) + 0.5, 0, 1))
        at += width + 25
    return found


@pytest.mark.parametrize("width", [2.0, 3.3, 6.5, 14.0])
@pytest.mark.parametrize("degrees", [0, 7, 33, 45, 81])
def test_the_thinnest_of_bars_of_known_width(width, degrees):
    found = strokes(bars([width, 22, 30], degrees), 300)
    assert found["thinnest_px"] == pytest.approx(width, abs=0.35)
    assert found["thinnest_mm"] == pytest.approx(found["thinnest_px"] * 25.4 / 300)


@pytest.mark.parametrize("radius", [1.5, 4, 9, 30])
def test_the_largest_of_holes_of_known_size(radius):
    y, x = np.mgrid[0:300, 0:300]
    plate = ((x > 20) & (x < 280) & (y > 20) & (y < 280)).astype(float)
    for at, size in (((100, 110), radius), ((200, 190), radius / 2)):
        plate *= np.clip(np.hypot(x - at[0], y - at[1]) - size + 0.5, 0, 1)
    found = strokes(plate, 600)
    assert found["largest_hole_px"] == pytest.approx(2 * radius, abs=0.3)
    assert found["largest_hole_mm"] == pytest.approx(found["largest_hole_px"] * 25.4 / 600)


def test_what_has_no_strokes_or_holes():
    assert set(strokes(np.zeros((30, 30)), 300).values()) == {0}
    disc = np.hypot(*np.mgrid[-40:41, -40:41]) < 30
    assert strokes(disc.astype(float), 300)["largest_hole_px"] == 0
    for wrong in (np.zeros(9), np.zeros((2, 9)), np.zeros((9, 9, 3))):
        with pytest.raises(KilnError):
            strokes(wrong, 300)
    with pytest.raises(KilnError):
        strokes(np.zeros((9, 9)), 0)


def test_readings_of_a_constructed_wear(store):
    """Bars of known width, half of one of which a mask takes away."""
    halves = np.full((200, 400), 255, np.uint8)
    halves[:100, 200:] = 0  # the right half loses its upper half
    texture = {"hash": store.keep(png(halves)), "edges": "none"}
    words = mark(
        {**lettering("II", 160), "font": "anton", "tracking": 600},
        200,
        100,
        [step("wear", texture=texture, black=0.4, white=0.6)],
    )
    document = piece(words, ground={"kind": "none"}, size=(400, 200), ppi=254)
    item = document.stack[0]
    found = worn_of(document, item.id, item.treatment[0].id, store)
    assert (found.parts, found.worst.name) == (2, "the second I")
    keeps, place = found.worst.keeps, found.worst.place
    assert found.taken == pytest.approx((1 - keeps) / 2, abs=0.03) and 0.2 < keeps < 0.8
    assert 200 < place[0] < place[0] + place[2] < 400 and place[3] > 80
    assert found.thinnest_mm == pytest.approx(found.thinnest_px / 10)  # 254 ppi
    assert found.hole_px == pytest.approx(place[2], abs=1)  # as wide as the stem that is gone
    assert found.hole_mm == pytest.approx(found.hole_px / 10) and 0.3 < found.readable < 0.99
    left, top, width, height = found.hole_place
    assert place[0] - found.hole_px < left < left + width < place[0] + place[2] + found.hole_px
    assert top + height / 2 < 100
    off = piece(words | {"treatment": []}, ground={"kind": "none"}, size=(400, 200))
    assert worn_of(off, off.stack[0].id, "gone", store) is None


def test_a_counter_is_no_hole_that_was_worn(store):
    """An O has a hole; a wear that takes nothing from it has made none."""
    texture = {"hash": store.keep(png(np.full((300, 300), 255, np.uint8))), "edges": "repeat"}
    wear = step("wear", texture=texture, black=0.4, white=0.6)
    document = piece(mark(lettering("O", 260), 150, 150, [wear]), size=(300, 300))
    item = document.stack[0]
    assert worn_of(document, item.id, item.treatment[0].id, store).hole_px == 0
    bare = engine.exact(
        piece(mark(lettering("O", 260), 150, 150), ground={"kind": "none"}, size=(300, 300))
    )
    assert strokes(bare[..., 3], 300)["largest_hole_px"] > 10


@pytest.mark.parametrize("degrees", [0, 30, 45, 77])
def test_what_is_left_of_strokes_of_known_width(degrees):
    """A bar of 20 px from which a strip of 7 px is cut out at its middle."""
    before = bars([20, 30], degrees)
    y, x = np.mgrid[0:420, 0:420] - 210.0
    turn = np.radians(degrees)
    u, v = x * np.cos(turn) + y * np.sin(turn), y * np.cos(turn) - x * np.sin(turn)
    strip = np.clip(np.minimum(u + 90 - 6, -90 + 13 - u) + 0.5, 0, 1) * (np.abs(v) < 25)
    found = strokes_left(before.astype(np.float32), (before * (1 - strip)).astype(np.float32))
    assert found.width_px == pytest.approx(13, abs=0.8) and found.was_px == pytest.approx(20, abs=1)
    assert abs((found.x - 210) * np.cos(turn) + (found.y - 210) * np.sin(turn) + 80) < 3
    whole = strokes_left(before.astype(np.float32), before.astype(np.float32))
    assert whole.width_px == pytest.approx(whole.was_px)
    assert strokes_left(np.zeros((9, 9), np.float32), np.zeros((9, 9), np.float32)) is None


def test_the_letter_that_suffers_is_named(store):
    black = np.full((300, 900), 255, np.uint8)
    black[:, 520:640] = 0
    texture = {"hash": store.keep(png(black)), "edges": "none"}
    wear = step("wear", texture=texture, black=0.4, white=0.6)
    words = mark({**lettering("LELLO", 190), "tracking": 200}, 450, 150, [wear])
    document = piece(words, ground={"kind": "none"}, size=(900, 300))
    item = document.stack[0]
    found = worn_of(document, item.id, item.treatment[0].id, store)
    place = found.worst.place
    assert found.worst.name == "the third L" and 450 < place[0] + place[2] / 2 < 680


def test_the_readings_of_an_undercoat_are_those_of_what_it_shows_in(store, mottled):
    plain, coated = (
        worn(mottled, aim=True, share=0.2, **more) for more in ({}, {"under": "colour"})
    )
    told = [
        worn_of(one, one.stack[0].id, one.stack[0].treatment[0].id, store)
        for one in (plain, coated)
    ]
    assert told[0].taken == pytest.approx(0.2, abs=0.005) and told[1].taken == told[0].taken
