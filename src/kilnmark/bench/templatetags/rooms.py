"""Styles of the bench, of all its rooms."""

from django import template
from django.templatetags.static import static
from django.utils.html import format_html_join

from kilnmark.bench.rooms import ROOMS

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
