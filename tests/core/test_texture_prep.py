"""Operations that prepare textures, against other libraries and against what is known of what they
are given.
"""

import cv2
import numpy as np
import pytest
from scipy import ndimage

from kilncore.errors import KilnError
from kilncore.measure import coarseness, evenness, seam
from kilncore.prep import OPERATIONS
from kilncore.prep.base import TEXTURE, Copy
from kilncore.prep.chain import in_use, prepared, size_of
from kilncore.prep.clean import Clean
from kilncore.prep.grow import disc
from kilncore.prep.ramp import smooth
from kilncore.prep.tone_counts import tone_counts
from kilncore.solve.points import black_point, otsu, taken
from kilncore.textures.prep import apply, chain_of


def op(kind, **settings):
    return {"kind": kind, **settings}


@pytest.fixture
def grey(rng):
    return rng.random((150, 190)).astype(np.float32)


@pytest.fixture
def colour(rng):
    return rng.random((150, 190, 3)).astype(np.float32)


@pytest.fixture
def mottled(rng):
    """Soft specks on an even ground."""
    found = ndimage.gaussian_filter(rng.random((400, 500)), 3, mode="wrap")
    return ((found - found.min()) / np.ptp(found)).astype(np.float32)


def apart(one, other):
    return float(np.abs(np.asarray(one, float) - other).max())


# --- against SciPy and OpenCV ---


@pytest.mark.parametrize("sigma", [0.8, 3.0])
@pytest.mark.parametrize("wraps, mode", [(False, "reflect"), (True, "wrap")])
def test_blur_is_scipys(grey, sigma, wraps, mode):
    found = apply(grey, [op("blur", sigma_px=sigma)], wraps)
    assert apart(found, ndimage.gaussian_filter(grey.astype(float), sigma, mode=mode)) < 1e-5


def test_a_wide_blur_is_scipys_within_what_its_smaller_grid_costs(grey):
    found = apply(grey, [op("blur", sigma_px=20)])
    assert apart(found, ndimage.gaussian_filter(grey.astype(float), 20, mode="reflect")) < 3e-3


def test_sharpen_adds_what_a_blur_takes_away(grey):
    soft = ndimage.gaussian_filter(grey.astype(float), 1.5, mode="reflect")
    found = apply(grey * 0.5 + 0.25, [op("sharpen", amount=0.4, radius_px=1.5)])
    wanted = (grey + 0.4 * (grey - soft)) * 0.5 + 0.25
    assert apart(found, wanted) < 1e-5


@pytest.mark.parametrize("by, work", [(3, ndimage.grey_erosion), (-2, ndimage.grey_dilation)])
def test_growing_the_darks_is_grey_morphology_by_a_disc(grey, by, work):
    assert apart(apply(grey, [op("grow", by_px=by)]), work(grey, footprint=disc(abs(by)))) == 0


def test_part_of_a_px_grows_by_part_of_the_difference(grey):
    one, two = (apply(grey, [op("grow", by_px=by)]) for by in (1, 2))
    assert apart(apply(grey, [op("grow", by_px=1.25)]), one + 0.25 * (two - one)) < 0.5
    shrunk = apply(grey, [op("grow", by_px=1.25)])
    assert (two <= shrunk + 1e-6).all() and (shrunk <= one + 1e-6).all()


def test_relief_is_the_slope_towards_the_light_and_flat_is_half(grey):
    """Source: directional derivative by central differences."""
    found = apply(grey * 0.2, [op("relief", angle_deg=0, height_px=1, smooth_px=0)])
    slope = ndimage.correlate1d(grey * 0.2, [0.5, 0, -0.5], axis=1, mode="reflect")
    assert apart(found, 0.5 + slope) < 1e-6
    above = apply(grey * 0.2, [op("relief", angle_deg=90, height_px=1, smooth_px=0)])
    down = ndimage.correlate1d(grey * 0.2, [-0.5, 0, 0.5], axis=0, mode="reflect")
    assert apart(above, 0.5 + down) < 1e-6
    flat = apply(np.full((40, 50), 0.37), [op("relief", height_px=9)])
    assert (flat == 0.5).all()  # exactly (common practice: overlay leaves 50 % grey alone)


@pytest.mark.parametrize("cell", [5, 10])
def test_pixelate_is_the_mean_of_each_cell(rng, cell):
    given = rng.random((100, 120)).astype(np.float32)
    size = (120 // cell, 100 // cell)
    small = cv2.resize(given, size, interpolation=cv2.INTER_AREA)
    wanted = np.kron(small, np.ones((cell, cell)))
    assert apart(apply(given, [op("pixelate", cell_px=cell)]), wanted) < 1e-6


def test_pixelating_noise_makes_its_grain_as_wide(rng):
    """Common practice: pixelated by n, its grain is n px wide."""
    found = apply(rng.random((400, 400)), [op("pixelate", cell_px=10)])
    assert (np.diff(found, axis=1)[:, :9] == 0).all()
    assert (np.abs(np.diff(found, axis=1)[:, 9]) > 0).mean() > 0.95


def test_threshold_starts_where_opencvs_otsu_does(mottled):
    two = np.where(mottled > 0.55, mottled * 0.3 + 0.6, mottled * 0.3 + 0.1)
    eight = np.rint(two * 255).astype(np.uint8)
    at, _ = cv2.threshold(eight, 0, 255, cv2.THRESH_BINARY + cv2.THRESH_OTSU)
    found = otsu(np.bincount(eight.ravel(), minlength=256)) * 255
    lower, upper = eight[eight <= at].max(), eight[eight > at].min()
    assert lower <= found <= upper  # any tone of the gap parts them alike
    made = apply(two.astype(np.float32), [op("threshold", soft=0)])
    assert apart(made, eight > at) == 0


def test_threshold_has_a_soft_edge():
    ramp = np.linspace(0, 1, 256, dtype=np.float32)[None].repeat(4, 0)
    found = apply(ramp, [op("threshold", automatic=False, at=0.5, soft=0.2)])[0]
    assert apart(found, np.clip((ramp[0] - 0.5) / 0.2 + 0.5, 0, 1)) < 1e-6


def test_specks_are_those_scipy_counts(rng):
    """Sizes are diameters of discs of their area; corners join specks."""
    soft = ndimage.gaussian_filter(rng.random((300, 360)), 2)
    given = (soft > np.quantile(soft, 0.2)).astype(np.float32)
    labels, count = ndimage.label(given < 0.5, np.ones((3, 3)))
    sizes = 2 * np.sqrt(ndimage.sum(given < 0.5, labels, range(count + 1)) / np.pi)
    for settings, keeps in (
        ({"way": "drop", "least_px": 8}, sizes >= 8),
        ({"way": "keep", "least_px": 5, "most_px": 12}, (sizes >= 5) & (sizes <= 12)),
    ):
        keeps[0] = False
        found = apply(given, [op("specks", **settings)])
        assert apart(found, np.where(keeps[labels], 0, 1)) == 0
        assert 0 < (found == 0).sum() < (given == 0).sum()


def test_holes_are_those_scipy_counts_and_their_corners_do_not_join(rng):
    soft = ndimage.gaussian_filter(rng.random((300, 360)), 2)
    given = (soft < np.quantile(soft, 0.1)).astype(np.float32)  # small light holes in black
    labels, count = ndimage.label(given > 0.5)
    sizes = 2 * np.sqrt(ndimage.sum(given > 0.5, labels, range(count + 1)) / np.pi)
    keeps = sizes >= 7
    keeps[0] = False
    found = apply(given, [op("specks", way="fill", least_px=7)])
    assert apart(found, keeps[labels]) == 0 and 0 < found.sum() < given.sum()


def test_a_speck_that_crosses_the_edge_of_a_repeating_texture_is_one():
    given = np.ones((60, 60), np.float32)
    given[20:30, :5] = given[20:30, 55:] = 0  # 10 x 10 px across the edge
    half = op("specks", way="drop", least_px=9)  # 10 x 10 is 11.3 px across, 10 x 5 only 8
    assert apart(apply(given, [half], wraps=True), given) == 0
    assert (apply(given, [half], wraps=False) == 1).all()


def test_a_dropped_speck_takes_its_fringe_along():
    y, x = np.mgrid[0:60, 0:60]
    soft = np.clip(np.hypot(x - 30, y - 30) - 3, 0, 1).astype(np.float32)
    soft = ndimage.gaussian_filter(soft, 1)
    assert (apply(soft, [op("specks", least_px=20)]) == 1).all()


def test_straighten_turns_as_scipy_does(mottled):
    found = apply(mottled, [op("straighten", angle_deg=7)])
    turned = ndimage.rotate(mottled.astype(float), -7, reshape=False, order=3, mode="reflect")
    top, left = (mottled.shape[n] - found.shape[n] for n in (0, 1))
    wanted = turned[top // 2 : top // 2 + found.shape[0], left // 2 : left // 2 + found.shape[1]]
    inner = (slice(20, -20), slice(20, -20))
    assert np.abs(found[inner] - wanted[inner]).mean() < 0.02  # half a px where sides are odd
    ratio = found.shape[1] / found.shape[0]
    assert abs(ratio - mottled.shape[1] / mottled.shape[0]) < 0.01


def test_mirror_turn_and_flip(grey):
    both = apply(grey, [op("mirror", across=True, down=True)])
    assert (both == both[::-1]).all() and (both == both[:, ::-1]).all()
    assert (both[:75, :95] == grey[:75, :95]).all() and seam(both) == (0, 0)
    turned = apply(grey, [op("turn", quarters="1")])
    assert (turned == np.rot90(grey, -1)).all()


# --- tones ---


def test_grey_weighs_channels_in_proportion(colour):
    found = apply(colour, [op("grey", red=1, green=0.5, blue=0.5)])
    assert apart(found, colour @ [0.5, 0.25, 0.25]) < 1e-6
    only = apply(colour, [op("grey", red=0, green=1, blue=0)])
    assert apart(only, colour[..., 1]) < 1e-6
    assert apart(apply(colour, [op("grey", red=0, green=0, blue=0)]), colour.mean(2)) < 1e-6


def test_what_is_see_through_counts_as_asked(rng):
    planes = np.zeros((4, 20, 20), np.uint8)
    planes[3, :, :10] = 255  # black ink on nothing
    for clear, wanted in (("white", 65535), ("black", 0)):
        (found,) = prepared(chain_of([op("grey", clear=clear)]), planes)
        assert (found[:, :10] == 0).all() and (found[:, 10:] == wanted).all()


def test_two_pins_are_levels_and_steps_posterise(grey):
    pins = [{"at": 0.2, "shown": 0}, {"at": 0.7, "shown": 1}]
    found = apply(grey, [op("ramp", pins=pins)])
    assert apart(found, np.clip((grey - 0.2) / 0.5, 0, 1)) < 1e-5
    three = [{"at": 0, "shown": 0}, {"at": 0.3, "shown": 0.5}, {"at": 0.7, "shown": 1}]
    assert set(np.unique(apply(grey, [op("ramp", pins=three, between="steps")]))) == {0, 0.5, 1}


def test_a_smooth_ramp_never_overshoots_and_meets_its_pins(rng):
    at = np.array([0.0, 0.2, 0.25, 0.8, 1.0])
    for _ in range(20):
        shown = rng.random(5)
        tones = np.linspace(0, 1, 2001)
        found = smooth(tones, at, shown)
        assert found.min() >= shown.min() - 1e-6 and found.max() <= shown.max() + 1e-6
        assert apart(smooth(at, at, shown), shown) < 1e-3
        for n in range(4):  # monotone between each two
            part = np.diff(found[(tones >= at[n]) & (tones <= at[n + 1])])
            assert (part >= -1e-9).all() or (part <= 1e-9).all()


def test_points_pulled_together_raise_contrast_and_meet_in_a_threshold(grey):
    """Common practice."""
    wide, close = (
        apply(grey, [op("ramp", pins=[{"at": 0.5 - w, "shown": 0}, {"at": 0.5 + w, "shown": 1}])])
        for w in (0.3, 0.05)
    )
    assert close.std() > wide.std() > grey.std()
    met = apply(grey, [op("ramp", pins=[{"at": 0.5, "shown": 0}, {"at": 0.5, "shown": 1}])])
    assert set(np.unique(met)) == {0, 1} and apart(met, grey >= 0.5) == 0


@pytest.mark.parametrize("share", [0.03, 0.12, 0.5, 0.9])
@pytest.mark.parametrize("contrast", [0.01, 0.15, 0.4])
def test_a_wanted_share_of_black_is_met_within_half_a_percent(mottled, share, contrast):
    found = apply(mottled, [op("two-tone", share=share, contrast=contrast)])
    assert abs(1 - found.mean(dtype=float) - share) < 0.005


def test_the_solved_point_is_the_one_that_trying_finds(mottled):
    counts = tone_counts(mottled[None])
    found = black_point(counts, 0.2, 0.25)
    tries = np.linspace(-0.25, 1, 2001)
    best = tries[np.argmin([abs(taken(counts, one, 0.25) - 0.2) for one in tries])]
    assert abs(found - best) < 1e-3
    kept = np.clip((mottled - found) / 0.25, 0, 1)
    assert abs(1 - kept.mean() - 0.2) < 0.001


def test_a_share_that_cannot_be_met_takes_the_nearest_and_says_so(rng):
    blocks = np.kron(rng.random((40, 40)) > 0.3, np.ones((5, 5))).astype(np.float32)
    black = 1 - blocks.mean()
    two_tone = chain_of([op("two-tone", share=0.12)])[0]
    found = apply(blocks, [two_tone])
    share = 1 - found.mean()
    assert min(abs(share), abs(share - black)) < 0.005 and set(np.unique(found)) <= {0, 1}
    notes = two_tone.notes(200, 200, tone_counts(blocks[None]))
    assert "cannot be met" in notes[1] and "nearest" in notes[1]


def test_no_contrast_and_all_black_are_said():
    flat = tone_counts(np.full((1, 50, 50), 0.4, np.float32))
    for kind in ("two-tone", "threshold"):
        assert any("contrast" in note for note in chain_of([op(kind)])[0].notes(50, 50, flat))
    pins = [{"at": 0.8, "shown": 0}, {"at": 0.9, "shown": 1}]
    assert "Nearly all lies below" in chain_of([op("ramp", pins=pins)])[0].notes(50, 50, flat)[1]


def test_invert_twice_is_nothing_and_once_swaps(grey):
    """Common practice: inverting swaps what is kept."""
    assert apart(apply(grey, [op("invert")]), 1 - grey) < 1e-6
    assert apart(apply(grey, [op("invert"), op("invert")]), grey) < 1e-6


def test_blurring_noise_before_a_threshold_gives_fewer_and_larger_specks(rng):
    """Common practice."""
    noise = rng.random((400, 400))
    sizes, counts = [], []
    for sigma in (1, 2.5, 6):
        specks = apply(
            noise, [op("blur", sigma_px=sigma), op("two-tone", share=0.3, contrast=0.01)]
        )
        sizes.append(coarseness(specks))
        counts.append(ndimage.label(specks < 0.5)[1])
    assert sizes[0] < sizes[1] < sizes[2] and counts[0] > counts[1] > counts[2]


def test_a_threshold_of_a_flat_area_is_flat_and_noise_before_it_is_not():
    """Common practice."""
    flat = np.full((100, 100), 0.6, np.float32)
    at = op("threshold", automatic=False, at=0.5, soft=0)
    assert np.ptp(apply(flat, [at])) == 0
    alive = apply(flat, [op("noise", amount=0.2), at])
    assert 0.2 < 1 - alive.mean() < 0.45  # a normal tail beyond half a spread: 31 %


def test_noise_has_its_spread_and_its_seed(grey):
    flat = np.full((300, 300), 0.5, np.float32)
    found = apply(flat, [op("noise", amount=0.1, seed=3)])
    assert abs(found.std() - 0.1) < 0.003 and abs(found.mean() - 0.5) < 0.002
    assert (found == apply(flat, [op("noise", amount=0.1, seed=3)])).all()
    assert (found != apply(flat, [op("noise", amount=0.1, seed=4)])).mean() > 0.9


# --- repairs ---


def test_flatten_gives_a_known_pattern_back_from_under_a_known_gradient(rng):
    pattern = 0.4 + 0.2 * (ndimage.gaussian_filter(rng.random((500, 700)), 2) > 0.5)
    x = np.linspace(0, 1, 700)
    for light in (0.45 + 0.55 * x, np.linspace(1, 0.5, 500)[:, None] + 0 * x):
        found = apply((pattern * light).astype(np.float32), [op("flatten")])
        error = found / found.mean() - pattern / pattern.mean()
        lit = pattern * light / (pattern * light).mean() - pattern / pattern.mean()
        assert np.sqrt(np.mean(error**2)) < 0.12 * np.sqrt(np.mean(lit**2))
        assert evenness(found) > 0.93 > 0.65 > evenness((pattern * light).astype(np.float32))


def test_even_contrast_gives_pale_parts_as_much(rng):
    given = 0.5 + (rng.random((400, 400)) - 0.5) * np.linspace(0.1, 0.8, 400)
    found = apply(given, [op("even-contrast", strength=1)])
    spreads = [found[:, part].std() for part in (slice(30, 110), slice(290, 370))]
    assert spreads[0] > 0.75 * spreads[1] and given[:, 30:110].std() < 0.5 * given[:, 290:370].std()


@pytest.mark.parametrize("way", ["bands", "speckle"])
def test_a_broken_tile_is_made_seamless(rng, way):
    whole = ndimage.gaussian_filter(rng.random((420, 520)), 1.5)
    whole = (whole - whole.min()) / np.ptp(whole)
    lit = (whole * np.linspace(0.6, 1, 520)).astype(np.float32)
    before = seam(lit)
    found = apply(lit, [op("seamless", way=way, overlap=0.2)])
    assert max(before) > 3 and max(seam(found)) < 1.3
    assert found.shape == tuple(
        reversed(size_of(chain_of([op("seamless", overlap=0.2)]), 520, 420))
    )
    strip = found[:, :100]  # where it was joined it is as lively as elsewhere
    assert 0.8 < np.diff(strip).std() / np.diff(found[:, 200:]).std() < 1.2


def test_a_seamless_texture_stays_so_through_what_wraps(mottled):
    chain = [op("seamless"), op("blur", sigma_px=2), op("grow", by_px=2), op("two-tone", share=0.4)]
    assert max(seam(apply(mottled[:350, :480], chain))) < 1.7


def patch(x, y, width=0.08, **more):
    return {"points": [[x, y], [x + 0.06, y + 0.02]], "width": width, **more}


def test_a_stain_is_cleaned_with_no_visible_join(rng):
    given = ndimage.gaussian_filter(rng.random((500, 600)), 1.2)
    given = (0.2 + 0.6 * (given - given.min()) / np.ptp(given)).astype(np.float32)
    clean = op("clean", patches=[patch(0.45, 0.5)])
    mask = chain_of([clean])[0].patches[0].mask(600, 500).astype(bool)
    stained = np.where(ndimage.binary_erosion(mask, iterations=4), given * 0.25, given)
    found = apply(stained.astype(np.float32), [clean])
    outside = ~ndimage.binary_dilation(mask, iterations=45)
    assert apart(found[outside], stained[outside]) < 1e-6
    assert abs(found[mask].mean() - given[~mask].mean()) < 0.03
    assert 0.75 < found[mask].std() / given[~mask].std() < 1.25
    edge = mask ^ ndimage.binary_erosion(mask)
    steps = [np.hypot(*np.gradient(one))[edge].mean() for one in (found, given)]
    assert steps[0] < 1.25 * steps[1]


def test_another_place_fills_it_differently_and_the_same_twice(mottled):
    first, again, other = (
        apply(mottled, [op("clean", patches=[patch(0.4, 0.4, another=n)])]) for n in (0, 0, 1)
    )
    assert (first == again).all() and (first != other).any()


def test_a_patch_larger_than_what_is_left_stays_and_is_said(mottled):
    huge = op("clean", patches=[{"points": [[0, 0.5], [1, 0.5]], "width": 0.5}])
    assert (apply(mottled, [huge]) == mottled).all()
    (note,) = chain_of([huge])[0].notes(500, 400, None)
    assert "larger than what is left" in note and "smaller" in note
    assert Clean().notes(500, 400, None) == ()


# --- all of them ---


TEXTURE_KINDS = [kind.name for kind in OPERATIONS.values() if TEXTURE in kind.serves]


@pytest.mark.parametrize("kind", TEXTURE_KINDS)
@pytest.mark.parametrize("shape", [(1, 40, 60), (3, 61, 33), (4, 17, 90)])
@pytest.mark.parametrize("dtype", [np.uint8, np.uint16])
def test_each_holds_its_bounds_its_size_and_its_input(kind, shape, dtype, rng):
    planes = rng.integers(0, np.iinfo(dtype).max, shape, dtype, endpoint=True)
    if shape[0] == 4:
        planes[:3] = np.minimum(planes[:3], planes[3])
    before, chain = planes.copy(), chain_of([op(kind)])
    for wraps in (False, True):
        found = prepared(chain, planes, 1.0, wraps)
        assert found.shape[:0:-1] == size_of(chain, shape[2], shape[1])
        assert found.dtype in (dtype, np.uint16) and len(found) in (1, shape[0])
        assert len(found) < 4 or (found[:3] <= found[3]).all()
    assert (planes == before).all()


@pytest.mark.parametrize("kind", TEXTURE_KINDS)
def test_each_tells_itself_and_works_on_the_smallest(kind):
    (made,) = chain_of([op(kind)])
    assert isinstance(made.told(), str)
    for size in ((2, 2), (3, 16)):
        found = apply(np.linspace(0, 1, size[0] * size[1]).reshape(size), [made])
        assert found.size and np.isfinite(found).all() and found.min() >= 0 and found.max() <= 1


def test_what_is_off_does_nothing(grey):
    chain = [op("invert", on=False), op("blur", on=False, sigma_px=9)]
    assert (apply(grey, chain) == grey).all() and in_use(chain_of(chain)) == ()


@pytest.mark.parametrize(
    "image, operations",
    [
        (np.zeros((4, 4, 2)), []),
        (np.zeros(9), []),
        (np.zeros((1, 9)), []),
        (np.zeros((9, 9)), [op("melt")]),
        (np.zeros((9, 9)), [op("blur", sigma_px=-1)]),
        (np.zeros((9, 9)), [op("blur", sigma_px=float("nan"))]),
        (np.zeros((9, 9)), [op("knock-out")]),
        (np.zeros((9, 9)), [op("ramp", pins=[{"at": 1, "shown": 0}, {"at": 0, "shown": 1}])]),
        (np.zeros((9, 9)), [op("specks", way="keep", least_px=9, most_px=3)]),
        (np.zeros((9, 9)), [op("invert")] * 21),
        (np.zeros((9, 9)), 7),
    ],
)
def test_what_does_not_fit_is_refused_in_words(image, operations):
    with pytest.raises(KilnError) as refused:
        apply(image, operations)
    assert refused.value.message


def test_a_copy_is_prepared_as_the_whole_is(mottled):
    """Sizes follow the copy: half the px, half the reach."""
    chain = chain_of([op("blur", sigma_px=6), op("grow", by_px=4)])
    whole = prepared(chain, mottled[None])
    half = cv2.resize(mottled, (250, 200), interpolation=cv2.INTER_AREA)[None]
    made = prepared(chain, half, 0.5)
    wanted = cv2.resize(whole[0], (250, 200), interpolation=cv2.INTER_AREA)
    assert np.abs(made[0] - wanted).mean() < 0.02
    assert Copy().unit == 1.0
