"""What a wear spares, and how it leans: on fired pixels, against what is worked out plainly."""

import numpy as np
import pytest
from scipy import ndimage

from kilncore import engine
from kilncore.engine.plans import plan_of
from kilncore.engine.solved import solved_wear
from kilncore.layout.layout import Layout
from kilncore.steps import STEPS
from tests.documents import lettering, mark, piece, px, step
from tests.pictures import png

SIZE = (900, 420)


@pytest.fixture
def mottled(store, rng):
    soft = ndimage.gaussian_filter(rng.random((500, 700)), 3, mode="wrap")
    soft = (soft - soft.min()) / np.ptp(soft)
    return {"hash": store.keep(png(np.rint(soft * 255).astype(np.uint8)))}


@pytest.fixture
def uneven(store, rng):
    """Dark on the left: letters there would lose nearly all."""
    soft = ndimage.gaussian_filter(rng.random((420, 900)), 3, mode="wrap")
    soft = (soft - soft.min()) / np.ptp(soft)
    tones = 0.45 * soft + 0.55 * np.clip(np.linspace(-0.4, 1.2, 900), 0, 1)
    return {"hash": store.keep(png(np.rint(tones * 255).astype(np.uint8)))}


def worn(texture=None, size=SIZE, text="GULLS", **wear):
    treatment = [step("wear", texture=texture, aim=True, **wear)] if texture else []
    words = mark(lettering(text, 220), size[0] / 2, size[1] / 2, treatment)
    return piece(words, ground={"kind": "none"}, size=size)


def alpha(document, store):
    return engine.exact(document, assets=store)[..., 3]


def lost(document, store, text="GULLS"):
    """(bare coverage, what each pixel of it keeps, the share that goes)."""
    bare = alpha(worn(text=text), store)
    left = alpha(document, store)
    kept = np.where(bare > 0.99, left / np.maximum(bare, 0.5), np.nan)
    return bare, kept, 1 - left.sum(dtype=float) / bare.sum(dtype=float)


MORE = [
    {"bias": 0.8},
    {"bias": -0.6, "invert": True},
    {"least_stroke": px(14)},
    {"thin": 1.0},
    {"specks": 0.5},
    {"specks": -0.7},
    {"least_part": 0.75},
    {"region": {"width": px(300), "height": px(200)}},
    {"bias": 0.5, "least_stroke": px(8), "least_part": 0.7, "specks": 0.3},
    {"rides": "ground", "bias": 0.4},
]


@pytest.mark.parametrize("more", MORE)
def test_the_share_holds_whatever_else_is_asked(store, mottled, more):
    document = worn(mottled, share=0.2, **more)
    assert lost(document, store)[2] == pytest.approx(0.2, abs=0.005)
    told = solved_wear(document, document.stack[0].treatment[0], store)
    assert told.met and told.taken == pytest.approx(0.2, abs=0.004)


@pytest.mark.parametrize("more", MORE)
def test_drafts_take_about_as_much(store, mottled, more):
    document = worn(mottled, share=0.2, **more)
    left, bare = (
        engine.render(one, scale=0.4, assets=store)[..., 3].sum(dtype=float)
        for one in (document, worn())
    )
    assert 1 - left / bare == pytest.approx(0.2, abs=0.02)


@pytest.mark.parametrize("more", MORE)
def test_a_crop_alone_is_that_crop_of_the_whole(store, mottled, more):
    document = worn(mottled, share=0.2, **more)
    whole = engine.exact(document, assets=store)
    part = engine.exact(document, region=(310, 90, 200, 230), assets=store)
    assert np.array_equal(part, whole[90:320, 310:510])


def test_edges_wear_more_or_the_middle_does(store, mottled):
    """By how deep a pixel lies, as SciPy's exact distance tells it."""
    takes = {}
    for bias in (-0.8, 0.0, 0.8):
        bare, kept, _ = lost(worn(mottled, share=0.2, bias=bias), store)
        deep = ndimage.distance_transform_edt(bare > 0.5)
        rim, core = (deep > 2) & (deep < 8), deep > 20
        takes[bias] = np.nanmean(1 - kept[rim]), np.nanmean(1 - kept[core])
    assert takes[0.8][0] > 3 * takes[0.8][1]
    assert takes[-0.8][1] > 3 * takes[-0.8][0]
    assert takes[0.0][0] == pytest.approx(takes[0.0][1], rel=0.4)


def test_bias_against_brute_force(store, mottled):
    """All black points tried, on tones shifted as written in docs/engine.md."""
    document = worn(mottled, share=0.2, bias=0.6, contrast=0.2)
    bare = alpha(worn(), store).astype(float)
    kept = alpha(document, store) / np.maximum(bare, 1e-6)
    deep = np.maximum(ndimage.distance_transform_edt(bare >= 0.5) - 0.5, 0)
    black = solved_wear(document, document.stack[0].treatment[0], store).black
    (wear,) = document.stack[0].treatment  # by its own tones, which it then tells
    told = wear.params.model_copy(update={"aim": False, "bias": 0.0, "black": 0.0, "white": 1.0})
    mark_ = document.stack[0]
    treatment = (wear.model_copy(update={"params": told}),)
    plain = document.model_copy(
        update={"stack": (mark_.model_copy(update={"treatment": treatment}),)}
    )
    tone_black = 0.0
    tones = alpha(plain, store) / np.maximum(bare, 1e-6) + tone_black
    inside = (bare > 0.999) & (tones > tone_black + 0.01) & (tones < tone_black + 0.99)
    # half the stroke of most of the mark, found from the exact distance alone
    fits = [typical for typical in np.arange(10, 60, 0.5)]

    def made(typical):
        return np.clip((tones + 0.6 * (np.clip(deep / typical, 0, 1) - 0.5) - black) / 0.2, 0, 1)

    errors = [np.abs(made(one) - kept)[inside].mean() for one in fits]
    assert min(errors) < 0.01


@pytest.mark.parametrize("invert", [False, True])
@pytest.mark.parametrize("share", [0.3, 0.6])
def test_every_stroke_keeps_its_least_width(store, rng, share, invert):
    """A floor outranks the share: bars of 30 and 60 px under bands that cut them right through."""
    bands = ndimage.gaussian_filter(rng.random((500, 700)), (6, 40), mode="wrap")
    bands = (bands - bands.min()) / np.ptp(bands)
    texture = {"hash": store.keep(png(np.rint(bands * 255).astype(np.uint8)))}
    bars = np.zeros((300, 400), np.uint8)
    bars[40:260, 60:90], bars[40:260, 200:260] = 255, 255
    rgba = np.dstack([bars * 0, bars * 0, bars * 0, bars])
    art = {"kind": "picture", "hash": store.keep(png(rgba)), "width": 400, "height": 300}

    def widths(**more):
        settings = {"texture": texture, "aim": True, "share": share, "contrast": 0.05}
        wear = step("wear", invert=invert, **settings, **more)
        document = piece(mark(art, 200, 150, [wear]), ground={"kind": "none"}, size=(400, 300))
        left = engine.exact(document, assets=store)[..., 3]
        across = [left[75:225, 55:95].sum(1), left[100:200, 195:265].sum(1)]
        return min(one.min() for one in across), 1 - left.sum() / (220 * 90)

    (free, _), (held, taken) = widths(), widths(least_stroke=px(10))
    assert free < 2 and held > 9.5
    assert taken == pytest.approx(share, abs=0.005)  # taken elsewhere


def test_no_letter_keeps_less_than_its_floor(store, uneven):
    def keeps(**more):
        bare, _, share = lost(worn(uneven, share=0.3, contrast=0.3, **more), store)
        left = alpha(worn(uneven, share=0.3, contrast=0.3, **more), store)
        labels, count = ndimage.label(bare > 0.5, np.ones((3, 3)))
        near = ndimage.distance_transform_edt(labels == 0, return_indices=True)[1]
        labels = labels[tuple(near)]
        had = ndimage.sum(bare, labels, range(1, count + 1))
        return ndimage.sum(left, labels, range(1, count + 1)) / had, share

    free, _ = keeps()
    floored, share = keeps(least_part=0.6)
    assert free.min() < 0.5 and floored.min() > 0.595
    assert share == pytest.approx(0.3, abs=0.005)  # the others make up for it
    most, share = keeps(least_part=0.9)
    assert most.min() > 0.895 and share < 0.11  # all that the floor leaves


def test_an_aim_that_floors_forbid_is_told(store, mottled):
    document = worn(mottled, share=0.5, least_part=0.8)
    told = solved_wear(document, document.stack[0].treatment[0], store)
    assert not told.met and told.taken == pytest.approx(0.2, abs=0.01)
    assert lost(document, store)[2] == pytest.approx(told.taken, abs=0.005)


def test_a_region_is_spared(store, mottled):
    """A rectangle around the mark's own origin; docs/engine.md: that of its first baseline."""
    region = {"shape": "rectangle", "x": px(80), "y": px(-60), "width": px(160), "height": px(100)}
    document = worn(mottled, share=0.2, region=region)
    bare, kept, _ = lost(document, store)
    frame = Layout(document).frame(document.stack[0])
    left, top = round(frame.x), round(frame.y - 110)
    inside = kept[top + 2 : top + 98, left + 2 : left + 158]
    assert np.nanmin(inside) > 0.999 and np.isfinite(inside).sum() > 2000
    half, _, _ = lost(worn(mottled, share=0.2, region=region, region_share=0.5), store), 0, 0
    some = half[1][top + 2 : top + 98, left + 2 : left + 158]
    assert 0.45 < np.nanmin(some) < 0.55


def test_thin_strokes_are_spared(store, mottled):
    bars = np.zeros((300, 400), np.uint8)
    bars[40:260, 60:70], bars[40:260, 150:230], bars[40:260, 260:340] = 255, 255, 255
    name = store.keep(png(np.dstack([bars * 0] * 3 + [bars])))
    art = {"kind": "picture", "hash": name, "width": 400, "height": 300}
    wear = step("wear", texture=mottled, aim=True, share=0.3, thin=1.0)
    document = piece(mark(art, 200, 150, [wear]), ground={"kind": "none"}, size=(400, 300))
    left = engine.exact(document, assets=store)[..., 3]
    assert left[60:240, 61:69].min() > 0.99 and left[60:240, 160:220].mean() < 0.75


@pytest.mark.parametrize("amount", [0.6, 0.8, 1.0])
def test_larger_specks_are_fewer_and_larger(store, mottled, amount):
    """Common practice: blurring noise before a threshold gives fewer, larger specks."""

    def holes(specks):
        bare, kept, _ = lost(worn(mottled, share=0.2, contrast=0.05, specks=specks), store)
        gone = (bare > 0.99) & (kept < 0.5)
        return ndimage.label(gone)[1], gone.sum()

    (many, area), (few, same) = holes(0.0), holes(amount)
    assert few < 0.9 * many and same / few > area / many


def test_finer_specks_are_smaller(store, mottled):
    def size(specks):
        bare, kept, _ = lost(worn(mottled, share=0.2, contrast=0.05, specks=specks), store)
        gone = (bare > 0.99) & (kept < 0.5)
        labels, count = ndimage.label(gone)
        return np.max(ndimage.sum(gone, labels, range(1, count + 1)))

    assert size(-1.0) < size(0.0)


def test_what_stays_with_the_ground_does_not_move_with_the_mark(store, mottled):
    def left(rides, x):
        wear = step("wear", texture=mottled, black=0.5, white=0.55, rides=rides)
        words = mark(lettering("I", 300), x, 210, [wear])
        return engine.exact(piece(words, ground={"kind": "none"}, size=SIZE), assets=store)[..., 3]

    assert np.array_equal(left("mark", 300)[:, :860], left("mark", 340)[:, 40:])
    stays = [left("ground", x) for x in (300, 310)]
    both = (stays[0] > 0) & (stays[1] > 0) & (np.arange(SIZE[0]) > 300) & (np.arange(SIZE[0]) < 312)
    assert both.any() and np.allclose(stays[0][both], stays[1][both], atol=0.02)


def test_held_points_stay_when_words_change(store, mottled):
    before = worn(mottled, share=0.2)
    told = solved_wear(before, before.stack[0].treatment[0], store)
    held = {"black": told.black, "white": told.white}
    after = worn(mottled, share=0.2, held=held, text="GANNETS")
    again = solved_wear(after, after.stack[0].treatment[0], store)
    assert again.held and (again.black, again.white) == pytest.approx((told.black, told.white))
    assert lost(after, store, "GANNETS")[2] == pytest.approx(again.taken, abs=0.005)


@pytest.mark.parametrize("rim", [0.0, -0.6, 0.6])
def test_an_undercoat_shows_where_it_is_worn_and_its_rim_around(store, mottled, rim):
    more = {"share": 0.25, "contrast": 0.02}
    bare, kept, _ = lost(worn(mottled, **more), store)
    under = worn(mottled, under="colour", under_colour="#00ff00", rim=rim, rim_width=px(2), **more)
    found = engine.exact(under, assets=store)
    assert np.abs(found[..., 3] - bare).max() < 1e-3  # nothing is taken away
    gone, whole = kept < 0.01, ndimage.minimum_filter(np.nan_to_num(kept), 9) > 0.99
    assert np.abs(found[gone][:, :3] - [0, 1, 0]).max() < 0.02
    art = np.array([0xC0, 0x30, 0x20]) / 255
    assert np.abs(found[whole][:, :3] - art).max() < 0.02
    beside = (kept > 0.99) & ndimage.maximum_filter(np.nan_to_num(1 - kept, nan=0), 3).__ge__(0.99)
    darker = (found[beside][:, :3].mean() - art.mean()) * (rim or 1)
    assert darker > 0.02 if rim else abs(darker) < 0.02


def test_an_undercoat_of_a_texture(store, mottled, rng):
    pattern = np.zeros((64, 64, 3), np.uint8)
    pattern[:, :, 2] = 200
    under = {"hash": store.keep(png(pattern))}
    more = {"share": 0.25, "contrast": 0.02}
    _, kept, _ = lost(worn(mottled, **more), store)
    document = worn(mottled, under="texture", under_texture=under, rim=0.0, **more)
    found = engine.exact(document, assets=store)
    gone = kept < 0.01
    assert np.abs(found[gone][:, :3] - found[gone][0, :3]).max() < 0.02
    assert np.ptp(found[gone][0, :3]) > 0.7


def test_beyond_a_textures_end_all_may_go(store, mottled):
    ends = {**mottled, "edges": "none"}
    place = {"x": px(-450)}
    keeps = alpha(worn(ends, share=0.2, placement=place), store)
    hides = alpha(worn(ends, share=0.2, placement=place, hides=True), store)
    assert keeps[:, 700:].sum() > 1000 > 1 > hides[:, 700:].sum()


def test_on_a_large_piece_the_shape_is_told_smaller_and_all_still_holds(store, mottled):
    """12 MP: shapes at half their size; drafts, crops and fired pixels wear by the same."""
    more = {"bias": 0.6, "least_stroke": px(20), "least_part": 0.7}
    wear = [step("wear", texture=mottled, aim=True, share=0.2, **more)]
    bare, document = (
        piece(
            mark(lettering("HULL", 900), 2000, 1500, steps),
            ground={"kind": "none"},
            size=(4000, 3000),
        )
        for steps in ([], wear)
    )
    area = (300, 1000, 3400, 1000)
    whole, plain = (engine.exact(one, region=area, assets=store) for one in (document, bare))
    taken = 1 - whole[..., 3].sum(dtype=float) / plain[..., 3].sum(dtype=float)
    assert taken == pytest.approx(0.2, abs=0.005)
    part = engine.exact(document, region=(777, 1201, 500, 333), assets=store)
    assert np.array_equal(part, whole[201:534, 477:977])


def test_what_is_solved_from_outlines_stays_solved_while_colours_are_set(store, mottled):
    """Steps that change colours alone are in no key of it; what changes the outline is."""

    def key(lift, radius, share=0.2):
        treatment = [
            step("tones", lift=lift),
            step("coat", "screen", 0.5, texture=mottled),
            step("soften", radius=px(radius)),
            step("wear", texture=mottled, aim=True, share=share),
        ]
        words = mark(lettering("GULL", 160), 300, 150, treatment)
        document = piece(words, ground={"kind": "none"}, size=(600, 300))
        plan = plan_of(document, 1.0)
        wear = document.stack[0].treatment[-1]
        found = STEPS["wear"].planes(wear.params, plan.finished().sources[wear.id])["tones"].key
        left = engine.exact(document, assets=store)[..., 3].sum(dtype=float)
        return found, left

    assert key(0.0, 2)[0] == key(0.3, 2)[0] != key(0.0, 3)[0]
    (_, half), (_, most) = key(0.1, 2, 0.5), key(0.1, 2, 0.0)
    assert 1 - half / most == pytest.approx(0.5, abs=0.005)
