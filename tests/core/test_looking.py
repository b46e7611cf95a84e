"""Looking at a piece with something off, or seen through: it changes no document."""

import numpy as np
import pytest

from kilncore import engine
from kilncore.engine.see_through import see_through
from kilncore.engine.without import without_step, without_treatments
from tests.documents import mark, piece, px, step
from tests.pictures import png


@pytest.fixture
def worked(store, rng):
    texture = {"hash": store.keep(png(rng.integers(0, 256, (60, 60), dtype=np.uint8)))}
    first = step("wear", texture=texture, black=0.4, white=0.6)
    second = step("coat", "screen", texture=texture)
    return piece(mark(treatment=[first, second]), treatment=[step("soften", radius=px(2))])


def test_without_a_step_is_the_piece_with_it_off(store, worked):
    wear = worked.stack[0].treatment[0]
    found = without_step(worked, wear.id)
    assert [one.on for one in found.stack[0].treatment] == [False, True]
    tree = worked.model_dump(mode="json")
    del tree["stack"][0]["treatment"][0]
    from kilncore.document import load

    left_out = engine.render(load(tree), assets=store)
    assert np.array_equal(engine.render(found, assets=store), left_out)
    assert worked.stack[0].treatment[0].on and without_step(worked, "gone") is worked


def test_without_treatments_is_bare(store, worked):
    bare = piece(mark())
    found = engine.render(without_treatments(worked), assets=store)
    assert np.array_equal(found, engine.render(bare, assets=store))
    assert without_treatments(bare) is bare


@pytest.mark.parametrize("rides", ["mark", "ground"])
def test_seen_through_the_texture_lies_where_the_wear_takes_it(store, rides):
    """A black corner of the texture lies over the very pixels that the wear takes away."""
    corner = np.full((80, 80), 255, np.uint8)
    corner[:30, :30] = 0
    texture = {"hash": store.keep(png(corner))}
    place = {"x": px(7), "y": px(-5), "scale": 1.5, "rotation_deg": 20}
    wear = step("wear", texture=texture, black=0.4, white=0.6, rides=rides, placement=place)
    art = {"kind": "lettering", "text": "I", "size": px(220), "colour": "#ffffff"}
    words = mark(art, 190, 140, [wear], rotation_deg=10)
    document = piece(words, ground={"kind": "none"})
    made = document.stack[0].treatment[0]
    worn = engine.render(document, assets=store)[..., 3]
    bare = engine.render(without_step(document, made.id), assets=store)[..., 3]
    seen = engine.render(see_through(document, made.id), assets=store)
    gone = (bare > 0.99) & (worn < 0.01)
    kept = (bare > 0.99) & (worn > 0.99)
    assert gone.sum() > 50 and seen[gone][:, :3].max() < 0.45  # below the black point
    assert np.median(seen[gone][:, :3]) < 0.02
    assert np.median(seen[kept][:, :3]) > 0.98
    assert see_through(document, "gone") is document
