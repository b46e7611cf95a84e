"""Shared by all tests."""

import numpy as np
import pytest

from kilncore.assets import AssetStore
from tests.checks.chromium import EXECUTABLE, FLAGS
from tests.pictures import png


@pytest.fixture
def rng():
    return np.random.default_rng(20261123)


@pytest.fixture
def store(tmp_path):
    return AssetStore(tmp_path / "assets")


@pytest.fixture
def texture(store, rng):
    """The reference of a small seamless colour texture in the store."""
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
