"""Template tags: icons of the shipped set, drawn inline."""

import re
from functools import cache
from pathlib import Path

from django import template
from django.utils.safestring import mark_safe

from kilncore.units import told_number

register = template.Library()
ICONS = Path(__file__).parent / "static" / "vendor" / "icons"


@register.simple_tag
def icon(name: str) -> str:
    return _svg(name)


@cache
def _svg(name: str) -> str:
    svg = (ICONS / f"{name}.svg").read_text()
    svg = re.sub(r'class="[^"]*"', 'class="icon" aria-hidden="true"', svg, count=1)
    return mark_safe(svg)  # noqa: S308  shipped with the application


register.filter("told_number", told_number)  # the bench's numbers.js does the same


@register.filter
def dash(value, unit=""):
    """A number without needless zeros, and its unit."""
    return f"{value:g} {unit}".strip()
