"""Soften: a true Gaussian blur, so that art is no sharper than the surface it sits on; or along a
direction, or out from the middle.
"""

import math
from dataclasses import replace
from typing import Any

import numpy as np

from kilncore.blur import blur_within
from kilncore.blur import reach as blur_reach
from kilncore.graph.protocols import View
from kilncore.pixels.smear import MOST_PX, smeared
from kilncore.planes.softness_across import Slope, softness_across
from kilncore.planes.surface_facts import surface_under
from kilncore.steps.base import Remake, step
from kilncore.steps.soften_settings import ALONG, EVEN, OUT, SoftenSettings, states, summary

WHOLE = 1 + 2e-6  # what was everywhere stays so: the weights' sum is 1 but for rounding
MOST_MATCHED = 12.0  # document px: the softest surface that a mark is matched to
FAINT = 1e-6
LEVEL = 0.75  # output px of sigma between two blurs, between which a varying one lies


def sigma_of(settings: SoftenSettings, frame: Any, surface: Any = None) -> float:
    """Output px of the blur. surface : what was measured, for a match."""
    if settings.match and surface is not None and surface.softness is not None:
        return min(surface.softness, MOST_MATCHED) * frame.scale
    return min(max(frame.length(settings.radius), 0), 100)


def _longest(settings: SoftenSettings, frame: Any) -> float:
    """Output px of the longest way that is smeared."""
    if settings.way == ALONG:
        far = abs(frame.length(settings.length))
    else:
        around = math.hypot(frame.page_width_px, frame.page_height_px) * frame.scale
        far = settings.spread * around
    return min(far, MOST_PX * max(frame.scale, 1))


def _reach(settings: SoftenSettings, frame: Any) -> int:
    if settings.way != EVEN:
        return math.ceil(_longest(settings, frame) / 2) + 2
    if settings.match:
        most = max(MOST_MATCHED * frame.scale, sigma_of(settings, frame))
        return blur_reach(math.ceil(most / LEVEL) * LEVEL if settings.varies else most)
    return blur_reach(sigma_of(settings, frame))


def _planes(settings: SoftenSettings, sources: Any) -> dict:
    """What the surface is like, for a match."""
    if not settings.match or settings.way != EVEN:
        return {}
    named = {"surface": surface_under(sources, settings.place, settings.ground)}
    return named | ({"slope": softness_across(sources, settings.ground)} if settings.varies else {})


@step(
    "soften",
    title="Soften",
    sentence="Takes the edge off, until the art is no sharper than its surface.",
    group="In the surface",
    gives="remake",
    planewise=True,
    settings=SoftenSettings,
    summary=summary,
    states=states,
    reach=_reach,
    planes=_planes,
)
def soften(settings: SoftenSettings, view: View):
    """The picture, softened."""
    softened = _smeared(settings, view) if settings.way != EVEN else _blurred(settings, view)
    if settings.silhouette:
        if len(softened) != 4:
            return None if len(softened) == 1 else Remake(view.pictured(softened))
        softened = _within(softened, view.input())
    picture = view.pictured(softened)
    if picture.alpha is None:
        return Remake(picture)
    return Remake(replace(picture, alpha=picture.alpha.clamped(WHOLE)))


def _blurred(settings: SoftenSettings, view: Any) -> np.ndarray:
    surface = view.value("surface") if "surface" in view.plane_names else None
    slope = view.value("slope") if "slope" in view.plane_names else None
    if slope is not None:
        return _varying(slope, view)
    sigma = sigma_of(settings, view.frame, surface)
    margin = blur_reach(sigma)
    left, top = view.box.left - margin, view.box.top - margin
    return blur_within(view.input(margin), sigma, sigma, left, top)


def _varying(slope: Slope, view: Any) -> np.ndarray:
    """Blurred by more or less from place to place: between blurs that are `LEVEL` apart, the same
    ones in every tile, in the proportion of the place's own.
    """
    scale, box = view.frame.scale, view.box
    x = (np.arange(box.left, box.right, dtype=np.float32) + 0.5) / scale
    y = (np.arange(box.top, box.bottom, dtype=np.float32) + 0.5) / scale
    sigma = np.minimum(slope.at(x[None], y[:, None]), MOST_MATCHED).astype(np.float32) * scale
    place = sigma / np.float32(LEVEL)
    first, last = int(place.min()), int(np.ceil(place.max()))
    margin = blur_reach(last * LEVEL)
    given, corner = view.input(margin), (box.left - margin, box.top - margin)
    out = np.zeros((len(given), box.height, box.width), np.float32)
    for level in range(first, last + 1):
        share = np.clip(1 - np.abs(place - level), 0, 1)
        if share.any():
            out += share * _level(given, level * LEVEL, margin, corner)
    return out


def _level(given: np.ndarray, sigma: float, margin: int, corner: tuple[int, int]) -> np.ndarray:
    """All of it blurred alike, cut to the tile."""
    own = blur_reach(sigma)
    rest = margin - own
    _, height, width = given.shape
    inner = np.ascontiguousarray(given[:, rest : height - rest, rest : width - rest])
    return blur_within(inner, sigma, sigma, corner[0] + rest, corner[1] + rest)


def _smeared(settings: SoftenSettings, view: Any) -> np.ndarray:
    frame, margin = view.frame, _reach(settings, view.frame)
    if settings.way == OUT:
        middle = frame.middle
        corner = view.box.left, view.box.top
        return smeared(view.input(margin), margin, (0.0, 0.0), settings.spread, middle, corner)
    far = min(max(frame.length(settings.length), -2 * MOST_PX), 2 * MOST_PX)
    turn = frame.direction(math.radians(settings.angle_deg))
    way = far * math.cos(turn), far * math.sin(turn)
    return smeared(view.input(margin), margin, way, 0.0, (0.0, 0.0))


def _within(softened: np.ndarray, sharp: np.ndarray) -> np.ndarray:
    """Colours as they softened, in the outline as it was."""
    alpha = softened[3]
    colour = softened[:3] / np.maximum(alpha, np.float32(FAINT)) * sharp[3]
    return np.concatenate([np.minimum(colour, sharp[3]), sharp[3:]])
