"""Wear cuts and never thins what it leaves: textures of two tones, lumps of one tone, strengths
below 100 %.
"""

import numpy as np
import pytest
from scipy import ndimage

from kilncore import engine
from kilncore.document import load
from kilncore.engine.solved import solved_wear
from kilncore.prep.base import Copy
from kilncore.prep.cut_tones import CutTones, cut, two_tone
from kilncore.prep.texture_ref import TextureRef
from kilncore.prep.tone_counts import tone_counts
from kilncore.solve.tones import BINS, Tones
from tests.documents import lettering, mark, piece, step
from tests.pictures import png


def blotches(rng, size=(500, 700)):
    """0..1, evenly spread: photographs of rock have such specks."""
    field = ndimage.gaussian_filter(rng.standard_normal(size), 3, mode="wrap")
    ranks = np.argsort(np.argsort(field.ravel())).reshape(size)
    return ranks / ranks.max()


def stored(store, tones) -> dict:
    return {"hash": store.keep(png(np.rint(255 * tones).astype(np.uint8))), "edges": "repeat"}


@pytest.fixture
def black_specks(store, rng):
    """5 % of it black, antialiased, nothing between."""
    return stored(store, ndimage.gaussian_filter((blotches(rng) > 0.05).astype(float), 0.6))


def worn(texture=None, strength=1.0, **wear):
    treatment = [step("wear", strength=strength, texture=texture, **wear)] if texture else []
    words = mark(lettering("Gull", 200), 350, 250, treatment)
    return piece(words, ground={"kind": "none"}, size=(700, 500))


def kept(document, store):
    """What each pixel of the solid mark keeps."""
    bare = engine.exact(worn(), assets=store)[..., 3]
    return engine.exact(document, assets=store)[..., 3][bare > 0.999]


def solved(document, store):
    return solved_wear(document, document.stack[0].treatment[0], store)


@pytest.mark.parametrize("share", [0.02, 0.08, 0.12])
def test_specks_of_two_tones_are_grown_or_shrunk(store, black_specks, share):
    """The share is met, and what is left is whole but for edges of specks; asked of it before, 95 %
    of the mark came to lie between the points.
    """
    document = worn(black_specks, aim=True, share=share, contrast=0.15)
    left, found = kept(document, store), solved(document, store)
    assert 1 - left.mean() == pytest.approx(share, abs=0.006)
    assert found.met and np.sign(found.grown_px) == np.sign(share - 0.05)
    assert ((left > 0.05) & (left < 0.95)).mean() < 0.12
    assert "specks" in found.how


def test_specks_are_grown_by_the_distance_that_is_told():
    """A disc of 20 px radius, grown: its area is that of the larger disc."""
    y, x = np.mgrid[:400, :400]
    disc = np.clip(np.hypot(x - 200, y - 200) - 20 + 0.5, 0, 1)
    planes = np.rint(255 * disc).astype(np.uint8)[None]
    tones = CutTones().prepared(planes, Copy(wraps=True))[0] / 65535
    for by in (-2.0, 1.0, 2.5):
        inside = (tones < 0.5 + by / 6).sum()
        assert np.sqrt(inside / np.pi) == pytest.approx(20 + by, abs=0.1)


def test_a_share_beyond_what_specks_can_give_takes_what_it_can_and_says_so(store, black_specks):
    document = worn(black_specks, aim=True, share=0.6)
    left, found = kept(document, store), solved(document, store)
    assert not found.met and found.grown_px == pytest.approx(3, abs=0.3)
    assert 1 - left.mean() == pytest.approx(found.taken, abs=0.006)  # reading and aim agree
    assert ((left > 0.05) & (left < 0.95)).mean() < 0.2


@pytest.mark.parametrize(
    "operation",
    [
        {"kind": "two-tone", "share": 0.05, "contrast": 0.05},
        {"kind": "threshold", "automatic": False, "at": 0.05},
        {"kind": "ramp", "pins": [{"at": 0.04, "shown": 0}, {"at": 0.08, "shown": 1}]},
    ],
)
def test_tones_from_before_a_two_tone_operation_are_cut(store, rng, operation):
    """More of the same wear: as if the operation's own share had been the aim's."""
    grey = blotches(rng)
    texture = stored(store, grey) | {"chain": [operation, {"kind": "invert"}]}
    document = worn(texture, aim=True, share=0.15, invert=True)
    left, found = kept(document, store), solved(document, store)
    assert found.met and found.deeper and 1 - left.mean() == pytest.approx(0.15, abs=0.006)
    plain = worn(stored(store, grey), aim=True, share=0.15, contrast=0.04)
    assert np.corrcoef(left, kept(plain, store))[0, 1] > 0.97


def test_what_comes_after_and_changes_form_is_kept():
    ref = TextureRef.model_validate(
        {
            "hash": "0" * 64,
            "chain": [{"kind": one} for one in ("blur", "two-tone", "specks", "crop", "flip")],
        }
    )
    assert [one.kind for one in cut(ref).chain] == ["blur", "crop", "flip", "cut-tones"]


def test_which_textures_have_two_tones(rng):
    counted = lambda tones: tone_counts(tones.astype(np.float32)[None])  # noqa: E731
    assert two_tone(counted((blotches(rng) > 0.05).astype(float)))
    assert two_tone(counted(ndimage.gaussian_filter((blotches(rng) > 0.3).astype(float), 0.6)))
    assert not two_tone(counted(blotches(rng)))
    assert not two_tone(counted(0.5 + 0.02 * rng.standard_normal((300, 300))))
    assert not two_tone(counted(0.5 + 0.1 * (blotches(rng) > 0.4)))  # two, hardly apart


def tones_of(values) -> Tones:
    at = np.rint(np.clip(values, 0, 1) * (BINS - 1)).astype(int)
    counts = np.bincount(at, minlength=BINS)[None].astype(np.float32)
    return Tones(np.array([0]), counts, np.array([float(len(values))]), np.array([0.0]))


@pytest.mark.parametrize("share", [0.05, 0.15, 0.4])
@pytest.mark.parametrize("spread", [0.02, 0.06, 0.3])
def test_softness_is_held_to_edges(rng, spread, share):
    tones = tones_of(0.5 + spread * rng.standard_normal(100_000))
    black, white = tones.points(share, 0.3)
    assert tones.taken(black, white) == pytest.approx(share, abs=0.002)
    assert tones._thinned(black, white) <= 0.15 + share + 0.01


def test_a_lump_of_one_tone_is_never_parted(rng):
    """A scan whose whites are clipped: 60 % of it is one white."""
    values = np.minimum(rng.normal(1.05, 0.2, 100_000), 1)
    tones = tones_of(values)
    lump = (values == 1).mean()
    for share in (0.1, 0.3, 0.6, 0.7):
        black, white = tones.points(share, 0.2)
        hidden = 1 - np.clip((1 - black) / (white - black), 0, 1)
        assert hidden < 0.01, (share, lump)
        assert tones.taken(black, white) <= 1 - lump + 0.01


@pytest.mark.parametrize("invert", [False, True])
def test_less_deep_takes_its_share_where_the_texture_is_darkest(store, rng, invert):
    grey = stored(store, blotches(rng))
    wear = {"aim": True, "share": 0.3, "contrast": 0.06, "invert": invert}
    thin, deep = (kept(worn(grey, 0.6, weaker=how, **wear), store) for how in ("thinner", "deep"))
    assert 1 - thin.mean() == pytest.approx(0.18, abs=0.005)
    assert 1 - deep.mean() == pytest.approx(0.18, abs=0.005)
    assert thin.min() == pytest.approx(0.4, abs=0.01)  # one grey everywhere
    assert deep.min() < 0.05  # open
    same = kept(worn(grey, 1.0, weaker="deep", **wear), store)
    assert np.array_equal(same, kept(worn(grey, 1.0, weaker="thinner", **wear), store))


def test_less_deep_in_drafts_and_of_points_that_are_set_by_hand(store, rng):
    grey = stored(store, blotches(rng))
    document = worn(grey, 0.5, weaker="deep", black=0.2, white=0.3)
    full, half = (
        1 - kept(one, store).mean() for one in (worn(grey, black=0.2, white=0.3), document)
    )
    assert half == pytest.approx(full / 2, abs=0.003)
    draft = engine.render(document, scale=0.5, assets=store)[..., 3].mean()
    assert draft == pytest.approx(engine.exact(document, assets=store)[..., 3].mean(), rel=0.01)
    told = load(document.model_dump(mode="json"))
    assert told.stack[0].treatment[0].params.weaker == "deep"
