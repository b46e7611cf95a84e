"""Out of memory, a broken texture, a picture that is no longer wanted: a clear end, and the next
picture comes.
"""

from dataclasses import replace

import numpy as np
import pytest

from kilncore import engine
from kilncore.assets import AssetStore
from kilncore.errors import Superseded, UnusableFile
from kilncore.steps import STEPS
from kilncore.system.cache import ByteCache
from tests.documents import mark, piece, step


def drawn(document, store, **how):
    return engine.render(document, assets=store, cache=ByteCache(), **how)


def test_a_broken_texture_is_named_and_the_rest_goes_on(store, texture, tmp_path):
    broken = AssetStore(tmp_path)
    path = broken.path(texture["hash"])
    path.parent.mkdir(parents=True)
    path.write_bytes(store.data(texture["hash"])[:200])
    worn = piece(mark(treatment=[step("wear", texture=texture)]))
    with pytest.raises(UnusableFile, match="damaged"):
        drawn(worn, broken)
    assert drawn(piece(mark()), broken).any()
    path.write_bytes(store.data(texture["hash"]))
    np.testing.assert_array_equal(drawn(worn, broken), drawn(worn, store))


def test_out_of_memory_in_a_step_reaches_the_caller_and_nobody_else(store):
    kind, cache = STEPS["soften"], ByteCache()
    document = piece(mark(treatment=[step("soften")]))

    def starved(params, view):
        raise MemoryError

    with (
        STEPS.with_more(lambda: STEPS._entries.update(soften=replace(kind, run=starved))),
        pytest.raises(MemoryError),
    ):
        engine.render(document, assets=store, cache=cache)
    document = document.model_copy()  # graphs are built once for a document
    np.testing.assert_array_equal(
        engine.render(document, assets=store, cache=cache), drawn(document, store)
    )


def test_a_picture_given_up_half_way_leaves_nothing_wrong_behind(store, texture):
    document = piece(
        mark(treatment=[step("wear", texture=texture), step("follow")]),
        size=(1300, 900),
        ground={"kind": "texture", "texture": texture},
    )
    cache, asked = ByteCache(), []
    with pytest.raises(Superseded):
        engine.render(
            document, assets=store, cache=cache, cancelled=lambda: asked.append(1) or len(asked) > 6
        )
    np.testing.assert_array_equal(
        engine.render(document, assets=store, cache=cache), drawn(document, store)
    )
