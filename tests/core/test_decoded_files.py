"""Decoded files on disk: pixels of large files that a later process maps instead of decoding."""

import time

import numpy as np
import pytest

from kilncore.assets import AssetStore
from kilncore.errors import KilnError
from kilncore.textures import decoded
from kilncore.textures.texture import MAPPED_COUNTS
from tests.pictures import png


@pytest.fixture
def kept(tmp_path):
    return lambda: AssetStore(tmp_path / "assets", decoded=tmp_path / "decoded")


@pytest.fixture
def scan(kept, rng):
    return kept().keep(png(rng.integers(0, 256, (1100, 900, 3), np.uint8)))


def written(store):
    """Once its thread has written all that waits."""
    end = time.monotonic() + 30
    while not list(store._decoded.folder.glob("*.ready")):
        assert time.monotonic() < end
        time.sleep(0.02)


def test_they_are_the_same_pixels_for_the_next_process(kept, scan):
    store = kept()
    first = store.source(scan)
    written(store)
    again = kept().source(scan)
    assert again.nbytes == MAPPED_COUNTS < first.nbytes and again.size == first.size
    assert np.array_equal(again.planes, first.planes)
    assert all(np.array_equal(again.level(n), first.level(n)) for n in range(4))


def test_who_has_decoded_one_goes_over_to_it(kept, scan):
    store = kept()
    first = store.source(scan)
    end = time.monotonic() + 30
    while store.source(scan) is first:
        assert time.monotonic() < end
        time.sleep(0.02)
    assert np.array_equal(store.source(scan).planes, first.planes)


def test_a_damaged_one_is_decoded_again(kept, scan):
    store = kept()
    first = store.source(scan)
    written(store)
    (path,) = store._decoded.folder.glob("*.ready")
    path.write_bytes(path.read_bytes()[:70_000])
    assert np.array_equal(kept().source(scan).planes, first.planes)


def test_a_file_that_is_gone_is_named_all_the_same(kept, scan):
    store = kept()
    assert store.source(scan).planes.any()
    written(store)
    store.path(scan).unlink()
    with pytest.raises(KilnError, match="not there"):
        kept().source(scan)


def test_small_ones_and_those_let_go_of_are_not_written(kept, rng, monkeypatch):
    store = kept()
    store.source(store.keep(png(rng.integers(0, 256, (300, 300), np.uint8))))
    monkeypatch.setattr(decoded, "LEAST_BYTES", 0)
    waiting = decoded._waiting()
    large = store.keep(png(rng.integers(0, 256, (700, 900), np.uint8)))
    store.source(large)
    written(store)
    assert len(list(store._decoded.folder.glob("*.ready"))) == 1 and waiting.empty()
