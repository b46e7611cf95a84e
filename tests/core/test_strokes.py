"""Touch-up at length: a thousand strokes, each as cheap as the first, in files that
never change.
"""

import json
import zlib

import numpy as np
import pytest

from kilncore import edits, engine
from kilncore.assets import Unsaved
from kilncore.document import dump, load
from kilncore.errors import KilnError
from kilncore.planes import strokes as touch
from kilncore.strokes import PACK, Stroke, covering, file_of, strokes_in
from kilncore.system.cache import ByteCache
from tests.documents import lettering, mark, piece

LANDING = ["stack", "gull", "landing"]


@pytest.fixture
def document():
    return piece({**mark(lettering("Gull", 200), 300, 200), "id": "gull"}, size=(640, 400))


def stroke(n, count=2, **more):
    return {
        "points": [
            [(n * 37 % 100) / 80 - 0.6 + k / 50, (n * 61 % 100) / 160 - 0.3] for k in range(count)
        ],
        "radius": 0.03,
        "back": n % 3 == 2,
        **more,
    }


def touched(document, store, numbers, count=2):
    for n in numbers:
        document = edits.apply(
            document, [{"op": "add_stroke", "path": LANDING, "stroke": stroke(n, count)}], store
        )
    return document


def drawn(document, store, cache=None, **more):
    return engine.render(
        document, assets=store, cache=cache or ByteCache(), **{"seen": None, **more}
    )


def test_a_stroke_becomes_a_file_that_says_what_it_was(store, document):
    after = touched(document, store, [4])
    (name,) = after.stack[0].landing.touch
    (found,) = strokes_in(store.data(name))
    asked = Stroke.model_validate(stroke(4))
    np.testing.assert_allclose(found.points, asked.points, atol=1 / 8192)
    assert (found.back, found.radius) == (asked.back, pytest.approx(asked.radius, abs=1 / 8192))
    assert touched(document, store, [4]).stack[0].landing.touch == (name,)


def test_a_thousand_strokes_stay_small_in_the_document_and_its_history(store, document):
    size, sizes = 0, []
    for n in range(1000):
        document = touched(document, store, [n])
        size += len(zlib.compress(dump(document).encode()))
        sizes.append(len(dump(document)))
    assert size < 20e6 and len(document.stack[0].landing.touch) < 100 and max(sizes) < 12_000
    assert sum(len(store.strokes(name)) for name in document.stack[0].landing.touch) == 1000


def test_the_thousandth_stroke_costs_what_the_first_did(store, document, monkeypatch):
    """Counted in strokes that are drawn for it, tile by tile."""
    played, replayed = [], touch._replayed
    monkeypatch.setattr(
        touch,
        "_replayed",
        lambda values, files, *more: played.extend(files) or replayed(values, files, *more),
    )
    document, cache = touched(document, store, range(10 * PACK)), ByteCache()
    drawn(document, store, cache)
    for n in range(3):
        played.clear()
        document = touched(document, store, [10 * PACK + n])
        drawn(document, store, cache, tile=(640, 400))
        assert sum(len(store.strokes(name)) for name in played) == n + 1


def test_kept_or_drawn_afresh_in_any_tiles_it_is_the_same(store, document):
    document, cache = touched(document, store, range(PACK + 5)), ByteCache()
    kept = drawn(document, store, cache)
    more = touched(document, store, range(PACK + 5, 2 * PACK + 3))
    kept = drawn(more, store, cache)
    fresh = drawn(more, store)
    np.testing.assert_array_equal(kept, fresh)
    part = drawn(more, store, region=(150, 90, 300, 200), tile=(128, 96), threads=1)
    np.testing.assert_array_equal(part, fresh[90:290, 150:450])


def test_one_long_stroke_is_as_its_distance_says(rng):
    """Looking only at segments that may be nearest gives the distance to the nearest of all."""
    points = rng.uniform(0, 200, (300, 2))
    found = covering._amounts(points, 20.0, 0.4, (0, 0, 200, 150))
    xs, ys = np.meshgrid(np.arange(200), np.arange(150))
    least = np.full(xs.shape, np.inf)
    for (x0, y0), (x1, y1) in zip(points[:-1], points[1:], strict=True):
        t = np.clip(
            ((xs - x0) * (x1 - x0) + (ys - y0) * (y1 - y0))
            / max((x1 - x0) ** 2 + (y1 - y0) ** 2, 1e-12),
            0,
            1,
        )
        least = np.minimum(least, np.hypot(xs - x0 - t * (x1 - x0), ys - y0 - t * (y1 - y0)))
    share = np.clip((least - 8) / 12, 0, 1)
    np.testing.assert_allclose(found, 1 - share * share * (3 - 2 * share), atol=1e-5)


def test_a_broad_stroke_is_told_no_finer_than_it_can_be_seen(rng):
    """Two thousand points within a thousandth of its radius are one: nothing near them is looked at
    two thousand times.
    """
    dense = Stroke(points=rng.uniform(0, 0.002, (2000, 2)).tolist(), radius=5)
    assert len(strokes_in(file_of(dense))[0].points) == 1


def test_unsaved_strokes_are_in_memory_alone(store, document, tmp_path):
    unsaved = Unsaved(store)
    after = touched(document, unsaved, [1])
    assert not store.path(after.stack[0].landing.touch[0]).exists()
    assert not np.array_equal(drawn(after, unsaved), drawn(document, store))


@pytest.mark.parametrize(
    "asked",
    [
        {"points": []},
        {"points": [[0, 0]] * 200_001},
        {"points": [[1e9, 0]]},
        {"points": [[0, float("inf")]]},
        {"points": [[0, 0]], "radius": 99},
        {"points": [[[], 0]]},
        {"points": "x"},
    ],
)
def test_a_stroke_beyond_its_bounds_is_refused(store, document, asked):
    with pytest.raises(KilnError):
        edits.apply(
            document,
            [{"op": "add_stroke", "path": LANDING, "stroke": {"radius": 0.1, **asked}}],
            store,
        )
    with pytest.raises(KilnError):
        edits.apply(
            document, [{"op": "add_stroke", "path": ["stack", "gull"], "stroke": stroke(1)}], store
        )


def test_a_file_that_is_no_stroke_is_refused():
    for data in (b"", b"{}", b'{"strokes": [{"points": [[1, NaN]]}]}', b"[" * 9999):
        with pytest.raises(KilnError):
            strokes_in(data)


def test_strokes_within_a_document_of_format_2_become_files(store, document):
    tree = json.loads(dump(document))
    tree["format"] = 2
    tree["stack"][0]["landing"]["touch"] = [stroke(n) for n in range(3)]
    after = load(tree, store)
    assert after.stack[0].landing.touch == tuple(
        store.keep(file_of(Stroke.model_validate(stroke(n)))) for n in range(3)
    )
    with pytest.raises(KilnError, match="older Kilnmark"):
        load(tree)
