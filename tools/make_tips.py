"""The tips that ship, made from our own makers' textures: `python -m tools.make_tips`.

Each is a piece of a texture within a shape that has no even rim. What they look like is seen in the
strokes that they make.
"""

import zlib

import numpy as np

from kilncore.strokes.tip import FOLDER, SHIPPED, SIZE, tip_of
from kilncore.system.opencv import cv2
from kilncore.textures import makers

WORK = 2  # times as large as they are kept
ACROSS = SIZE * WORK
Y, X = (np.mgrid[:ACROSS, :ACROSS] + 0.5) / (ACROSS / 2) - 1
AWAY, ANGLE = np.hypot(X, Y), np.arctan2(Y, X)


def noise(seed: int, sigma: float, stretch: float = 1.0) -> np.ndarray:
    """White noise, blurred; mean 0, deviation 1."""
    white = np.random.default_rng(seed).standard_normal((ACROSS, ACROSS))
    wide = (0, 0), sigma * stretch
    found = cv2.GaussianBlur(white, wide[0], sigmaX=wide[1], sigmaY=sigma)
    return (found - found.mean()) / found.std()


def grey(name: str, seed: int, size: int = ACROSS, **settings) -> np.ndarray:
    """A maker's texture, its luma 0..1 stretched from its 2nd to its 98th percentile."""
    planes = makers.make(name, size, size, seed, **settings).astype(np.float64)
    luma = planes.mean(0)
    low, high = np.percentile(luma, (2, 98))
    return cv2.resize(
        np.clip((luma - low) / max(high - low, 1), 0, 1),
        (ACROSS, ACROSS),
        interpolation=cv2.INTER_AREA,
    )


def ball(seed: int, size: float = 0.86, rough: float = 0.10, soft: float = 0.06) -> np.ndarray:
    """A round that is not quite one: 1 within, with a rim as rough as is told."""
    lobes = np.random.default_rng(seed).standard_normal((2, 7)) / np.arange(2, 9)
    rim = sum(
        lobes[0, k] * np.cos((k + 2) * ANGLE) + lobes[1, k] * np.sin((k + 2) * ANGLE)
        for k in range(7)
    )
    rim = (
        size * (1 + 0.06 * rim)
        + rough * 0.5 * noise(seed + 50, 5) * 0.5
        + rough * 0.25 * noise(seed + 60, 2)
    )
    return np.clip((rim - AWAY) / soft, 0, 1)


def cut(values: np.ndarray, at: float, soft: float) -> np.ndarray:
    """0 below, 1 above, with a slope of that width."""
    return np.clip((values - at) / soft + 0.5, 0, 1)


def spots(
    seed: int,
    count: int,
    radii: tuple[float, float],
    spread: tuple[float, float],
    power: float = 2.0,
) -> np.ndarray:
    """Round spots of many sizes, strewn more thickly towards the middle."""
    random, out = np.random.default_rng(seed), np.zeros((ACROSS, ACROSS))
    for _ in range(count):
        x, y = random.normal(0, spread[0]), random.normal(0, spread[1])
        u = random.random()
        radius = radii[0] * (1 - u * (1 - (radii[0] / radii[1]) ** power)) ** (-1 / power)
        if np.hypot(x, y) + radius > 0.97:
            continue
        wobble = radius * (
            1 + 0.18 * np.sin(angle_of(x, y) * random.integers(2, 5) + random.random() * 6)
        )
        out = np.maximum(out, np.clip((wobble - np.hypot(X - x, Y - y)) / 0.012 + 0.5, 0, 1))
    return out


def angle_of(x: float, y: float) -> np.ndarray:
    return np.arctan2(Y - y, X - x)


def felt_ball() -> np.ndarray:
    fibres = 1 - grey("felt", 4)
    return ball(1, 0.86, 0.16, 0.10) * (
        0.30 + 0.70 * cut(0.55 * fibres + 0.16 * noise(3, 9) + 0.12 * noise(4, 2.2), 0.16, 0.34)
    )


def cork() -> np.ndarray:
    grains = grey("cork", 8)
    holes = cut(grains + 0.10 * noise(5, 7), 0.38, 0.10)
    return ball(2, 0.88, 0.10, 0.03) * holes * cut(noise(6, 26), -1.15, 0.3)


def spatter() -> np.ndarray:
    return np.maximum(
        spots(11, 420, (0.006, 0.11), (0.34, 0.34), 1.5),
        spots(12, 60, (0.02, 0.17), (0.2, 0.2), 1.7),
    )


def dry_bristle() -> np.ndarray:
    hairs = cut(noise(21, 2.4, 2.2) + 0.5 * noise(22, 14), 0.72, 0.5)
    return hairs * np.clip((1 - (X / 0.42) ** 2 - (Y / 0.94) ** 4) * 4, 0, 1)


def torn_card() -> np.ndarray:
    fray = 0.05 * noise(31, 12) + 0.03 * noise(32, 3)
    edge = cut(fray - np.abs(X) + 0.10, 0.0, 0.05) * np.clip((0.96 - np.abs(Y)) * 12, 0, 1)
    return edge * cut(noise(33, 3, 0.5) + 0.6 * noise(34, 16), -0.35, 0.7)


def chalk() -> np.ndarray:
    tooth = cut(0.8 * noise(41, 1.9) + 0.55 * noise(42, 5) + 0.3 * noise(47, 20), 0.25, 0.45)
    return ball(43, 0.80, 0.22, 0.28) * tooth


def rag() -> np.ndarray:
    weave = grey("weave", 3)
    folds = cut(noise(51, 14) + 0.7 * noise(52, 30, 1.6), -0.2, 0.7)
    return (
        ball(53, 0.85, 0.26, 0.12)
        * folds
        * (0.25 + 0.75 * cut(weave + 0.08 * noise(54, 2), 0.46, 0.30))
    )


def crumb() -> np.ndarray:
    lumps = noise(61, 15) + 0.5 * noise(62, 6) + 0.22 * noise(63, 2.4)
    return ball(64, 0.82, 0.3, 0.2) * cut(lumps, 0.95, 0.16)


def wire() -> np.ndarray:
    random, out = np.random.default_rng(71), np.zeros((ACROSS, ACROSS))
    for _ in range(11):
        y, radius = random.uniform(-0.9, 0.9), random.uniform(0.010, 0.024)
        x = random.uniform(-0.06, 0.06)
        out = np.maximum(
            out,
            np.clip((radius - np.hypot(X - x, Y - y)) / 0.010 + 0.5, 0, 1) * random.uniform(0.5, 1),
        )
    return out


def sponge() -> np.ndarray:
    pores = noise(81, 9) + 0.55 * noise(82, 4) + 0.2 * noise(83, 1.8)
    return (
        ball(84, 0.86, 0.24, 0.12)
        * cut(pores, 0.18, 0.22)
        * (0.55 + 0.45 * cut(noise(85, 3), -0.3, 0.8))
    )


def main() -> None:
    FOLDER.mkdir(exist_ok=True)
    for name in SHIPPED:
        made = globals()[name.replace("-", "_")]()
        tip = tip_of(cv2.resize(made, (SIZE, SIZE), interpolation=cv2.INTER_AREA))
        data = zlib.compress(tip.pixels.tobytes(), 9)
        (FOLDER / f"{name}.tip").write_bytes(data)
        print(f"{name}: {len(data)} bytes, mean {tip.pixels.mean() / 255:.2f}")


if __name__ == "__main__":
    main()
