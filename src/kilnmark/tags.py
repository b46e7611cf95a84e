"""Template tags: icons of the shipped set, drawn inline."""

import re
from functools import cache
from pathlib import Path

from django import template
from django.contrib.staticfiles.storage import staticfiles_storage
from django.templatetags.static import static
from django.utils.html import format_html_join
from django.utils.safestring import mark_safe

from kilncore.model.units import format_number
from kilnmark.bundles import modules_of, name_of

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
def scripts(page: str):
    """The scripts of a page, one of `bundles.BUNDLES`: in one file, or a module each."""
    bundled = getattr(staticfiles_storage, "has", lambda name: False)(name_of(page))
    names = [name_of(page)] if bundled else modules_of(page)
    return format_html_join(
        "\n", '<script type="module" src="{}"></script>', ((static(name),) for name in names)
    )


register.filter("format_number", format_number)  # the bench's numbers.js does the same


@register.filter
def dash(value, unit=""):
    """A number without needless zeros, and its unit."""
    return f"{value:g} {unit}".strip()
