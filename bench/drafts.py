"""How far drafts are from exact pictures, on the demo's pieces, before encoding: at the scale at
which each fits the bench.
"""

import os
import tempfile

import numpy as np

from bench.measure import say

STAGE = (900, 500)


def report() -> None:
    with tempfile.TemporaryDirectory() as folder:
        os.environ |= {"KILNMARK_DATA": folder, "DJANGO_SETTINGS_MODULE": "kilnmark.settings"}
        import django

        django.setup()
        from kilnmark.demo import set_up
        from kilnmark.pieces.models import Piece
        from kilnmark.server import prepare

        prepare()
        set_up()
        for piece in Piece.objects.select_related("head"):
            _compared(piece.document)


def _compared(piece) -> None:
    from kilncore import engine
    from kilnmark.storage import assets

    scale = min(1.0, *(room / side for room, side in zip(STAGE, piece.size_px, strict=True)))
    draft = engine.render(piece, None, scale, assets())[..., :3]
    exact = engine.exact(piece, None, scale, assets())[..., :3]
    say(
        f"{piece.title}: draft from exact at {scale:.0%}",
        f"{np.abs(draft - exact).mean() * 255:.2f} / 255",
        f"grain contrast {_grain(draft) / _grain(exact):.2f} x",
    )


def _grain(picture) -> float:
    """The spread of what a blur of two pixels takes away."""
    from scipy import ndimage

    tones = picture.mean(2)
    return float((tones - ndimage.gaussian_filter(tones, 2)).std())
