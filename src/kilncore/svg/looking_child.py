"""The child process that looks at a drawing that was made safe: what it is made of."""

import re

from lxml import etree

from kilncore.svg import parts
from kilncore.system.sandbox import answer

SAMPLED = 3  # of so many pixels of the trial one is looked at
MOST_WALKED = 6_000  # tags
HEX = re.compile(rb'"(#[0-9a-f]{6})')
MOST_TOLD = 60  # colours, paints or groups


def _look(request: dict, data: bytes) -> tuple[dict, bytes]:
    return made_of(data[request["pixels"] :], data[: request["pixels"]]), b""


def made_of(svg: bytes, pixels: bytes) -> dict:
    """Its colours with their shares, its paints in order with their groups' numbers, and what its
    groups are called. svg : clean. pixels : of the trial, (N, 4) straight bytes.
    """
    root = etree.fromstring(svg)
    names = parts.group_names(root)
    if svg.count(b"<") > MOST_WALKED:  # of one so large only what is told at a glance
        inside = svg[svg.find(b">") :]  # the root names a colour that nothing may have
        colours, paints = [one.decode() for one in dict.fromkeys(HEX.findall(inside))], []
    else:
        colours, paints = parts.colours(root), parts.paints(root)
    return {
        "colours": _shares(colours[:MOST_TOLD], pixels),
        "paints": paints if len({paint for paint, _ in paints}) <= MOST_TOLD else [],
        "groups": names if len(names) <= MOST_TOLD else [],
    }


def _shares(colours: list[str], pixels: bytes) -> list:
    """[[colour, share of what is covered], ...], the largest first: each pixel counts for the
    colour that it is nearest to.
    """
    import numpy as np

    if not colours:
        return []
    drawing = np.frombuffer(pixels, np.uint8).reshape(-1, 4)[::SAMPLED].astype(np.float32)
    weights = drawing[:, 3] / 255
    known = np.array([[int(c[i : i + 2], 16) for i in (1, 3, 5)] for c in colours], np.float32)
    away = [((drawing[:, :3] - one) ** 2).sum(1) for one in known]
    shares = np.bincount(np.argmin(away, 0), weights, len(colours)) / max(weights.sum(), 1e-6)
    order = np.argsort(-shares, kind="stable")
    return [[colours[n], round(float(shares[n]), 4)] for n in order if shares[n] > 0]


if __name__ == "__main__":
    answer(_look)
