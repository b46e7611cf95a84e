"""Marks as a cut-out of their own: laid where they were they show the piece as it is."""

import numpy as np
import pytest

from kilncore import engine
from kilncore.edits import apply
from kilncore.engine.lifted import lifted
from kilncore.engine.recall import Recall
from kilncore.errors import KilnError
from kilncore.system.cache import ByteCache
from tests.documents import group, lettering, mark, piece, px, step

REGION = (0.0, 0.0, 400.0, 300.0)


def _piece(texture, ground=None, mode="multiply"):
    treated = [step("wear", texture=texture, black=0.3, white=0.7)]
    return piece(
        mark(lettering("OX", 110), 130, 120, treated, mode=mode) | {"id": "held"},
        group(mark(lettering("TEA", 60), 0, 0) | {"id": "inner"}, x=290, y=210) | {"id": "both"},
        mark(lettering("PIER", 50), 190, 150, strength=0.6) | {"id": "over"},
        ground=ground,
        treatment=[step("grain", size=px(2))],
    )


def _straight(pixels):
    out = np.ones((*pixels.shape[:2], 4))
    out[..., : pixels.shape[2]] = pixels / 255
    return out


def _over(beneath, cut_out):
    """Source over backdrop, straight: W3C Compositing, 5.1."""
    under, upper = _straight(beneath), _straight(cut_out)
    alpha = upper[..., 3:] + under[..., 3:] * (1 - upper[..., 3:])
    colour = upper[..., :3] * upper[..., 3:] + under[..., :3] * under[..., 3:] * (
        1 - upper[..., 3:]
    )
    return colour, alpha[..., 0]


@pytest.mark.parametrize("ground", [None, {"kind": "none"}])
@pytest.mark.parametrize("marks", [["held"], ["inner"], ["both", "over"]])
def test_where_it_was_it_shows_the_piece(texture, store, ground, marks):
    document, recall = _piece(texture, ground), Recall(ByteCache())
    beneath, cut_out = lifted(document, marks, REGION, 0.5, store, recall)
    shown = engine.pixels(document, REGION, 0.5, store)
    colour, alpha = _over(beneath, cut_out)
    truth = _straight(shown)
    off = np.abs(colour - truth[..., :3] * truth[..., 3:]) * 255
    # a colour that would have to be beyond black or white is cut there
    assert np.quantile(off, 0.97) < 3.5 and np.abs(alpha - truth[..., 3]).mean() * 255 < 1
    assert (cut_out[..., 3] > 200).any() and (cut_out[..., 3] == 0).mean() > 0.3


def test_enlarged_it_shows_the_pixels_of_the_stage(texture, store):
    """Above 100 % the stage shows scale-1 pixels, repeated."""
    region, document = (80.0, 60.0, 120.0, 100.0), _piece(texture)
    beneath, cut_out = lifted(document, ["held"], region, 2.0, store, Recall(ByteCache()))
    colour, _ = _over(beneath, cut_out)
    shown = engine.pixels(document, region, 2.0, store, truly=True)
    assert np.quantile(np.abs(colour * 255 - shown), 0.97) < 3.5
    assert (cut_out[::2, ::2] == cut_out[1::2, 1::2]).all()


def test_beneath_it_is_the_piece_without_it(texture, store):
    document, recall = _piece(texture), Recall(ByteCache())
    beneath, _ = lifted(document, ["held", "over"], REGION, 0.5, store, recall)
    left = apply(document, [{"op": "remove_marks", "marks": ["held", "over"]}], store)
    np.testing.assert_array_equal(beneath, engine.pixels(left, REGION, 0.5, store))


def test_what_is_left_out_is_refused(texture, store):
    out = {"op": "set", "path": ["stack", "held", "left_out"], "value": True}
    document = apply(_piece(texture), [out], store)
    with pytest.raises(KilnError, match="left out"):
        lifted(document, ["held"], REGION, 0.5, store, Recall(ByteCache()))
    with pytest.raises(KilnError, match="no such mark"):
        lifted(document, ["nobody"], REGION, 0.5, store, Recall(ByteCache()))
