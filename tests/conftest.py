"""Shared by all tests. Data go to a temporary folder, set before Django reads its settings."""

import os
import tempfile

os.environ["KILNMARK_DATA"] = tempfile.mkdtemp(prefix="kilnmark-tests-")
os.environ["KILNMARK_STATIC"] = "django.contrib.staticfiles.storage.StaticFilesStorage"

import numpy as np  # noqa: E402
import pytest  # noqa: E402

from kilncore.assets import AssetStore  # noqa: E402
from tests.pictures import png  # noqa: E402


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
    return {"hash": store.keep(png(pixels)), "tiles": True}
