"""What is held back, as it is shown while it is set: the weight with which a landing lands."""

import numpy as np
import pytest

from kilncore import engine
from kilncore.document import load
from kilncore.engine.held_back import held_back
from kilncore.errors import KilnError
from tests.documents import lettering, mark, piece, px, step
from tests.pictures import png

SIZE = (96, 64)
RANGE = {"hidden_below": 0.2, "shown_from": 0.5}
FADE = {"x0": px(0), "y0": px(0), "x1": px(96), "y1": px(0)}
REGION = {"kind": "region", "shape": "ellipse", "x": px(40), "y": px(30)}
REGION |= {"width": px(60), "height": px(40), "feather": px(8)}


def grained(store, rng, landing):
    """A black ground that white lands on, and its noise as what lies under."""
    pixels = rng.integers(0, 200, (*SIZE[::-1], 3), dtype=np.uint8)
    fill = {"kind": "texture", "texture": {"hash": store.keep(png(pixels))}}
    fill["placement"] = {"x": px(0), "y": px(0)}
    white = {"hash": store.keep(png(np.full((16, 16), 255, np.uint8)))}
    coat = step("coat", texture=white, keep_to_art=False) | {"id": "coat"}
    coat["landing"] |= landing
    tree = piece(size=SIZE).model_dump(mode="json") | {"ground": {"fill": fill}, "stack": []}
    return pixels / 255, load(tree | {"treatment": [coat]})


@pytest.mark.parametrize(
    "landing",
    [
        {"range_input": RANGE},
        {"range_input": RANGE | {"outside": True}, "fade": FADE},
        {"limits": [REGION], "fade": FADE},
        {"limits": [REGION | {"outside": True}]},
        {"range_own": {"hidden_above": 0.9, "shown_to": 0.5}},
    ],
)
def test_it_is_the_weight_that_what_lands_really_has(store, rng, landing):
    pixels, document = grained(store, rng, landing)
    weight, area = held_back(document, "piece", "coat", (0, 0, *SIZE), 1.0, store)
    shown = engine.render(document, assets=store)[..., :3]
    landed = ((shown - pixels) / (1 - pixels)).mean(2)
    assert area.min() == 1
    assert np.abs(weight - landed).max() < 0.01


def test_a_crop_has_the_weights_of_the_whole(store, rng):
    _, document = grained(store, rng, {"range_input": RANGE, "fade": FADE})
    whole, _ = held_back(document, "piece", "coat", (0, 0, *SIZE), 1.0, store)
    crop, _ = held_back(document, "piece", "coat", (20, 10, 30, 20), 1.0, store)
    assert (crop == whole[10:30, 20:50]).all()


def test_how_a_mark_lands_is_told_where_the_mark_is(store):
    landing = {"mode": "normal", "strength": 1.0, "fade": FADE}
    item = mark(lettering("M", size=40), x=48, y=40) | {"id": "m", "landing": landing}
    document = piece(item, size=SIZE)
    weight, area = held_back(document, "m", None, (0, 0, *SIZE), 1.0, store)
    there = area > 0.99
    assert there.any() and (area < 0.01).any()
    expected = 1 - (np.arange(SIZE[0]) + 0.5) / SIZE[0]
    assert np.abs(weight - expected)[there].max() < 0.01


def test_a_step_that_is_off_lands_nowhere(store, rng):
    _, document = grained(store, rng, {})
    tree = document.model_dump(mode="json")
    tree["treatment"][0]["on"] = False
    with pytest.raises(KilnError, match="off"):
        held_back(load(tree), "piece", "coat", (0, 0, *SIZE), 1.0, store)
