"""What the controls' templates need: the shelf's row of a texture, a histogram as a line."""

import json

from django import template

from kilncore.model.units import px_to_mm
from kilncore.prep.chain import in_use, makes_seamless
from kilnmark.storage import assets

register = template.Library()
TALL = 64
ENDLESS = "endless"


@register.simple_tag
def texture_row(textures: dict, ref):
    """The row of the texture that a reference names, or None."""
    return textures.get(ref.hash) if ref else None


@register.simple_tag
def print_size(row, ppi: float) -> str:
    """The size of a texture at 100 %, in print at a piece's ppi."""
    wide, tall = (px_to_mm(side, ppi) for side in (row.width, row.height))
    return f"{wide:.0f} × {tall:.0f} mm"


@register.simple_tag
def tones_of(row, ref) -> list[int]:
    """How often each of 256 tones occurs in a texture as it is prepared: its row's own counts where
    nothing is done to it.
    """
    if not in_use(ref.chain):
        return row.histogram
    counts = assets().counts(ref.hash, ref.chain, ref.wraps)
    return counts.reshape(256, -1).sum(1).tolist()


@register.filter
def seamless(ref) -> bool:
    """Whether what prepares a texture makes it repeat."""
    return makes_seamless(ref.chain)


@register.filter
def beyond(ref) -> str:
    """What lies beyond a texture."""
    laid = any(one.kind == ENDLESS for one in in_use(ref.chain))
    return ENDLESS if laid else ref.edges


@register.filter
def piece_px(row) -> float:
    """In pieces of which size a texture on the shelf is laid endlessly; 0 where nobody knows."""
    return row.measured.piece_px if row and row.measured else 0


@register.filter
def percent(share: float) -> str:
    """A share in words."""
    return f"{100 * share:.1f} %"


@register.filter
def crop_sides(names: str) -> list[str]:
    """Names in one word each."""
    return names.split()


@register.filter
def as_json(value) -> str:
    """A value as its element carries it."""
    return json.dumps(value if value not in (None, "") else [])


@register.filter
def models_json(models) -> str:
    """Models of a document, likewise."""
    return json.dumps([model.model_dump(mode="json") for model in models])


@register.filter
def model_json(model) -> str:
    """A model of a document, or null."""
    return model.model_dump_json() if model else "null"


@register.filter
def changes_json(changes) -> str:
    """What colours become, by what they were."""
    return json.dumps({change.old: change.new for change in changes or ()})


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
