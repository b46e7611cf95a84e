"""Drafts under a hand take what was measured a moment ago, and nothing exact ever does."""

import numpy as np
import pytest

from kilncore import engine
from kilncore.edits import apply
from kilncore.engine.recall import Recall
from kilncore.system.cache import ByteCache
from kilncore.wear.tones import WearTones
from tests.documents import lettering, mark, piece, px, step


@pytest.fixture
def worn(texture):
    asked = step("wear", texture=texture, aim=True, share=0.3, contrast=0.2)
    return piece(mark(lettering("Gull", 120), 150, 150, [asked | {"id": "w"}]) | {"id": "m"})


def moved(document, by):
    told = {"op": "set", "path": ["stack", "m", "placement", "x"], "value": px(150 + by)}
    return apply(document, [told])


@pytest.fixture
def measured(monkeypatch):
    """How often tones were read."""
    count, part = [], WearTones.part
    monkeypatch.setattr(WearTones, "part", lambda self, *more: count.append(1) or part(self, *more))
    return count


@pytest.mark.parametrize("scale", [0.5, 1.0])
def test_a_draft_takes_them_and_what_is_exact_does_not(worn, store, measured, scale):
    cache = ByteCache(10**8)
    recall, how = Recall(cache), {"assets": store, "cache": cache, "seen": None}
    engine.pixels(worn, None, scale, truly=True, recall=recall, **how)
    assert measured
    measured.clear()
    draft = engine.pixels(moved(worn, 7.5), None, scale, recall=recall, **how)
    assert not measured
    exact = engine.pixels(moved(worn, 7.5), None, scale, truly=True, recall=recall, **how)
    assert measured
    alone = engine.pixels(
        moved(worn, 7.5), None, scale, truly=True, assets=store, cache=ByteCache(10**8)
    )
    np.testing.assert_array_equal(exact, alone)
    assert np.abs(draft.astype(int) - exact).mean() < 4  # as good as a draft may be, for a moment


def test_a_step_that_is_set_otherwise_is_measured(worn, store, measured):
    cache = ByteCache(10**8)
    recall, how = Recall(cache), {"assets": store, "cache": cache, "seen": None}
    engine.pixels(worn, None, 1.0, truly=True, recall=recall, **how)
    measured.clear()
    path = ["stack", "m", "treatment", "w", "params", "placement", "scale"]
    other = apply(worn, [{"op": "set", "path": path, "value": 1.7}])
    engine.pixels(other, None, 0.5, recall=recall, **how)
    assert measured
