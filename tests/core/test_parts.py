"""Parts of a draft that nothing reaches into are shown as they were: the same bytes as drawn anew,
whatever moves elsewhere.
"""

import numpy as np
import pytest

from kilncore import engine
from kilncore.edits import apply
from kilncore.engine.cache_policy import Recent
from kilncore.engine.nodes import Landed, LocalKeys
from kilncore.engine.plans import plan_of
from kilncore.geometry.box import Box
from kilncore.system.cache import ByteCache
from tests.documents import lettering, mark, piece, px, step

SIZE = (900, 700)


def crowd(texture, ground=None):
    steps = [
        step("wear", texture=texture, black=0.3, white=0.7),
        step("follow", across=px(5), down=px(4)),
        step("soften", radius=px(2)),
    ]
    marks = [
        mark(
            lettering("OX", 90),
            150 + 300 * (n % 3),
            120 + 220 * (n // 3),
            steps if n % 2 else steps[:1],
        )
        for n in range(9)
    ]
    return piece(*marks, size=SIZE, ground=ground)


@pytest.mark.parametrize("ground", [None, {"kind": "none"}], ids=["opaque", "transparent"])
@pytest.mark.parametrize("scale", [1.0, 0.6])
def test_dragging_gives_the_bytes_of_drawing_anew(texture, store, ground, scale, rng):
    of, cache, seen = crowd(texture, ground), ByteCache(), Recent()
    for _ in range(12):
        name = of.stack[int(rng.integers(9))].id
        by = [float(n) for n in rng.integers(-260, 260, 2)]
        of = apply(of, [{"op": "transform_marks", "marks": [name], "about": [0, 0], "by": by}])
        if rng.random() < 0.3:
            of = apply(of, [{"op": "flag_marks", "marks": [name], "flag": "left_out", "on": True}])
        live = engine.pixels(of, None, scale, store, cache=cache, seen=seen)
        anew = engine.pixels(of, None, scale, store, cache=ByteCache(), seen=None)
        np.testing.assert_array_equal(live, anew)


def test_a_part_keeps_its_key_while_others_move(texture):
    of = crowd(texture)
    plain = [item.model_copy(update={"treatment": item.treatment[:1]}) for item in of.stack]
    of = of.model_copy(update={"stack": tuple(plain)})
    moved = apply(
        of, [{"op": "transform_marks", "marks": [of.stack[0].id], "about": [0, 0], "by": [9, 5]}]
    )
    roots = [plan_of(one, 1.0).finished().node for one in (of, moved)]
    assert all(isinstance(root, Landed) for root in roots) and roots[0].key != roots[1].key
    far, near = Box(620, 400, 900, 700), Box(0, 0, 300, 300)
    one, other = map(LocalKeys, roots)
    assert one.of(far) == other.of(far) and one.of(near) != other.of(near)
