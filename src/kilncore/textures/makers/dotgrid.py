"""Dot grid: dots in rows, pushed out of place and smoothed, larger here and smaller there."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.tones import to_bytes


class DotGridSettings(Model):
    """pitch_px : from dot to dot. dot : its diameter, as a share of the pitch. pushed : how far
    they are pushed out of place, in pitches. wave_px : how far apart pushes lie. swells : how sizes
    differ.
    """

    pitch_px: float = setting(
        22, "Dots", "From one to the next.", "made_number", unit="px", soft=(6, 120), ge=4, le=800
    )
    dot: float = setting(0.5, "Size", "Of the pitch.", "share", ge=0, le=1)
    pushed: float = setting(0.5, "Pushed", "Out of place.", "share", ge=0, le=1)
    wave_px: float = setting(
        260, "Waves", "", "made_number", unit="px", soft=(40, 1200), ge=20, le=6000, step=10
    )
    swells: float = setting(0.5, "Swells", "How sizes differ.", "share", ge=0, le=1)


@maker(
    "dotgrid",
    title="Dot grid",
    good_for="a fill, or a mask",
    settings=DotGridSettings,
    group="Light and pattern",
    starts={
        "Drifting": {},
        "Perforated": {"pushed": 0.0, "swells": 0.0, "dot": 0.55, "pitch_px": 30.0},
        "Melting": {"pushed": 1.0, "swells": 1.0, "dot": 0.75, "wave_px": 150.0},
    },
)
def dotgrid(settings: DotGridSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8: dark dots on white."""
    scale, pitch, wave = fields.scale, settings.pitch_px, settings.wave_px
    columns = max(1, round(fields.width / (pitch * scale)))
    rows = max(1, round(fields.height / (pitch * scale)))
    push = fields.sway(0.9 * settings.pushed, wave, 2.6, shortest=0.15 * wave)
    x = (np.arange(fields.width, dtype=np.float32)[None] + 0.5) * np.float32(columns / fields.width)
    y = (np.arange(fields.height, dtype=np.float32)[:, None] + 0.5) * np.float32(
        rows / fields.height
    )
    dx, dy = (x + push[0]) % 1 - np.float32(0.5), (y + push[1]) % 1 - np.float32(0.5)
    swell = 1 + settings.swells * 0.55 * np.tanh(fields.cloud(1.3 * wave, 2.4, shortest=0.2 * wave))
    radius = 0.62 * settings.dot * swell
    # an edge is one px wide, however the grid is stretched there
    slope = np.hypot(np.gradient(dx + dy, axis=0), np.gradient(dx + dy, axis=1))
    px = np.float32(min(columns / fields.width, rows / fields.height))
    near = np.clip(slope, 0.5 * px, 2.5 * px)  # where a row ends the slope says nothing
    ink = np.clip((radius - np.hypot(dx, dy)) / near + 0.5, 0, 1)
    if not settings.dot:
        ink = np.zeros_like(ink)
    return to_bytes(0.97 - 0.92 * ink)
