"""Mist: soft clouds that flow into each other."""

import numpy as np

from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.flow import flowed
from kilncore.textures.makers.parts.tones import ramp, to_bytes

LIGHTS: dict[str, tuple] = {
    "grey": ("Grey", (20, 20, 22), (128, 128, 130), (240, 240, 242)),
    "dusk": ("Dusk", (24, 24, 48), (96, 74, 110), (228, 164, 140), (250, 226, 198)),
    "sea": ("Sea", (8, 26, 38), (34, 92, 106), (138, 186, 184), (232, 240, 232)),
    "ember": ("Ember", (14, 10, 14), (92, 28, 22), (212, 96, 40), (252, 214, 142)),
}
CHOICES = tuple((name, told[0]) for name, told in LIGHTS.items())


class MistSettings(Model):
    """size_px : of a cloud. wisps : how fine they fray. flow : how far they are drawn into each
    other. contrast : of it.
    """

    light: str = setting("grey", "Light", "", "made_choice", choices=CHOICES)
    size_px: float = setting(
        600, "Clouds", "", "made_number", unit="px", soft=(100, 2400), ge=40, le=8000, step=20
    )
    contrast: float = setting(0.5, "Contrast", "", "share", ge=0, le=1)
    wisps: float = setting(0.45, "Wisps", "How fine they fray.", "share", ge=0, le=1)
    flow: float = setting(0.5, "Flow", "", "share", ge=0, le=1)


@maker(
    "mist",
    title="Mist",
    good_for="a coat, or a fill",
    settings=MistSettings,
    group="Light and pattern",
    starts={
        "Fog": {},
        "Dusk over water": {"light": "dusk", "flow": 0.75, "wisps": 0.3},
        "Smoke": {"light": "ember", "size_px": 320.0, "wisps": 0.7, "flow": 1.0, "contrast": 0.8},
    },
)
def mist(settings: MistSettings, fields: Fields) -> np.ndarray:
    """(3, height, width) uint8."""
    size = settings.size_px
    clouds = fields.cloud(size, 2.7 - 1.0 * settings.wisps)
    for share in (0.5, 0.22):
        drift = [
            size * share * 0.55 * settings.flow * fields.cloud(size * share * 2, 2.4) for _ in "xy"
        ]
        clouds = flowed(fields, clouds, *drift)
    shape = np.tanh((0.45 + 1.5 * settings.contrast) * clouds)
    tone = 0.5 + 0.46 * shape / np.tanh(2.2 * (0.45 + 1.5 * settings.contrast))
    colour = ramp(tone, *LIGHTS[settings.light][1:])
    colour += np.float32(0.006) * fields.band(2.2, 0.5)  # so that nothing bands
    return to_bytes(colour)
