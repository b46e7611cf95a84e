"""How far a texture goes along with itself beyond its pieces: what is laid of pieces keeps what
lies within one, and loses what is longer (`prep.pieces`).
"""

import numpy as np

from kilncore.measure.grey import checked_grey, shrunk, without_trend
from kilncore.system.opencv import cv2

PROXY_PX = 360
MOST_LAG = 0.6  # of a side: of longer ones too little lies over itself
FLAT = 1e-4


def structure(grey: np.ndarray, piece_px: float) -> float:
    """The strongest correlation of a texture with itself, from a piece's size on, in any direction.

    Parameters
    ----------
    grey : (H, W) float array
        0..1.
    piece_px : float
        Size of the pieces, px.

    Returns
    -------
    float
        0, nothing goes on beyond a piece, to 1, as of a pattern or of boards.

    References
    ----------
    The autocorrelation by Wiener and Khinchin's theorem, with zeros around it, over the share of
    the picture that lies over itself. Light that falls off over the whole is taken out first.
    """
    small, scale = shrunk(checked_grey(grey), PROXY_PX)
    values = without_trend(small)
    if values.std() < FLAT:
        return 0.0
    height, width = values.shape
    size = cv2.getOptimalDFTSize(2 * height), cv2.getOptimalDFTSize(2 * width)
    power = np.abs(np.fft.rfft2(values, size)) ** 2
    found = np.fft.irfft2(power, size)
    down = np.fft.fftfreq(size[0], 1 / size[0])[:, None]
    across = np.fft.fftfreq(size[1], 1 / size[1])[None, :]
    lies = np.clip(1 - np.abs(down) / height, 0, 1) * np.clip(1 - np.abs(across) / width, 0, 1)
    near = (np.abs(down) <= MOST_LAG * height) & (np.abs(across) <= MOST_LAG * width)
    counted = near & (np.hypot(down, across) >= max(piece_px * scale, 2.0))
    if not counted.any():
        return 0.0
    together = found[counted] / (lies[counted] * found[0, 0])
    return float(np.clip(together.max(), 0, 1))
