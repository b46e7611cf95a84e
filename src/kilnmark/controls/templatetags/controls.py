"""What the controls' templates need: the shelf's row of a texture, a histogram as a line."""

from django import template

register = template.Library()
TALL = 64


@register.simple_tag
def texture_row(textures: dict, ref):
    """The row of the texture that a reference names, or None."""
    return textures.get(ref.hash) if ref else None


@register.filter
def histogram_path(counts: list[int]) -> str:
    """An SVG path of 256 tones. Square roots, and the ends cut, so that a few loud tones do not
    flatten the rest.
    """
    roots = [count**0.5 for count in counts]
    most = sorted(roots)[-6] or max(roots) or 1
    points = " ".join(
        f"L{tone} {TALL - min(root / most, 1) * (TALL - 4):.1f}" for tone, root in enumerate(roots)
    )
    return f"M0 {TALL} {points} L256 {TALL}Z"
