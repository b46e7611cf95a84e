"""Strokes as the core's tests draw them."""

import numpy as np

from kilncore.geometry.box import Box
from kilncore.strokes import Stroke, file_of, strokes_in
from kilncore.strokes.covering import covered


def drawn(stroke: Stroke, own: tuple, page: Box) -> np.ndarray:
    """(H, W) of what a stroke covers of a page. own : from px of it to the stroke's frame."""
    (one,), out = strokes_in(file_of(stroke)), np.zeros((page.height, page.width))
    found = covered(one, own, page)
    if found:
        here, amount = found
        rows = slice(here.top - page.top, here.bottom - page.top)
        out[rows, here.left - page.left : here.right - page.left] = amount
    return out
