"""Planks: weathered boards with growth rings, knots, fibres, gaps and nails. One board to a row,
its ends meeting.
"""

from typing import Any

import numpy as np

from kilncore.compiled.kernels import kernel
from kilncore.model.base import Model
from kilncore.model.setting import setting
from kilncore.textures.makers.base import Maps, maker
from kilncore.textures.makers.parts.fields import Fields
from kilncore.textures.makers.parts.relief import as_heights, lit
from kilncore.textures.makers.parts.strewn import strewn_lines
from kilncore.textures.makers.parts.tones import bands, ramp, soft_step, to_bytes

NAIL_REACH = 25  # px


class PlanksSettings(Model):
    """board_px : of a board. The others are shares, 0 to 1."""

    board_px: float = setting(
        256, "Boards", "How wide.", "made_number", unit="px", soft=(80, 800), ge=48, le=2000, step=1
    )
    tone: float = setting(0.5, "Tone", "Dark to light.", "share", ge=0, le=1)
    weather: float = setting(0.5, "Weathering", "Fresh brown to silver grey.", "share", ge=0, le=1)
    knots: float = setting(0.5, "Knots", "How many.", "share", ge=0, le=1)


@maker(
    "planks",
    title="Planks",
    good_for="a ground, or a surface to follow",
    settings=PlanksSettings,
    group="Materials",
    starts={
        "Jetty": {},
        "New deal": {"tone": 0.66, "weather": 0.05, "knots": 0.8},
        "Driftwood": {"board_px": 180, "tone": 0.6, "weather": 1.0, "knots": 0.3},
    },
    gives=("colour", "height"),
    revision=2,
)
def planks(settings: PlanksSettings, fields: Fields) -> Maps:
    """Boards that lie across."""
    boards = _Boards(fields, settings)
    rings = boards.rings(
        0.55 * fields.swell(260, 1.9, stretch=7) + 0.1 * fields.cloud(50, 1.6, stretch=9)
    )
    profile = _growth(rings, fields.rng)
    fibre = fields.band(2.6, 0.55, stretch=26) + 0.7 * fields.band(5, 0.5, stretch=40)
    pores = soft_step(
        fields.band(2.4, 0.4, stretch=14) + 0.4 * fields.cloud(80, 1.2, stretch=3), 1.5, 2.4
    )
    checks = _checks(fields)
    relief = 1.4 * profile + 0.5 * fibre - 3.5 * checks - 1.2 * pores
    tone = (
        0.6
        - 0.24 * profile
        + 0.05 * fibre * (0.5 + profile)
        - 0.1 * pores
        + 0.05 * np.tanh(lit(fields, relief))
    )
    tone += boards.shade + 0.045 * fields.swell(400, 1.6, stretch=4) + 0.012 * fields.band(2.2, 0.5)
    tone += (settings.tone - 0.5) * 0.5
    tone *= (1 - 0.75 * checks) * (1 - 0.62 * boards.heart)
    colour, gap = _edges(boards, _coloured(tone, fields, settings, boards), fields)
    height = as_heights(relief - 12 * gap)
    return Maps(to_bytes(colour), height=to_bytes(height))


class _Boards:
    """Which board a row of pixels belongs to, and what is peculiar to each board."""

    def __init__(self, fields: Fields, settings: PlanksSettings):
        rng, scale = fields.rng, fields.scale
        width, height = fields.width / scale, fields.height / scale
        self.count = max(1, round(height / settings.board_px))
        self.tall = height / self.count
        rows = (np.arange(fields.height) + 0.5) / scale
        self.index = np.minimum((rows / self.tall).astype(int), self.count - 1)
        self.across = (rows - self.index * self.tall)[:, None].astype(np.float32)
        self.joint = rng.random(self.count) * width
        self.start = rng.random(self.count) * 40
        self.pith = rng.normal(0.5, 0.9, self.count) * self.tall
        self.pitch = rng.uniform(11, 19, self.count)
        self.shade = (rng.normal(0, 0.055, self.count)[self.index][:, None]).astype(np.float32)
        columns = (np.arange(fields.width) + 0.5) / scale
        self.along = ((columns[None] - self.joint[self.index][:, None]) % width).astype(np.float32)
        self.width = width
        self.knots = self._knots(rng, settings.knots)
        self.heart = np.zeros((fields.height, fields.width), np.float32)

    def _knots(self, rng: Any, amount: float):
        """(N, 4): x along the board, y across it, radius, board."""
        count = rng.poisson(1.6 * amount * self.width / 1000, self.count)
        knots = [
            (
                rng.uniform(0.05, 0.95) * self.width,
                rng.uniform(0.2, 0.8) * self.tall,
                self.tall * rng.uniform(0.05, 0.12),
                board,
            )
            for board in range(self.count)
            for _ in range(count[board])
        ]
        return np.array(knots or [(0, 0, 0, -1)], np.float64)

    def rings(self, wander: np.ndarray) -> np.ndarray:
        """Ring number, from the pith outwards, of every pixel; grain flows around the knots."""
        from_pith = self.across - self.pith[self.index][:, None]
        leaning = self.along / self.width * 1.7  # the two ends of a board do not match at the joint
        base = np.hypot(from_pith, 0.4 * self.tall) / self.pitch[self.index][:, None]
        rings = base + wander + leaning + self.start[self.index][:, None]
        return _around_knots(
            rings.astype(np.float32), self.along, self.across, self.index, self.knots, self.heart
        )


@kernel
def _around_knots(
    rings: np.ndarray,
    along: np.ndarray,
    across: np.ndarray,
    index: np.ndarray,
    knots: np.ndarray,
    heart: np.ndarray,
):
    """Swell the rings round each knot, and give the knot rings of its own. `heart` is filled in,
    0..1.
    """
    height, width = rings.shape
    out = rings.copy()
    for y in range(height):
        for n in range(knots.shape[0]):
            if knots[n, 3] != index[y]:
                continue
            r = knots[n, 2]
            for x in range(width):
                dx, dy = (along[y, x] - knots[n, 0]) / 1.25, across[y, 0] - knots[n, 1]
                d = np.sqrt(dx * dx + dy * dy)
                pull = np.exp(-((dx / (5 * r)) ** 2) - (dy / (2.6 * r)) ** 2)
                out[y, x] += 3.4 * pull * (1 if dy > 0 else -1) * (1 - np.exp(-abs(dy) / r))
                wobble = 0.12 * r * (rings[y, x] - np.floor(rings[y, x]))
                t = min(max((d + wobble - r) / (0.35 * r), 0.0), 1.0)
                out[y, x] = t * out[y, x] + (1 - t) * (d / (0.17 * r) + rings[y, x] * 0.2)
                ring = 0.5 + 0.5 * np.cos(5.2 * (d + 2.2 * wobble) / (0.17 * r) * 0.55)
                rim = np.exp(-(((d - 1.02 * r) / (0.13 * r)) ** 2))
                heart[y, x] = max(heart[y, x], max((1 - t) * (0.32 + 0.3 * ring), 0.85 * rim))
    return out


def _growth(rings: np.ndarray, rng: Any) -> np.ndarray:
    """Tone over one year: slow darkening, then a sharp edge; no two years alike. 0..1."""
    year = np.floor(rings).astype(int)
    t = rings - year
    depth = rng.uniform(0.35, 1.0, 512).astype(np.float32)[year % 512]
    late = t**2.4 * (1 - soft_step(t, 0.88, 1.0))
    return (1.25 * depth * late).astype(np.float32)


def _checks(fields: Fields):
    """Drying cracks along the grain."""
    return np.clip(
        strewn_lines(fields, 7, 150, 0.9, 0.0, 0.015, 0.03)
        * soft_step(fields.cloud(60, 1, stretch=6), -0.6, 0.6),
        0,
        1,
    )


def _coloured(tone: np.ndarray, fields: Fields, settings: PlanksSettings, boards: _Boards):
    brown = ramp(tone, (26, 17, 11), (84, 58, 38), (146, 109, 74), (196, 160, 117), (230, 202, 162))
    grey = ramp(tone, (24, 22, 20), (82, 77, 71), (136, 130, 121), (184, 178, 167), (222, 217, 206))
    patchy = np.clip(
        settings.weather
        + 0.16 * fields.swell(500, 1.8, stretch=3)
        + 2 * boards.shade
        - 0.3 * boards.heart,
        0,
        1,
    )
    for rows in bands(tone.shape[0]):
        brown[:, rows] += patchy[rows] * (grey[:, rows] - brown[:, rows])
    return brown


def _edges(boards: _Boards, colour: np.ndarray, fields: Fields):
    """Gaps between boards, rounded edges, joints and nails."""
    ragged = 0.8 * fields.cloud(90, 1.3, stretch=8)
    near = np.minimum(boards.across, boards.tall - boards.across) + ragged
    ends = np.minimum(boards.along, boards.width - boards.along) + 0.6 * ragged
    upper = soft_step(-boards.across - ragged, -11, -2) * 0.1
    lower = soft_step(boards.across - boards.tall + ragged, -12, -2) * 0.26
    gap = np.maximum(soft_step(-near, -4.2, -2.0), soft_step(-ends, -2.6, -1.0))
    shade = (1 + upper - lower) * (1 - 0.2 * soft_step(-ends, -9, -2))
    for rows in bands(colour.shape[1]):
        colour[:, rows] = colour[:, rows] * shade[rows] * (1 - 0.93 * gap[rows]) + 0.012 * gap[rows]
    return _nailed(colour, boards), gap


def _nailed(colour: np.ndarray, boards: _Boards):
    """Four nails to a board; each changes the colour around it alone."""
    for board in range(boards.count):
        rows = np.flatnonzero(boards.index == board)
        for at in (26, boards.width - 26):
            columns = np.flatnonzero(np.abs(boards.along[rows[0]] - at) <= NAIL_REACH)
            for place in (0.22, 0.78):
                near = rows[np.abs(boards.across[rows, 0] - place * boards.tall) <= NAIL_REACH]
                here = np.ix_(np.arange(3), near, columns)
                colour[here] = _nail(
                    colour[here],
                    boards.along[np.ix_(near, columns)] - at,
                    boards.across[near] - place * boards.tall,
                )
    return colour


def _nail(colour: np.ndarray, dx: np.ndarray, dy: np.ndarray):
    d = np.hypot(dx, dy)
    head = soft_step(-d, -6.2, -5.0)
    rim = soft_step(-np.abs(d - 6.4), -1.8, 0)
    rust = soft_step(-d, -24, -5) * 0.3
    lit = 0.30 + 0.05 * np.clip((dx + dy) / -6, -1, 1)
    colour = colour * (1 - rust * np.array([0.5, 0.9, 1.1])[:, None, None])
    colour = colour * (1 - head) + head * lit * np.array([1.0, 0.93, 0.87])[:, None, None]
    return colour * (1 - 0.6 * rim)
