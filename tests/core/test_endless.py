"""A scan laid endlessly, beside the construction of its paper in plain NumPy."""

import math

import numpy as np
import pytest
from scipy import ndimage

from kilncore import edits, engine
from kilncore.errors import KilnError
from kilncore.measure import coarseness
from kilncore.measure.seams import seam
from kilncore.measure.structure import structure
from kilncore.prep.base import Copy
from kilncore.prep.components import components_of
from kilncore.prep.endless import Endless
from kilncore.prep.pieces import Grid, _blended, grid_of
from kilncore.textures import makers
from kilncore.textures.endless import endless, piece_size
from kilncore.textures.facts import facts_of
from tests.documents import piece
from tests.pictures import png

MOST_DIFFERENT = 0.03  # of a scan's mean and deviation


@pytest.fixture(scope="module")
def scans() -> dict[str, np.ndarray]:
    """(H, W, C) float32, 0..1."""
    made = {name: makers.make(name, 384, 384, 5) for name in ("grunge", "concrete", "paper")}
    return {
        name: np.moveaxis(planes, 0, 2).astype(np.float32) / 255 for name, planes in made.items()
    }


def _bits(i: int, j: int, seed: int) -> int:
    """`cell_hash` in whole numbers of Python."""
    h = (i * 0x8DA6B343 & 0xFFFFFFFF) ^ (j * 0xD8163841 & 0xFFFFFFFF) ^ seed
    h ^= h >> 16
    h = h * 0x7FEB352D & 0xFFFFFFFF
    h ^= h >> 15
    h = h * 0x846CA68B & 0xFFFFFFFF
    return h ^ (h >> 16)


def _by_the_paper(scores: np.ndarray, grid: Grid, seed: int) -> np.ndarray:
    """Heitz and Neyret 2018, sections 3 and 4, a pixel at a time: the triangle that it lies in, its
    barycentric coordinates, three fetches, and the blend that keeps the variance."""
    channels, tall, wide = scores.shape
    far_x, far_y = math.ceil(grid.across) + 1, math.ceil(grid.down) + 1
    out = np.empty((channels, grid.height, grid.width))
    for y, x in np.ndindex(grid.height, grid.width):
        place = np.array([x + 0.5 - grid.width / 2, y + 0.5 - grid.height / 2])
        v = place[1] / grid.down
        u = place[0] / grid.across - v / 2
        i, j = math.floor(u), math.floor(v)
        upper = u - i + v - j >= 1
        corners = (
            [(i + 1, j + 1), (i + 1, j), (i, j + 1)] if upper else [(i, j), (i + 1, j), (i, j + 1)]
        )
        matrix = np.array([[m for m, _ in corners], [n for _, n in corners], [1, 1, 1]], float)
        weights = np.linalg.solve(matrix, [u, v, 1]) ** 2
        total = np.zeros(channels)
        for (m, n), weight in zip(corners, weights, strict=True):
            line = (n + grid.lines // 2) % grid.lines - grid.lines // 2
            column = m + (n - line) // 2
            column = (column + grid.columns // 2) % grid.columns - grid.columns // 2
            corner = np.array([(m + n / 2) * grid.across, n * grid.down])
            room = max(wide - 2 * far_x, 1), max(tall - 2 * far_y, 1)
            left = far_x + _bits(column, line, seed) * room[0] // 2**32
            top = far_y + _bits(column, line, seed ^ 0x9E3779B9) * room[1] // 2**32
            across, down = np.floor(place - corner).astype(int)
            total += weight * scores[:, top + down, left + across]
        out[:, y, x] = total / np.sqrt((weights**2).sum()) / 8000
    return out


def test_pieces_lie_and_blend_as_the_paper_has_it(scans):
    made = components_of(np.moveaxis(scans["concrete"], 2, 0).copy())
    grid = grid_of(61, 44, 21.0)
    ours = _blended(made, grid, 77, 0, 44, 61)
    np.testing.assert_allclose(ours, _by_the_paper(made.scores, grid, 77), atol=2e-5)
    np.testing.assert_array_equal(_blended(made, grid, 77, 30, 14, 61), ours[:, 30:])


def test_scores_of_a_scan_are_normal(scans):
    """From memory: a normal distribution has 68.3 % within one deviation."""
    scores = components_of(np.moveaxis(scans["paper"], 2, 0).copy()).scores / 8000
    assert np.abs(scores.mean((1, 2))).max() < 0.01
    assert np.abs(scores.std((1, 2)) - 1).max() < 0.02
    assert abs((np.abs(scores[2]) < 1).mean() - 0.683) < 0.015  # 8 bits have steps
    assert np.abs(np.corrcoef(scores.reshape(3, -1)) - np.eye(3)).max() < 0.1


@pytest.mark.parametrize("name", ["grunge", "concrete", "paper"])
def test_tones_stay_as_they_were(scans, name):
    scan = scans[name]
    made = endless(scan, 700, 500, 3)
    assert made.shape == (500, 700, scan.shape[2]) and made.dtype == np.float32
    assert made.min() >= 0 and made.max() <= 1
    for of in (np.mean, np.std):
        before, after = of(scan, (0, 1)), of(made, (0, 1))
        assert (np.abs(after - before) <= MOST_DIFFERENT * before).all()
    places = np.linspace(0.001, 0.999, 33)  # the one darkest px need not be seen
    reached = [np.quantile(one[..., 0], places) for one in (scan, made)]
    assert np.abs(reached[0] - reached[1]).max() < 0.05


@pytest.mark.parametrize("name", ["grunge", "concrete"])
def test_its_edges_meet(scans, name):
    across, down = seam(endless(scans[name], 300, 420, 9))
    assert max(across, down) < 1.35


def test_nothing_is_seen_of_the_grid(scans):
    """The autocorrelation from corner to corner is that of places as far away in between."""
    side = 40.0
    grid = grid_of(800, 800, side)
    made = endless(scans["concrete"], 800, 800, 4, side)[..., 0]
    around = made - made.mean()
    spectrum = np.abs(np.fft.fft2(around)) ** 2
    together = np.fft.ifft2(spectrum).real / (spectrum.sum() / spectrum.size)
    corners = [together[0, round(n * grid.across)] for n in (2, 3, 4)]
    between = [together[0, round((n + 0.5) * grid.across)] for n in (2, 3, 4)]
    assert max(map(abs, (*corners, *between))) < 0.1
    assert abs(np.mean(corners) - np.mean(between)) < 0.03


def test_the_same_seed_gives_the_same_and_another_gives_another(scans):
    made = [endless(scans["paper"], 90, 70, seed) for seed in (1, 1, 2, 2**32 - 1, -1)]
    np.testing.assert_array_equal(made[0], made[1])
    assert np.abs(made[0] - made[2]).mean() > 0.002
    np.testing.assert_array_equal(made[3], made[4])


def test_pieces_are_as_large_as_what_is_on_them(scans):
    planes = np.moveaxis(scans["grunge"], 2, 0).copy()
    assert 40 < piece_size(planes) <= 128
    assert piece_size(np.zeros((1, 30, 400), np.float32)) == 10


@pytest.mark.parametrize("size", [(1, 1), (3, 5), (1, 40), (64, 2)])
@pytest.mark.parametrize("piece", [None, 0, 1e9, math.nan, -3])
def test_whatever_size_a_scan_has(size, piece):
    scan = np.random.default_rng(1).random((*size, 4)).astype(np.float32)
    scan[0, 0] = np.nan
    made = endless(scan, 33, 17, 5, piece)
    assert made.shape == (17, 33, 4) and np.isfinite(made).all()


@pytest.mark.parametrize(
    "image, size",
    [
        (np.zeros((4, 4)), (9, 9)),
        (np.zeros((0, 4, 1)), (9, 9)),
        (np.zeros((4, 4, 1)), (0, 9)),
        (np.zeros((4, 4, 1)), (9, 40_000)),
    ],
)
def test_what_cannot_be_laid_is_refused(image, size):
    with pytest.raises(ValueError):
        endless(image, *size)


def test_laid_as_a_preparation_its_tones_stay_and_it_repeats(scans):
    planes = np.rint(np.moveaxis(scans["concrete"], 2, 0) * 255).astype(np.uint8)
    made = Endless(times=2.5, piece=60).prepared(planes, Copy())
    assert made.shape == (len(planes), 960, 960) and made.dtype == np.uint16
    for of in (np.mean, np.std):
        before, after = of(planes / 255, (1, 2)), of(made / 65535, (1, 2))
        assert (np.abs(after - before) <= MOST_DIFFERENT * before).all()
    assert max(seam(np.moveaxis(made / np.float32(65535), 0, 2))) < 1.35
    assert Endless().wraps_after(False) and "3 times" in Endless().told()


def test_a_draft_lies_as_the_finished_one(scans):
    planes = np.rint(np.moveaxis(scans["concrete"], 2, 0) * 255).astype(np.uint8)[:, :381]
    laid = Endless(times=2, piece=70)
    made = laid.prepared(planes, Copy()) / 65535
    small = np.stack([_halved(plane / np.float32(255)) for plane in planes])
    draft = laid.prepared(small, Copy(0.5, False, (384, 381)))
    # its pieces lie where they do in the finished one; sand of 2 to 4 px is another after halving
    seen = [ndimage.gaussian_filter(one, 1.5) for one in (_halved(made[0])[:381, :384], draft[0])]
    beside = np.corrcoef(*(one[:381, :384].ravel() for one in seen))[0, 1]
    assert draft.shape == (3, 381, 384) and beside > 0.95


def _halved(plane: np.ndarray) -> np.ndarray:
    tall, wide = (side // 2 * 2 for side in plane.shape)
    return plane[:tall, :wide].reshape(tall // 2, 2, wide // 2, 2).mean((1, 3))


@pytest.mark.parametrize("seed", [2, 5, 7])
def test_two_tones_stay_two_and_their_specks_as_large(seed):
    """Of specks that are strewn evenly; patches larger than a piece are not held to their size."""
    grey = makers.make("grunge", 384, 384, seed, patches=0)[0] / 255
    soft = ndimage.gaussian_filter(grey, 3)
    planes = np.where(soft > np.quantile(soft, 0.6), 255, 0).astype(np.uint8)[None]
    made = Endless(times=2, piece=100).prepared(planes, Copy())[0] / 65535
    assert set(np.unique(made)) == {0.0, 1.0}
    assert abs(made.mean() - planes.mean() / 255) < 0.01
    assert coarseness(made) == pytest.approx(coarseness(planes[0] / 255), rel=0.25)


@pytest.mark.parametrize(
    "settings, size, wanted",
    [
        ({"times": 3}, (500, 400), (1500, 1200)),
        ({"times": 20}, (2048, 1024), (8192, 4096)),
        ({"times": 20}, (4000, 4000), (6325, 6325)),
        ({"times": 1}, (9000, 9000), (9000, 9000)),
    ],
)
def test_how_large_it_becomes(settings, size, wanted):
    assert Endless(**settings).size(*size) == wanted


@pytest.mark.parametrize("shape", [(1, 1, 1), (4, 3, 90), (3, 2, 2), (1, 200, 3)])
def test_whatever_is_laid_is_held_to_its_alpha(shape, rng):
    planes = rng.integers(0, 255, shape, np.uint8)
    if shape[0] == 4:
        planes[:3] = np.minimum(planes[:3], planes[3])
    made = Endless(times=2, piece=500).prepared(planes, Copy(wraps=True))
    assert made.shape == (shape[0], 2 * shape[1], 2 * shape[2])
    assert shape[0] < 4 or (made[:3] <= made[3]).all()


def test_boards_are_longer_than_a_piece_and_specks_are_not(scans):
    boards = makers.make("planks", 700, 700, 2)
    assert not facts_of(boards).suits_endless
    for scan in scans.values():
        told = facts_of(np.rint(np.moveaxis(scan, 2, 0) * 255).astype(np.uint8))
        assert told.suits_endless and 8 <= told.piece_px <= 128
    checked = (np.indices((300, 300)) // 30).sum(0) % 2
    assert structure(checked.astype(np.float32), 40) > 0.95
    assert structure(np.full((50, 50), 0.5, np.float32), 9) == 0


@pytest.mark.parametrize("beyond", ["repeat", "mirror", "none"])
def test_what_lies_beyond_a_texture_is_set_with_what_prepares_it(store, scans, beyond):
    name = store.keep(png(np.rint(255 * scans["grunge"][..., 0]).astype(np.uint8)))
    texture = {"hash": name, "edges": "none", "chain": [{"kind": "grey"}, {"kind": "two-tone"}]}
    before = piece(ground={"kind": "texture", "texture": texture}, size=(900, 900))
    path = ["ground", "fill", "texture"]
    laid = edits.apply(
        before,
        [{"op": "set_edges", "path": path, "edges": "endless", "times": 4, "piece": 90}],
    )
    found = laid.ground.fill.texture
    assert [one.kind for one in found.chain] == ["grey", "endless", "two-tone"]
    assert (found.edges, found.chain[1].times, found.chain[1].piece) == ("repeat", 4, 90)
    again = edits.apply(laid, [{"op": "set_edges", "path": path, "edges": beyond}])
    assert [one.kind for one in again.ground.fill.texture.chain] == ["grey", "two-tone"]
    assert again.ground.fill.texture.edges == beyond
    drawn = engine.render(laid, assets=store)
    assert drawn[..., 0].std() > 0.2 and drawn[..., 3].min() == 1


@pytest.mark.parametrize(
    "path, told",
    [
        (["ground"], {"edges": "endless"}),
        (["ground", "fill", "texture"], {"edges": "sideways"}),
        (["ground", "fill", "texture"], {"edges": "endless", "times": 1e9}),
        (["ground", "fill", "texture"], {"edges": "endless", "piece": "much"}),
    ],
)
def test_what_cannot_lie_beyond_is_refused(store, path, told):
    name = store.keep(png(np.zeros((9, 9), np.uint8)))
    before = piece(ground={"kind": "texture", "texture": {"hash": name}}, size=(90, 90))
    with pytest.raises(KilnError):
        edits.apply(before, [{"op": "set_edges", "path": path, **told}])


@pytest.mark.parametrize("chain", [[{"kind": "nope"}], [3], [{}], "x", None])
def test_after_nonsense_in_the_same_change_it_is_refused_in_words(store, chain):
    name, path = store.keep(png(np.zeros((9, 9), np.uint8))), ["ground", "fill", "texture"]
    before = piece(ground={"kind": "texture", "texture": {"hash": name}}, size=(90, 90))
    nonsense = {"op": "set", "path": [*path, "chain"], "value": chain}
    for way in (path, [*path, "hash"], ["ppi"], []):
        with pytest.raises(KilnError):
            edits.apply(before, [nonsense, {"op": "set_edges", "path": way, "edges": "endless"}])
