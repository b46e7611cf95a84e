"""What art is filled with: gradients, textures, the surface itself."""

import numpy as np
import pytest

from kilncore import engine
from kilncore.artwork.gradient import fill
from kilncore.edits import apply
from kilncore.engine.recall import Recall
from kilncore.errors import KilnError
from kilncore.system.cache import ByteCache
from tests.documents import group, lettering, mark, piece, px, step

SIZE = (420, 300)
STOPS = [{"at": 0, "colour": "#1d2c45"}, {"at": 1, "colour": "#f2c14e"}]
GRADIENT = {"kind": "gradient", "stops": STOPS, "angle_deg": 90}
SURFACE = {"kind": "surface"}


def card(**more):
    return {"kind": "shape", "form": "rectangle", "width": px(200), "height": px(100)} | more


def drawn(document, store, scale=1.0, box=None):
    return engine.pixels(document, box, scale, store, truly=True, cache=ByteCache(), seen=None)


@pytest.mark.parametrize(
    ("way", "kind", "line"),
    [
        ("straight", "linear", (-0.5, 0, 0.5, 0)),
        ("straight", "linear", (-0.2, -0.4, 0.3, 0.1)),
        ("round", "round", (0.1, 0.0, 0.4, 0.2)),
        ("cone", "conic", (0.0, 0.1, 0.2, -0.3)),
    ],
)
def test_a_gradient_lies_in_shares_of_the_box(store, way, kind, line):
    told = dict(zip(("x0", "y0", "x1", "y1"), line, strict=True))
    document = piece(mark(card(fill=GRADIENT | {"way": way, "line": told}), 210, 150), size=SIZE)
    found = drawn(document, store)[105:195, 115:305] / 255  # well within the card
    x0, y0, x1, y1 = line
    ends = [(100 + x * 200, 50 + y * 100) for x, y in ((x0, y0), (x1, y1))]
    wanted = fill(kind, [(0, "#1d2c45", 1), (1, "#f2c14e", 1)], ends, 200, 100)[5:95, 5:195, :3]
    away = np.abs(found - wanted).max(2)
    assert np.quantile(away, 0.98) < 2 / 255 and away.mean() < 1 / 255


def test_it_is_dithered_and_any_crop_is_the_same(store):
    dark = [{"at": 0, "colour": "#202020"}, {"at": 1, "colour": "#242424"}]
    document = piece(mark(card(fill=GRADIENT | {"stops": dark}), 210, 150), size=SIZE)
    whole = drawn(document, store)
    rows = whole[105:195, 115:305, 0]
    assert len(np.unique(rows[:, 24])) > 1  # a band would be one level from top to bottom
    assert rows.mean(0)[20] == pytest.approx(0x20 + 4 * 30.5 / 200, abs=0.2)
    part = drawn(document, store, box=(97, 81, 133, 70))
    np.testing.assert_array_equal(part, whole[81:151, 97:230])


@pytest.mark.parametrize("art", [card(), lettering("FOIL", 90)])
def test_a_draft_is_the_mean_of_the_exact_picture(store, art):
    fine = GRADIENT | {"repeat": "repeat", "line": {"x0": 0, "y0": 0, "x1": 0.05, "y1": 0.01}}
    document = piece(mark(art | {"fill": fine}, 210, 150), size=SIZE)
    exact = drawn(document, store).astype(float)
    mean = exact.reshape(150, 2, 210, 2, -1).mean((1, 3))
    away = np.abs(engine.pixels(document, None, 0.5, store) - mean).max(2)
    assert np.quantile(away, 0.99) < 6 and away.mean() < 1


def test_a_texture_in_letters_is_the_texture_where_they_are(store, texture):
    place = {"x": px(4), "y": px(-3), "scale": 0.7, "rotation_deg": 20}
    foil = {"kind": "texture", "texture": texture, "placement": place}
    words = mark(lettering("FOIL", 120) | {"fill": foil}, 210, 150)
    shape = mark(lettering("FOIL", 120) | {"colour": "#ffffff"}, 210, 150)
    black = {"kind": "colour", "colour": "#000000"}
    covered = drawn(piece(shape, size=SIZE, ground=black), store)[..., :1] / 255
    card_of_it = mark(card(width=px(420), height=px(300), fill=foil), 210, 150)
    found = drawn(piece(words, size=SIZE, ground=black), store).astype(float)
    assert covered.mean() > 0.1
    sheet = drawn(piece(card_of_it, size=SIZE, ground=black), store).astype(float)
    # their frames differ: the letters' own begins at their baseline
    assert found[covered[..., 0] == 1].std() == pytest.approx(sheet.std(), rel=0.4)
    np.testing.assert_array_equal(found[covered[..., 0] == 0], 0)
    edge = (covered[..., 0] > 0.2) & (covered[..., 0] < 0.8)
    assert (found[edge].max(1) <= covered[edge][:, 0] * 255 + 1).all()


def test_what_is_cut_from_the_surface_cannot_be_told_from_it(store, texture):
    ground = {"kind": "texture", "texture": texture}
    bare = drawn(piece(size=SIZE, ground=ground), store).astype(int)
    flush = piece(mark(lettering("RUST", 120) | {"fill": SURFACE}), size=SIZE, ground=ground)
    assert np.abs(drawn(flush, store).astype(int) - bare).max() <= 1
    toned = mark(lettering("RUST", 120) | {"fill": SURFACE}, treatment=[step("tones", middle=0.4)])
    darker = drawn(piece(toned, size=SIZE, ground=ground), store).astype(int)
    assert (darker <= bare + 1).all() and (darker < bare - 10).any(2).mean() > 0.05


@pytest.mark.parametrize("grouped", [False, True])
def test_the_surface_follows_what_lies_beneath_it(store, texture, grouped):
    """In drafts and exact pictures that draw only what a change reaches."""
    over = mark(card(fill=SURFACE), 210, 150, [step("tones", lift=0.3)]) | {"id": "over"}
    under = mark(lettering("TIN", 60), 180, 140) | {"id": "under"}
    upper = group(over | {"placement": {"x": px(0), "y": px(0)}}, x=210, y=150)
    before = piece(under, upper if grouped else over, size=SIZE)
    recall = Recall(ByteCache())
    for truly in (True, False):
        engine.pixels(before, None, 0.7, store, truly=truly, recall=recall)
    moved = {"op": "transform_marks", "about": [0, 0], "by": [15.3, 6], "marks": ["under"]}
    after = apply(before, [moved], store)
    found = [engine.pixels(after, None, 0.7, store, truly=one, recall=recall) for one in (0, 1)]
    whole = engine.pixels(after, None, 0.7, store, truly=True, cache=ByteCache(), seen=None)
    np.testing.assert_array_equal(found[1], whole)
    # a draft lies whole px from where it rested
    away = np.abs(found[0].astype(int) - whole).max(2)
    assert (away > 60).mean() < 0.004


def test_a_rim_keeps_its_colour_around_what_is_filled(store):
    rim = {"outlined": "inside", "rim": px(20), "rim_colour": "#c03020"}
    found = drawn(piece(mark(card(fill=GRADIENT, **rim), 210, 150), size=SIZE), store)
    np.testing.assert_array_equal(found[150, 120, :3], [192, 48, 32])
    left, right = found[150, 140, :3].astype(int), found[150, 280, :3].astype(int)
    assert right[0] > left[0] + 80
    hollow = card(fill=GRADIENT, filled=False, **rim)
    found = drawn(piece(mark(hollow, 210, 150), size=SIZE), store)
    np.testing.assert_array_equal(found[150, 210, :3], [216, 208, 192])


def test_in_perspective_it_lies_with_its_mark(store):
    """A card laid into a trapezium: half of its gradient lies where half of its width does."""
    laid = mark(card(fill=GRADIENT | {"line": {"x0": -0.5, "x1": 0.5}}), 210, 150)
    document = piece(laid | {"id": "card"}, size=SIZE)
    corners = [[110, 60], [310, 100], [310, 200], [110, 240]]
    document = apply(document, [{"op": "lay_corners", "mark": "card", "corners": corners}], store)
    found = drawn(document, store)[150, :, 2].astype(float)
    # by the cross ratio of a plane: heights 180 and 100 at the ends, the middle at 180 / 280
    middle = 110 + 200 * 180 / 280
    wanted = (0x45 + 0x4E) / 2
    assert found[round(middle)] == pytest.approx(wanted, abs=2)
    straight = 110 + 100
    assert found[straight] == pytest.approx(0x45 + (0x4E - 0x45) * 0.36, abs=2)


@pytest.mark.parametrize(
    "bad",
    [
        {"kind": "none"},
        {"kind": "colour"},
        {"kind": "nothing of the kind"},
        GRADIENT | {"stops": STOPS[:1]},
        GRADIENT | {"line": {"x0": 0, "y0": 0, "x1": 0, "y1": 0}},
        GRADIENT | {"stops": [*STOPS, {"at": 2, "colour": "#123456"}]},
        GRADIENT | {"way": "sideways"},
    ],
)
def test_what_fills_no_art_is_refused(store, bad):
    document = piece(mark(card()) | {"id": "card"}, size=SIZE)
    with pytest.raises(KilnError):
        apply(document, [{"op": "set", "path": ["stack", "card", "art", "fill"], "value": bad}])


def test_a_page_that_is_cut_leaves_art_as_large_as_it_was(store):
    told = card(width={"value": 50, "unit": "%"}, fill=GRADIENT, rim=px(4), outlined="outside")
    before = piece(mark(told, 210, 150) | {"id": "card"}, size=SIZE)
    after = apply(before, [{"op": "trim_piece", "bottom": 100}, {"op": "trim_piece", "left": 40}])
    np.testing.assert_array_equal(drawn(after, store)[:300, 40:], drawn(before, store))
