"""Work and memory are bounded by the piece and the view, whatever a document asks for."""

import os

import numpy as np
import pytest

from kilncore import engine
from kilncore.prep.texture_ref import TextureRef
from kilncore.textures import flaked
from kilncore.textures.ready import ReadyFiles
from kilncore.textures.texture import Texture
from kilncore.typesetting import outline
from kilncore.typesetting.intake import font_of
from tests.core.test_font_intake import built
from tests.documents import lettering, mark, piece, px, step


def open_files() -> int:
    return len(os.listdir("/proc/self/fd"))


def test_a_ready_file_is_held_open_once(tmp_path, rng):
    """All its smaller copies are read through one mapping."""
    files = ReadyFiles(tmp_path)
    pixels = rng.integers(0, 256, (1, 300, 400), dtype=np.uint8)
    for n in range(12):
        files.put(f"key{n}", Texture(pixels))
    before = open_files()
    found = [files.find(f"key{n}") for n in range(12)]
    assert open_files() - before <= 12
    plain = Texture(pixels)
    for level in range(5):
        assert np.array_equal(found[0].level(level), plain.level(level))
    assert found[0].nbytes > 0  # counted, so that not all are held open


@pytest.mark.parametrize("wraps", [True, False])
def test_a_softness_far_wider_than_its_texture_pads_no_more_than_the_texture(rng, wraps):
    """And is what any very wide softness is: the mean."""
    texture = Texture(rng.integers(0, 256, (1, 40, 60), dtype=np.uint8))
    fine = flaked.finer(texture, 5e6, 0.4, wraps)
    wide = flaked.finer(texture, 400.0, 0.4, wraps)
    assert fine.shape == (40, 60)
    assert np.abs(fine.astype(float) - wide).max() < 0.02 * 65535


def test_letters_that_tangle_are_not_united(store, monkeypatch):
    """A font of letters whose outlines cross themselves very often: Skia is not asked."""
    asked = []
    simple = outline._simple
    monkeypatch.setattr(outline, "_simple", lambda path: asked.append(path) or simple(path))
    name = store.keep(font_of(built("AB", points=400, crossing=True)).data)
    words = piece(mark(lettering("ABBA" * 30, font=name)))
    words.stack[0].art.check()
    assert not [path for path in asked if len(list(path.contours))]
    outline._shape_of.cache_clear()
    piece(mark(lettering("Gull"))).stack[0].art.check()
    assert asked


def test_crossings_are_counted_right():
    """Against all pairs, each told by the signs of its triangles."""
    rng = np.random.default_rng(5)
    points = rng.random((40, 2))
    edges = np.hstack([points, np.roll(points, -1, 0)])

    def turns(a, b, c):
        return np.sign((b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0]))

    count = 0
    for n, one in enumerate(edges):
        for other in edges[n + 1 :]:
            a, b, c, d = one[:2], one[2:], other[:2], other[2:]
            count += turns(a, b, c) * turns(a, b, d) < 0 and turns(c, d, a) * turns(c, d, b) < 0
    assert outline._crossings(edges) == count


def test_an_undercoat_at_the_end_of_what_can_be_placed_is_drawn(store, texture):
    """The rim looks beside the texture's place, which no document may set."""
    wear = step(
        "wear", texture=texture, under="colour", rim=-1.0, rim_width=px(5),
        placement={"x": px(1e5), "y": px(-1e5)},
    )  # fmt: skip
    pixels = engine.exact(piece(mark(lettering(), treatment=[wear])), assets=store)
    assert np.isfinite(pixels).all()


def test_two_operations_of_one_chain_are_told_apart():
    """Edits name them by their ids."""
    one = {"id": "same", "kind": "invert"}
    ref = TextureRef.model_validate({"hash": "0" * 64, "chain": [one, one, one]})
    assert len({operation.id for operation in ref.chain}) == 3
