"""The blend modes: 16 of W3C Compositing and Blending Level 1, plus-lighter, and eight more under
plain names.

docs/engine.md has their table. A new separable mode is its rule in `compiled/operations/blend.py`
and its line here; one that needs all three channels, a function in `non_separable.NON_SEPARABLE`
and its line here.
"""

from dataclasses import dataclass

from kilncore.errors import KilnError


@dataclass(frozen=True)
class BlendMode:
    """name : of CSS, where CSS has it. title : as it is shown."""

    name: str
    title: str


MODES = (
    ("normal", "Normal"),
    ("multiply", "Multiply"),
    ("screen", "Screen"),
    ("overlay", "Overlay"),
    ("darken", "Darken"),
    ("lighten", "Lighten"),
    ("color-dodge", "Colour dodge"),
    ("color-burn", "Colour burn"),
    ("hard-light", "Hard light"),
    ("soft-light", "Soft light"),
    ("difference", "Difference"),
    ("exclusion", "Exclusion"),
    ("hue", "Hue"),
    ("saturation", "Saturation"),
    ("color", "Colour"),
    ("luminosity", "Luminosity"),
    ("plus-lighter", "Plus lighter"),
    ("add", "Add"),
    ("subtract", "Subtract"),
    ("divide", "Divide"),
    ("linear-burn", "Linear burn"),
    ("linear-light", "Linear light"),
    ("inverse-difference", "Inverse difference"),
    ("darker-color", "Darker colour"),
    ("lighter-color", "Lighter colour"),
)
BLEND_MODES = {name: BlendMode(name, title) for name, title in MODES}


def mode_named(name: str) -> BlendMode:
    """The mode of that name (the CSS one, where CSS has it), or a KilnError."""
    if name not in BLEND_MODES:
        raise KilnError(f"A blend mode must be one of: {', '.join(BLEND_MODES)}.", name)
    return BLEND_MODES[name]
