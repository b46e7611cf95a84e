"""What a wear reads beyond its input, named to the engine."""

from typing import Any

from kilncore.graph.sources import Sources
from kilncore.planes.mark_shape import DraftShape, MarkShape, shape_factor
from kilncore.wear.asked import Asked
from kilncore.wear.bridges import Bridges
from kilncore.wear.settings import WearSettings
from kilncore.wear.tones import WearTones


def planes(settings: WearSettings, sources: Sources) -> dict:
    """How much of the mark lies under each tone; its shape; where bridges must be; the region."""
    if settings.texture is None:
        return {}
    asked = Asked(settings, sources.frame, sources.strength)
    named: dict[str, Any] = {}
    shape: Any = None
    tones: Any = None
    if asked.region:
        named["region"] = asked.region
    if not (asked.reads_shape or asked.solves):
        return named
    full = sources.full_size()
    masked = Asked(settings, full.frame).masked
    if asked.reads_shape:
        shape = named["shape"] = shape_of(sources)
    if asked.solves:
        sampled = sources.frame.scale < 1
        tones = named["tones"] = WearTones(full.outline, full.whole, masked, shape, sampled)
    if asked.bridges:
        named["bridges"] = Bridges(shape, tones, masked, asked.wanted, asked.stroke_px)
    return named


def shape_of(sources: Sources) -> MarkShape:
    """The shape of the bare mark that a step treats."""
    full, scale = sources.full_size(), sources.frame.scale
    told = [one.whole.intersection(one.bare.extent.expanded(2)) for one in (full, sources)]
    draft = DraftShape(sources.bare, told[1], scale) if scale < 1 else None
    return MarkShape(full.bare, told[0], shape_factor(*sources.page_px), draft)
