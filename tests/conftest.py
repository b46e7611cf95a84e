"""Shared by all tests."""

import os
from collections import defaultdict

import numpy as np
import pytest

from kilncore.assets import AssetStore
from tests.checks.chromium import EXECUTABLE, FLAGS
from tests.documents import STROKES
from tests.pictures import png

# Playwright keeps a loop in the thread of the tests; Django would take it for an asynchronous view
os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")


@pytest.hookimpl(trylast=True)
def pytest_collection_modifyitems(items):
    """Each worker begins with its share of the browser's tests, file by file: they wait for much,
    and the short ones fill what is left at the end.
    """
    workers = int(os.environ.get("PYTEST_XDIST_WORKER_COUNT", "1"))
    files, others = defaultdict(list), []
    for item in items:
        in_browser = "browser" in item.path.parts
        (files[item.path] if in_browser else others).append(item)
    shares: list[list] = [[] for _ in range(workers)]
    for tests in sorted(files.values(), key=lambda one: (-len(one), one[0].nodeid)):
        min(shares, key=len).extend(tests)
    size = -(-len(items) // workers)
    for share in shares:
        share += [others.pop(0) for _ in range(min(size - len(share), len(others)))]
    items[:] = [item for share in shares for item in share] + others


@pytest.fixture
def rng():
    return np.random.default_rng(20261123)


@pytest.fixture
def store(tmp_path):
    return AssetStore(tmp_path / "assets")


@pytest.fixture
def texture(store, rng):
    """The reference of a small seamless colour texture in the store, where strokes are kept too."""
    store.keep(STROKES)
    pixels = rng.integers(0, 256, (96, 128, 3), dtype=np.uint8)
    return {"hash": store.keep(png(pixels)), "edges": "repeat"}


@pytest.fixture(scope="session")
def browser():
    """Headless Chromium, one for the whole run: Playwright allows one loop to a thread."""
    from playwright.sync_api import sync_playwright

    with sync_playwright() as play:
        chromium = play.chromium.launch(executable_path=EXECUTABLE, args=FLAGS)
        yield chromium
        chromium.close()
