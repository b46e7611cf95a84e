"""What is held back as a layer over the stage: diagonal hatching, denser where less comes through,
or the weight alone as grey.
"""

import numpy as np

PERIOD, DENSEST = 10, 0.7  # screen px from line to line; of which a line takes at most so much
INK, EDGE = (32, 38, 42), (255, 255, 255)  # a dark line with a light one along it shows on anything
INK_ALPHA, EDGE_ALPHA, EDGE_WIDTH = 215, 120, 1.0


def hatched(weight: np.ndarray, area: np.ndarray) -> np.ndarray:
    """(H, W, 4) uint8 straight. weight, area : (H, W), 0..1; nothing is drawn where all comes
    through, or where there is no area.
    """
    height, width = weight.shape
    phase = (np.arange(width)[None] + np.arange(height)[:, None]) % PERIOD
    held = (1 - weight) * area
    wide = held * (PERIOD * DENSEST)
    ink = np.clip(wide - phase, 0, 1)
    edge = np.clip(wide + EDGE_WIDTH - phase, 0, 1) * (held > 1 / 255) - ink
    out = np.zeros((height, width, 4), np.uint8)
    out[..., :3] = np.where((ink >= edge)[..., None], INK, EDGE)
    out[..., 3] = np.rint(ink * INK_ALPHA + np.clip(edge, 0, 1) * EDGE_ALPHA)
    return out


def grey(weight: np.ndarray, area: np.ndarray) -> np.ndarray:
    """(H, W, 4) uint8 straight: black where all is held back, white where all comes through."""
    bytes_ = np.rint(np.clip(np.stack([weight, weight, weight, area], -1), 0, 1) * 255)
    return bytes_.astype(np.uint8)


LOOKS = {"hatched": hatched, "grey": grey}
