"""Drawings, gradients: against Chromium, which draws SVG and CSS by itself."""

from pathlib import Path

import numpy as np
import pytest

from kilncore import engine
from kilncore.artwork.vector import rasterised
from kilncore.assets import AssetStore
from kilncore.svg.sanitising import sanitise
from tests.checks.chromium import drawn  # noqa: F401
from tests.documents import piece

SIDE, SIZE = 240, "width:240px;height:160px"
DRAWINGS = sorted((Path(__file__).parent / "drawings").glob("*.svg"))


@pytest.mark.parametrize("path", DRAWINGS, ids=lambda path: path.stem)
def test_drawings_against_chromium(drawn, path):  # noqa: F811
    """What comes in is drawn as a browser draws the file itself. Antialiasing differs by shares of
    a pixel along edges, masks and blends by rounding in 8 bits.
    """
    body = path.read_text()
    theirs = drawn(body, SIDE, SIDE)
    safe = sanitise(body.encode())
    matrix = (1, 0, 0, 1, SIDE / 2, SIDE / 2)
    found = rasterised(safe.data, (safe.width, safe.height), matrix, SIDE, SIDE) / 255
    found[..., :3] *= found[..., 3:]
    away = np.abs(found - theirs).max(2)
    assert away.mean() < 0.008, away.mean()
    assert (away > 0.1).mean() < 0.02


@pytest.mark.parametrize("angle", [0, 37, 90, 180, 250])
def test_gradients_against_chromium(drawn, tmp_path, angle):  # noqa: F811
    """CSS Images Level 3, linear-gradient(): the same angle, the same length, the same mixing."""
    stops = [
        {"at": 0, "colour": "#1d2c45"},
        {"at": 0.3, "colour": "#c2451a"},
        {"at": 1, "colour": "#f1e6cc"},
    ]
    css = ",".join(f"{stop['colour']} {stop['at'] * 100}%" for stop in stops)
    theirs = drawn(
        f'<div style="{SIZE};background:linear-gradient({angle}deg,{css})"></div>',
        240,
        160,
    )
    document = piece(
        ground={"kind": "gradient", "stops": stops, "angle_deg": angle}, size=(240, 160)
    )
    found = engine.pixels(document, None, 1.0, AssetStore(tmp_path)) / 255
    np.testing.assert_allclose(found, theirs[..., :3], atol=2 / 255)
