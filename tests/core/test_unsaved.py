"""Textures that are no files yet: tried where stored ones lie, and gone with the trial."""

import numpy as np
import pytest

from kilncore import engine
from kilncore.assets import AssetStore, Unsaved
from kilncore.errors import MissingAsset
from kilncore.prep.texture_ref import TextureRef
from tests.documents import piece


@pytest.fixture
def store(tmp_path) -> AssetStore:
    return AssetStore(tmp_path)


def test_it_is_drawn_as_a_stored_one_would_be(store, rng):
    planes = rng.integers(0, 256, (3, 60, 80), dtype=np.uint8)
    unsaved = Unsaved(store)
    name = unsaved.keep_texture(planes)
    chain = ({"kind": "grey"}, {"kind": "invert"})
    for more in ({}, {"chain": chain}):
        ref = TextureRef(hash=name, **more)
        document = piece(ground={"kind": "texture", "texture": ref.model_dump(mode="json")})
        drawn = engine.pixels(document, None, 1.0, unsaved, truly=True)
        first = drawn[:60, :80, :3].astype(int)
        wanted = np.moveaxis(planes, 0, 2).astype(int)
        if not more:
            assert np.abs(first - wanted).max() <= 1
        else:
            grey = wanted @ [0.2126, 0.7152, 0.0722]
            assert (
                np.ptp(first, axis=2).max() <= 1 and np.abs(255 - grey - first[..., 0]).mean() < 30
            )


def test_nothing_of_it_is_stored(store, rng, tmp_path):
    unsaved = Unsaved(store)
    name = unsaved.keep_texture(rng.integers(0, 256, (1, 64, 64), dtype=np.uint8))
    assert unsaved.is_ready(TextureRef(hash=name)) and unsaved.source(name).size == (64, 64)
    assert not any(one.is_file() for one in tmp_path.rglob("*"))
    with pytest.raises(MissingAsset):
        store.source(name)


def test_two_textures_have_two_names(store):
    unsaved = Unsaved(store)
    planes = np.zeros((1, 64, 128), np.uint8)
    names = {unsaved.keep_texture(planes), unsaved.keep_texture(planes.reshape(1, 128, 64))}
    assert len(names) == 2
