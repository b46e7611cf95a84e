"""Template tags: icons of the shipped set, drawn inline."""

import re
from functools import cache
from pathlib import Path

from django import template
from django.contrib.staticfiles import finders
from django.templatetags.static import static
from django.utils.html import format_html_join
from django.utils.safestring import mark_safe

from kilncore.model.units import format_number

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


@register.simple_tag
def scripts(folder: str):
    """A script element for each module that lies in a folder of static files: a new one is found by
    being there.
    """
    names = (f"{folder}/{name}" for name in _modules(folder))
    return format_html_join(
        "\n", '<script type="module" src="{}"></script>', ((static(name),) for name in names)
    )


@cache
def _modules(folder: str) -> list[str]:
    return sorted(path.name for path in Path(finders.find(folder)).glob("*.js"))


register.filter("format_number", format_number)  # the bench's numbers.js does the same


@register.filter
def dash(value, unit=""):
    """A number without needless zeros, and its unit."""
    return f"{value:g} {unit}".strip()
