"""What must hold of any document: no crash, no pixel that is not a number, a crop equals that crop
of the whole, kept tiles equal fresh ones, bytes say what the picture says."""

import numpy as np
from hypothesis import strategies as st

from kilncore import edits, engine
from kilncore.engine.cache_policy import Recent
from kilncore.engine.recall import Recall
from kilncore.engine.render import region_box
from kilncore.errors import KilnError
from kilncore.geometry.box import scaled
from kilncore.system.cache import ByteCache

MOST_WHOLE, MOST_CROP, MOST_UNKEPT = 1_200_000, 400_000, 150_000
TILES = ((640, 400), (97, 211), (512, 96))


@st.composite
def views(draw, size):
    """(scale, region, tile, threads): a region of which no more than so many pixels come out."""
    scale = draw(st.sampled_from([1.0, 1.0, 0.4, 0.13, 2.0]) | st.floats(0.05, 1))
    x, y = (draw(st.floats(0, side * 0.95)) for side in size)
    room = (MOST_CROP / scale**2) ** 0.5
    wide, tall = (draw(st.floats(1, max(2, min(side, room)))) for side in size)
    return scale, (x, y, wide, tall), draw(st.sampled_from(TILES)), draw(st.sampled_from([1, 2]))


def check(document, view, store) -> None:
    scale, region, tile, threads = view
    try:
        whole_box = scaled(0, 0, *document.size_px, scale)
        around = (
            None
            if whole_box.width * whole_box.height <= MOST_WHOLE
            else _around(region, document, scale)
        )
        box, have = region_box(document, region, scale), region_box(document, around, scale)
        if box.empty:
            return
        whole = drawn(document, store, around, scale)
        _sound(whole)
        part = drawn(document, store, region, scale, tile=tile, threads=threads)
        if whole_box.width * whole_box.height <= MOST_UNKEPT:
            np.testing.assert_array_equal(
                drawn(document, store, None, scale, keeps=False),
                whole,
                "what is kept differs from what is not",
            )
        np.testing.assert_array_equal(part, _cut(whole, have, box), "a crop differs from the whole")
        _kept(document, store, region, scale)
        _bytes(document, store, region, scale, part)
        _under_a_hand(document, store, region, min(scale, 0.7))
    except KilnError as error:
        assert error.message  # a refusal in words is as good as a picture


def _under_a_hand(document, store, region, scale) -> None:
    """Its first marks moved, as a draft draws them that takes what it can from before; then exact,
    drawn only where it differs from what was shown: as if all were drawn.
    """
    cache = ByteCache(400 * 2**20)
    recall = Recall(cache)
    how = {"recall": recall, "cache": cache, "seen": Recent()}
    engine.pixels(document, region, scale, store, truly=True, **how)
    for n, item in enumerate(document.stack[:3]):
        told = {"op": "transform_marks", "marks": [item.id], "about": [0, 0], "by": [7.3 + n, -4.6]}
        moved = edits.apply(document, [told], store)
        found = engine.pixels(moved, region, scale, store, **how)
        assert found.dtype == np.uint8
    for one in (moved, _switched(document)) if document.stack else (_switched(document),):
        shown = engine.pixels(one, region, scale, store, truly=True, **how)
        anew = engine.pixels(one, region, scale, store, truly=True, cache=cache, seen=None)
        np.testing.assert_array_equal(shown, anew, "what was taken as it was shown had changed")


def drawn(document, store, region, scale, **how):
    return engine.render(
        document, region, scale, store, **{"cache": ByteCache(400 * 2**20), "seen": None, **how}
    )


def _around(region, document, scale):
    """The region with some room: what stands for the whole of a piece that is too large to draw."""
    room = 200 / scale
    x, y, wide, tall = region
    return max(x - room, 0), max(y - room * 0.7, 0), wide + 2 * room, tall + 1.5 * room


def _cut(whole, have, box):
    return whole[
        box.top - have.top : box.bottom - have.top, box.left - have.left : box.right - have.left
    ]


def _sound(picture) -> None:
    assert np.isfinite(picture).all(), "a pixel is not a number"
    assert picture.min(initial=0) >= 0 and picture.max(initial=0) <= 1, "a pixel is out of bounds"


def _kept(document, store, region, scale) -> None:
    """One cache for the picture, for the same with its last step switched, and for the picture
    again.
    """
    cache, seen = ByteCache(400 * 2**20), Recent()
    for one in (document, _switched(document), document, document):
        kept = engine.render(one, region, scale, store, cache=cache, seen=seen)
        np.testing.assert_array_equal(
            kept, drawn(one, store, region, scale), "kept tiles differ from fresh ones"
        )


def _switched(document):
    parts = [
        (["ground"], document.ground.treatment),
        ([], document.treatment),
        *((document.way_to(i.id), i.treatment) for i in document.items()),
    ]
    for path, treatment in reversed(parts):
        if treatment:
            return edits.apply(
                document,
                [
                    {
                        "op": "set",
                        "path": [*path, "treatment", treatment[-1].id, "on"],
                        "value": not treatment[-1].on,
                    }
                ],
            )
    return document


def _bytes(document, store, region, scale, picture) -> None:
    found = (
        engine.pixels(
            document, region, scale, store, cache=ByteCache(400 * 2**20), seen=None
        ).astype(np.float32)
        / 255
    )
    alpha = picture[..., 3:]
    if found.shape[2] == 4:
        np.testing.assert_allclose(
            found[..., 3],
            picture[..., 3],
            atol=0.51 / 255,
            err_msg="bytes of alpha differ from the picture",
        )
    there = (alpha > 0.01)[..., 0]
    np.testing.assert_allclose(
        found[..., :3][there],
        picture[..., :3][there],
        atol=0.52 / 255,
        err_msg="bytes differ from the picture",
    )
