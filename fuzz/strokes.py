"""Strokes of all kinds, drawn into boxes anywhere; their files, broken; and bent, until they are
refused. `python -m fuzz.strokes NUMBER COUNT`.
"""

import faulthandler
import sys

import numpy as np

from kilncore.errors import KilnError
from kilncore.geometry.box import Box
from kilncore.strokes import Stroke, file_of, pack_of, strokes_in, told_in
from kilncore.strokes.bending import bent, moved
from kilncore.strokes.covering import covered
from kilncore.strokes.tip import SHIPPED

GENTLE = 0.95  # of what is changed: a digit
FAR = (0.01, 1, 20, 199)
BOXES = (Box(0, 0, 90, 60), Box(-40, -30, 3, 200), Box(10**6, -(10**6), 10**6 + 20, 20 - 10**6))


def asked(rng) -> dict:
    """A stroke that may be drawn: short and long, thin and broad, with all that it may have."""
    count = int(rng.choice([1, 2, 3, 7, 40, 900]))
    points = rng.normal(0, rng.choice(FAR) / 4, (count, 2)).clip(-199, 199)
    if rng.random() < 0.3:
        points[: count // 2] = points[0]
    curved = bool(rng.random() < 0.5 and count < 200)
    return {
        "points": points.tolist(),
        "pressures": rng.random(count).tolist() if rng.random() < 0.3 else (),
        "radius": float(10 ** rng.uniform(-5, 1)),
        "hardness": float(rng.random()),
        "strength": float(rng.random()),
        "tip": str(rng.choice(["", "", *SHIPPED])),
        "gap": float(rng.choice([0.02, 0.2, 8])),
        "thins": float(rng.random()),
        "sizes": float(rng.random()),
        "strays": float(rng.random()),
        "follows": bool(rng.random() < 0.5),
        "curved": curved,
        "corners": rng.integers(0, count, 3).tolist() if curved else (),
        "closed": bool(rng.random() < 0.3),
        "taper_in": float(rng.choice([0, 1e-4, 0.3, 200])),
        "taper_out": float(rng.choice([0, 1e-4, 0.3, 200])),
        "ends": str(rng.choice(["round", "flat"])),
        "seed": int(rng.integers(0, 2**31)),
        "id": int(rng.integers(0, 2**31)),
    }


def own(rng) -> tuple[float, ...]:
    """From px to a frame, turned and of any size."""
    turn, size = rng.uniform(0, 7), 10 ** rng.uniform(-5, 1)
    cos, sin = np.cos(turn) * size, np.sin(turn) * size
    return cos, -sin, sin, cos, *rng.normal(0, 1, 2).tolist()


def drawn(data: bytes, rng) -> None:
    """What it covers is between nothing and all, wherever it is looked at."""
    for one in strokes_in(data):
        for box in BOXES:
            found = covered(one, own(rng), box)
            if found is not None:
                here, amount = found
                assert amount.shape == (here.height, here.width)
                assert np.isfinite(amount).all() and amount.min() >= 0 and amount.max() <= 1.0001


def broken(data: bytes, rng) -> bytes:
    """Some of its digits are others; or, seldom, its signs."""
    found, digits = bytearray(data), [n for n, one in enumerate(data) if one in b"0123456789"]
    for _ in range(int(rng.integers(1, 9))):
        if rng.random() < GENTLE:
            found[int(rng.choice(digits))] = int(rng.choice(list(b"0123456789")))
        else:
            found[int(rng.integers(len(found)))] = int(rng.choice(list(b'[],{}":e.-')))
    return bytes(found)


def tried(data: bytes, rng) -> str:
    """'taken in' or 'refused'; anything else is raised."""
    try:
        strokes_in(data)
    except KilnError as refused:
        assert refused.message
        return "refused"
    drawn(data, rng)
    return "taken in"


def changed(stroke: Stroke, rng) -> Stroke:
    """Moved and bent, as far as it may be."""
    by = tuple((10 ** rng.uniform(-3, 3, 2) * rng.choice([-1, 1], 2)).tolist())
    try:
        return bent(moved(stroke, by), float(rng.random()), float(rng.uniform(1e-9, 2)), by)
    except ValueError:
        return stroke


def main() -> int:
    faulthandler.enable()
    number, count = int(sys.argv[1]), int(sys.argv[2])
    rng = np.random.default_rng(number)
    for _ in range(count):
        data = file_of(changed(Stroke.model_validate(asked(rng)), rng))
        drawn(data, rng)
        assert [file_of(one) for one in told_in(data)] == [data], data
        both = pack_of([data, file_of(Stroke.model_validate(asked(rng)))])
        print(f"stroke: {tried(broken(both, rng), rng)}", flush=True)
    return 0


if __name__ == "__main__":
    sys.exit(main())
