"""The child process that takes an SVG in: it reads it, makes it safe, weighs it, draws it once for
trial, and tells what it is made of.
"""

from lxml import etree

from kilncore.svg import parts
from kilncore.svg.raster_child import drawn
from kilncore.svg.sanitising import sanitise
from kilncore.system.sandbox import answer

TRIAL_PX = 256
MOST_TOLD = 60  # colours, paints or groups


def _take_in(request: dict, data: bytes) -> tuple[dict, bytes]:
    safe = sanitise(data)
    scale = TRIAL_PX / max(safe.width, safe.height)
    pixels = drawn(
        safe.data,
        (safe.width, safe.height),
        (scale, 0, 0, scale, TRIAL_PX / 2, TRIAL_PX / 2),
        TRIAL_PX,
        TRIAL_PX,
        scale,
    )
    told = {"width": safe.width, "height": safe.height, "left_out": safe.left_out}
    return told | {"fonts": safe.fonts, **_made_of(safe.data, pixels)}, safe.data


def _made_of(svg: bytes, pixels: bytes) -> dict:
    """Its colours with their shares, its paints in order, and what its groups are called."""
    root = etree.fromstring(svg)
    colours, paints, names = parts.colours(root), parts.paints(root), parts.group_names(root)
    return {
        "colours": _shares(colours[:MOST_TOLD], pixels),
        "paints": paints if len(set(paints)) <= MOST_TOLD else [],
        "groups": names if len(names) <= MOST_TOLD else [],
    }


def _shares(colours: list[str], pixels: bytes) -> list:
    """[[colour, share of what is covered], ...], the largest first: each pixel counts for the
    colour that it is nearest to.
    """
    import numpy as np

    if not colours:
        return []
    drawing = np.frombuffer(pixels, np.uint8).reshape(-1, 4).astype(np.float32)
    weights = drawing[:, 3] / 255
    known = np.array([[int(c[i : i + 2], 16) for i in (1, 3, 5)] for c in colours], np.float32)
    away = [((drawing[:, :3] - one) ** 2).sum(1) for one in known]
    shares = np.bincount(np.argmin(away, 0), weights, len(colours)) / max(weights.sum(), 1e-6)
    order = np.argsort(-shares, kind="stable")
    return [[colours[n], round(float(shares[n]), 4)] for n in order if shares[n] > 0]


if __name__ == "__main__":
    answer(_take_in)
