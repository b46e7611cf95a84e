"""Styles and scripts of the bench, of all its rooms."""

from django import template
from django.templatetags.static import static
from django.utils.html import format_html_join
from django.utils.safestring import mark_safe

from kilnmark.bench.rooms import ROOMS
from kilnmark.tags import scripts

register = template.Library()


@register.simple_tag
def bench_styles():
    """The controls' style, the page's and each room's."""
    names = ("controls/controls", "bench/bench", *(f"bench/{room}/{room}" for room in ROOMS))
    return format_html_join(
        "\n",
        '<link rel="stylesheet" href="{}">',
        ((static(f"{name}.css"),) for name in names),
    )


@register.simple_tag
def bench_scripts():
    """All modules of the page and of its rooms: each thing on the page starts itself."""
    folders = ("controls", "bench", *(f"bench/{room}" for room in ROOMS))
    return mark_safe("\n".join(scripts(folder) for folder in folders))  # noqa: S308  escaped there
