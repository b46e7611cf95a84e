"""Line field: lines side by side, bent like water and thicker here than there."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.tones import soft_step, to_bytes


class LinesSettings(Model):
    """pitch_px : from line to line. thick : of a line, as a share of the pitch. bent : how far, in
    waves. wave_px : of a bend. swells : how thickness varies. broken : how far lines end.
    """

    pitch_px: float = setting(
        14, "Lines", "From one to the next.", "made_number", unit="px", soft=(4, 80), ge=3, le=600
    )
    thick: float = setting(0.45, "Thick", "Of the pitch.", "share", ge=0, le=1)
    bent: float = setting(0.45, "Bent", "", "share", ge=0, le=1)
    wave_px: float = setting(
        320, "Waves", "", "made_number", unit="px", soft=(60, 1600), ge=30, le=8000, step=10
    )
    swells: float = setting(0.4, "Swells", "", "share", ge=0, le=1)
    broken: float = setting(0.0, "Broken", "How far they end.", "share", ge=0, le=1)


@maker(
    "lines",
    title="Line field",
    good_for="a fill, or a mask",
    settings=LinesSettings,
    group="Light and pattern",
    starts={
        "Wake": {},
        "Ruled": {"bent": 0.0, "swells": 0.0, "thick": 0.3, "pitch_px": 18.0},
        "Engraved water": {"pitch_px": 9.0, "bent": 0.8, "swells": 1.0, "broken": 0.4},
    },
)
def lines(settings: LinesSettings, fields: Fields) -> np.ndarray:
    """(1, height, width) uint8: dark lines that go across, on white."""
    wave = settings.wave_px
    rows = max(1, round(fields.height / (settings.pitch_px * fields.scale)))
    bend = fields.cloud(wave, 2.8, stretch=1.6, shortest=0.2 * wave)
    bend *= np.float32(0.22 * settings.bent * wave / settings.pitch_px)
    at = (np.arange(fields.height, dtype=np.float32)[:, None] + 0.5) * np.float32(
        rows / fields.height
    )
    phase = at + bend
    off = np.abs(phase % 1 - np.float32(0.5))
    swell = np.tanh(fields.cloud(0.8 * wave, 2.4, stretch=2, shortest=0.15 * wave))
    half = 0.5 * settings.thick * (1 + 0.9 * settings.swells * swell)
    if settings.broken:
        ends = fields.cloud(0.5 * wave, 1.8, stretch=3, shortest=0.04 * wave)
        gone = 2.4 - 2.9 * settings.broken
        half = half * (1 - soft_step(ends, gone - 0.5, gone + 0.3))
    step = np.float32(rows / fields.height)
    turned = np.roll(bend, -1, 0) - np.roll(bend, 1, 0), np.roll(bend, -1, 1) - np.roll(bend, 1, 1)
    slope = np.hypot(step + turned[0] / 2, turned[1] / 2)
    ink = np.clip((half - off) / np.maximum(slope, step / 4) + 0.5, 0, 1)
    ink *= np.clip(half / np.maximum(slope, 1e-6), 0, 1)  # thinner than a px: paler
    return to_bytes(0.97 - 0.92 * ink)
