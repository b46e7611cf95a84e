"""Pictures drawn together are the pictures drawn one by one, to the bit."""

import numpy as np
import pytest

from kilncore import edits, engine
from kilncore.engine.plan import Point
from kilncore.system.cache import ByteCache
from tests.documents import lettering, mark, piece, px, step


@pytest.fixture
def treated(texture):
    """Steps of every sort, one of them spilling over, on a mark and on the piece."""
    steps = [
        step("wear", texture=texture),
        step("follow", across=px(9)),
        step("soften", radius=px(1.2)),
        {
            **step("coat", texture=texture, keep_to_art=False),
            "landing": {"mode": "overlay", "strength": 1.4},
        },
        step("grain", "overlay"),
    ]
    art = mark(lettering("Gull", 120), 200, 150, steps, mode="multiply")
    return piece(
        art,
        ground={"kind": "texture", "texture": texture},
        size=(400, 300),
        treatment=[step("soften", radius=px(0.8)), step("grain", "overlay", size=px(2))],
    )


def alone(document, store, scale, region=None, point=None):
    return engine.pixels(document, region, scale, store, point=point, cache=ByteCache(), seen=None)


@pytest.mark.parametrize(
    "scale, region", [(1.0, None), (0.4, None), (1.0, (90.0, 70.0, 111.0, 97.0))]
)
def test_the_stages_of_a_treatment(treated, store, scale, region):
    part = treated.stack[0].id
    points = (
        [Point(part, n) for n in range(7)]
        + [Point("piece", n) for n in range(3)]
        + [Point("ground", 0)]
    )
    found = engine.together(
        [(treated, point) for point in points], region, scale, store, ByteCache()
    )
    for point, pixels in zip(points, found, strict=True):
        np.testing.assert_array_equal(pixels, alone(treated, store, scale, region, point))


def test_alternatives_for_one_step(treated, store):
    path = [
        "stack",
        treated.stack[0].id,
        "treatment",
        treated.stack[0].treatment[3].id,
        "landing",
        "mode",
    ]
    others = [
        edits.apply(treated, [{"op": "set", "path": path, "value": mode}])
        for mode in ("multiply", "hue", "difference")
    ]
    found = engine.together([(other, None) for other in others], None, 1.0, store, ByteCache())
    for other, pixels in zip(others, found, strict=True):
        np.testing.assert_array_equal(pixels, alone(other, store, 1.0))
    assert len({pixels.tobytes() for pixels in found}) == 3
