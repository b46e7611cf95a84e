"""What a rough stroke is drawn with: a small grey picture, 1 where a dab covers all.

A tip goes with every stroke that was drawn with it, as text: its pixels, zlib-packed (RFC 1950), in
base64 (RFC 4648). So a stroke stays as it was when the tips that ship become better ones, or a
texture leaves the shelf.
"""

import base64
import binascii
import zlib
from dataclasses import dataclass
from functools import cached_property, lru_cache
from pathlib import Path

import numpy as np

from kilncore.errors import KilnError
from kilncore.system.opencv import cv2

SIZE, STEPS = 192, 15  # px across; tones between black and white, so that files stay small
RIM, ROUGH, SOFT = 0.85, 0.2, 0.1  # of a tip that is made of a texture
FOLDER = Path(__file__).parent / "shipped"


@dataclass(frozen=True)
class Shipped:
    """A tip that ships: its name in words, and how it is laid until that is changed (see
    `stroke.Stroke`)."""

    title: str
    gap: float = 0.15
    follows: bool = False
    turns: float = 0.0
    sizes: float = 0.0
    strays: float = 0.0
    flips: bool = False
    loaded: float = 0.8


SHIPPED = {
    "felt-ball": Shipped("Felt ball", 0.3, turns=1, flips=True, loaded=0.6),
    "cork": Shipped("Cork", 0.45, turns=1, flips=True, loaded=0.95),
    "spatter": Shipped("Spatter", 0.55, turns=1, sizes=0.3, strays=0.25, flips=True, loaded=1),
    "dry-bristle": Shipped("Dry bristle", 0.03, follows=True, strays=0.02, loaded=0.35),
    "torn-card": Shipped(
        "Torn card", 0.05, follows=True, flips=True, turns=0.05, sizes=0.2, strays=0.05, loaded=0.4
    ),
    "chalk": Shipped("Chalk", 0.18, turns=1, flips=True, loaded=0.45),
    "rag": Shipped("Rag", 0.35, turns=1, flips=True, loaded=0.85),
    "crumb": Shipped("Crumb", 0.4, turns=1, sizes=0.35, strays=0.2, flips=True, loaded=1),
    "wire": Shipped("Wire", 0.02, follows=True, strays=0.006, loaded=0.6),
    "sponge": Shipped("Sponge", 0.4, turns=1, sizes=0.1, flips=True, loaded=0.9),
}


@dataclass(frozen=True, eq=False)
class Tip:
    """pixels : (SIZE, SIZE) uint8, 0 nothing to 255 all. told : the same as text."""

    pixels: np.ndarray
    told: str

    @cached_property
    def halved(self) -> np.ndarray:
        """One float32 array, 0..1: the pixels row by row, then the same halved again and again by
        means of four, down to 3 x 3."""
        level, levels = self.pixels.astype(np.float32) / np.float32(255), []
        while True:
            levels.append(level.ravel())
            if level.shape[0] % 2:
                return np.concatenate(levels)
            tall = level.shape[0] // 2
            level = level.reshape(tall, 2, tall, 2).mean((1, 3), dtype=np.float32)


def tip_of(pixels: np.ndarray) -> Tip:
    """A tip from (SIZE, SIZE) float, 0..1."""
    if pixels.shape != (SIZE, SIZE):
        raise KilnError(f"A tip is {SIZE} px by {SIZE} px.", str(pixels.shape))
    levels = np.rint(np.clip(np.nan_to_num(pixels), 0, 1) * STEPS) * (255 // STEPS)
    return _tip(levels.astype(np.uint8))


def tip_from(
    planes: np.ndarray, darks: bool, share: float = 1.0, middle: tuple[float, float] = (0.5, 0.5)
) -> Tip:
    """A tip of a square part of a texture, within a round that is not quite one.

    Parameters
    ----------
    planes : (C, H, W) uint8 or uint16
        The texture.
    darks : bool
        What is dark covers; else what is light.
    share : float
        How much of the shorter side is taken, 0..1.
    middle : (x, y)
        Of the part, as shares of the width and the height; moved inwards where it would reach
        beyond.

    Returns
    -------
    Tip
        Its tones spread from the 5th to the 95th percentile.
    """
    tall, wide = planes.shape[1:]
    side = max(int(min(tall, wide) * share), 1)
    left, top = (
        min(max(round(at * long - side / 2), 0), long - side)
        for at, long in zip(middle, (wide, tall), strict=True)
    )
    part = planes[:3, top : top + side, left : left + side].astype(np.float32).mean(0)
    small = cv2.resize(part, (SIZE, SIZE), interpolation=cv2.INTER_AREA)
    low, high = np.percentile(small, (5, 95))
    tones = np.clip((small - low) / max(high - low, 1e-6), 0, 1)
    covers = 1 - tones if darks else tones
    along = (np.arange(SIZE) + 0.5) / (SIZE / 2) - 1
    away = np.hypot(along[:, None], along[None])
    return tip_of(covers * np.clip((RIM - away + (covers - 0.5) * ROUGH) / SOFT, 0, 1))


def _tip(pixels: np.ndarray) -> Tip:
    told = base64.b64encode(zlib.compress(pixels.tobytes(), 9)).decode()
    return Tip(pixels, told)


def tip_named(told: str) -> Tip | None:
    """The tip of a stroke; None for the smooth round one.

    Parameters
    ----------
    told : str
        The name of a tip that ships, or a tip as text.

    Returns
    -------
    Tip or None
        None for "".

    Raises
    ------
    KilnError
        If it is neither.
    """
    if not told:
        return None
    return _shipped(told) if told in SHIPPED else _read(told)


@lru_cache(len(SHIPPED))
def _shipped(name: str) -> Tip:
    data = (FOLDER / f"{name}.tip").read_bytes()
    return _read(base64.b64encode(data).decode())


@lru_cache(64)
def _read(told: str) -> Tip:
    try:
        unpacking = zlib.decompressobj()
        data = unpacking.decompress(base64.b64decode(told, validate=True), SIZE * SIZE + 1)
    except (binascii.Error, ValueError, zlib.error) as error:
        raise KilnError("A tip cannot be read.", told[:60]) from error
    if len(data) != SIZE * SIZE:
        raise KilnError(f"A tip is {SIZE} px by {SIZE} px.", f"{len(data)} bytes")
    return Tip(np.frombuffer(data, np.uint8).reshape(SIZE, SIZE), told)
