"""The demo's own pictures, made anew: python -m tools.demo_pictures.

The badge printed on white paper and photographed, as a JPEG; and a lamp drawn in ink on warm paper
under uneven light. Both are drawn here and shipped, so that the demo shows what comes in as pixels.
"""

import math
from pathlib import Path

import cv2
import numpy as np
import pyvips

from kilncore.artwork.intake import brought_in
from kilncore.artwork.vector import rasterised
from kilncore.textures.makers import make

ART = Path(__file__).parents[1] / "src" / "kilnmark" / "demo" / "art"
INKS = {"#efe8d6": "#1f3a5f", "#e3b04b": "#d9912b"}  # of the badge, as it is printed on white
FINER = 3  # drawn so many times as large, and made smaller


def badge() -> np.ndarray:
    """(H, W, 3) 0..1: the badge on white paper, a little soft and grainy."""
    svg = brought_in((ART / "moon-badge.svg").read_bytes())
    side, scale = 1500, 1180 / max(svg.width, svg.height)
    matrix = (scale, 0, 0, scale, side / 2, side / 2)
    inks = {"colours": INKS, "over": None, "paints": [], "groups_": [], "under": []}
    size = (svg.width, svg.height)
    drawn = rasterised(svg.data, size, matrix, side, side, 1.0, inks).astype(float) / 255
    alpha = drawn[..., 3:]
    picture = drawn[..., :3] * alpha + np.array([0.985, 0.982, 0.972]) * (1 - alpha)
    picture = cv2.GaussianBlur(picture, (0, 0), 0.6)
    return picture + np.random.default_rng(8).normal(0, 0.006, picture.shape)


def _stroke(sheet, points, wide, rng) -> None:
    """A brush stroke: as wide as it is pressed, and never quite straight."""
    points = np.array(points, float) * FINER
    count = max(2, int(np.hypot(*np.diff(points, axis=0).T).sum() / 2))
    steps = np.linspace(0, len(points) - 1, count)
    path = np.stack([np.interp(steps, range(len(points)), points[:, c]) for c in (0, 1)], 1)
    shake = cv2.GaussianBlur(rng.normal(0, 1, (count, 3)), (0, 0), max(count / 14, 2))
    shake /= np.abs(shake).max() + 1e-9
    press = 0.55 + 0.45 * np.sin(np.linspace(0.15, math.pi - 0.1, count))
    for place, pressed, (dx, dy, dw) in zip(path, press, shake, strict=True):
        x, y = place + (dx * 2.4 * FINER, dy * 2.4 * FINER)
        radius = max(wide * FINER * pressed * (1 + 0.22 * dw) / 2, 1.0)
        cv2.circle(sheet, (round(x * 8), round(y * 8)), round(radius * 8), 1.0, -1, cv2.LINE_AA, 3)


def _arc(x, y, rx, ry, start, end, count=40):
    turns = np.radians(np.linspace(start, end, count))
    return [(x + rx * math.cos(t), y + ry * math.sin(t)) for t in turns]


def _lamp(width, height, rng) -> np.ndarray:
    """How much ink there is, 0..1: a deck lamp over two waves."""
    sheet = np.zeros((height * FINER, width * FINER), np.float32)

    def draw(points, wide=13):
        _stroke(sheet, points, wide, rng)

    x, top = width / 2, 150
    draw(_arc(x, top, 62, 62, 150, 390), 15)
    draw([(x - 130, 300), (x - 96, 232), (x, 214), (x + 96, 232), (x + 130, 300)], 18)
    draw([(x - 152, 306), (x + 154, 300)], 22)
    for side in (-1, 1):
        draw([(x + side * 134, 312), (x + side * 150, 560), (x + side * 128, 806)], 15)
        draw([(x + side * 52, 318), (x + side * 58, 560), (x + side * 50, 800)], 8)
    draw([(x - 150, 470), (x + 152, 464)], 9)
    draw([(x - 148, 640), (x + 150, 646)], 9)
    draw([(x - 158, 812), (x + 160, 806)], 24)
    draw([(x - 120, 838), (x - 104, 890), (x + 106, 892), (x + 122, 836)], 16)
    draw(_arc(x - 4, 600, 36, 92, 80, 262), 16)
    draw(_arc(x + 4, 590, 30, 104, 268, 452), 16)
    draw([(x, 616), (x + 7, 662), (x - 4, 694)], 12)
    for row, (y, left) in enumerate(((1010, 120), (1096, 210))):
        for n in range(4 - row):
            start = left + n * 230
            draw(_arc(start + 58, y, 58, 34, 180, 355), 15)
            draw(_arc(start + 172, y, 58, 30, 180, 10), 13)
    for n, (turn, far) in enumerate(((-58, 330), (-28, 360), (0, 345), (28, 372), (56, 322))):
        for side in (-1, 1):
            a = math.radians(turn)
            px, py = x + side * math.cos(a) * 236, 560 + math.sin(a) * 236
            qx, qy = x + side * math.cos(a) * far, 560 + math.sin(a) * far
            draw([(px, py), (qx, qy)], 10 + n % 2 * 3)
    small = cv2.resize(sheet, (width, height), interpolation=cv2.INTER_AREA)
    dry = cv2.GaussianBlur(rng.normal(0, 1, small.shape), (0, 0), 1.3)
    return np.clip(small * np.clip(1.02 + 0.10 * dry / dry.std(), 0, 1), 0, 1)


def lamp() -> np.ndarray:
    """(H, W, 3) 0..1: drawn in ink on warm paper, lit from the upper left."""
    width, height = 1120, 1240
    rng = np.random.default_rng(14)
    ink = _lamp(width, height, rng)[..., None]
    paper = make("paper", 1280, 1280, 9)[..., :height, :width] / 255
    paper = np.moveaxis(np.broadcast_to(paper, (3, height, width)), 0, 2)
    paper = 1 + (paper - paper.mean()) * 0.9
    y, x = np.mgrid[:height, :width] / max(width, height)
    light = 0.97 - 0.30 * np.clip(x * 0.75 + y * 0.65, 0, 1.4) ** 1.3
    colour = np.array([0.96, 0.925, 0.85]) * (1 - ink) + np.array([0.10, 0.12, 0.20]) * ink
    picture = colour * paper * light[..., None]
    return picture + rng.normal(0, 0.008, picture.shape)


def _saved(picture: np.ndarray, name: str) -> None:
    pixels = np.rint(np.clip(picture, 0, 1) * 255).astype(np.uint8)
    image = pyvips.Image.new_from_memory(pixels.tobytes(), *pixels.shape[1::-1], 3, "uchar")
    image = image.copy(interpretation="srgb")
    image.jpegsave(str(ART / name), Q=88, subsample_mode="off", keep="none")


if __name__ == "__main__":
    _saved(badge(), "badge-on-paper.jpg")
    _saved(lamp(), "deck-lamp-in-ink.jpg")
