"""What the shelf's pages need: looking up, and sizes in words."""

from django import template

from kilncore.model.units import px_to_mm
from kilncore.textures.facts import PRINT_PPI

register = template.Library()


@register.filter
def at(values: dict, key: str):
    """A value by its key."""
    return values[key]


@register.filter
def of(values: dict, key: str):
    """A value by its key, or nothing."""
    return values.get(key, "")


@register.filter
def mm(texture) -> str:
    """Its size in print at 300 ppi."""
    wide, tall = (px_to_mm(side, PRINT_PPI) for side in (texture.width, texture.height))
    return f"{wide:.0f} × {tall:.0f} mm"


@register.filter
def speck(texture) -> str:
    """The size of its specks."""
    return f"{px_to_mm(texture.measured.coarse_px, PRINT_PPI):.2g} mm"


@register.filter
def with_tag(asked, tag: str) -> str:
    return asked.query(tag=tag)


@register.filter
def without_tag(asked) -> str:
    return asked.query(tag="")
