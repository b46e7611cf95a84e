"""Gradients of a whole picture against Chromium, which draws CSS by itself.

Source: CSS Images Module Level 4 (W3C): linear-gradient(), radial-gradient() of a circle,
conic-gradient(), and their repeating forms; premultiplied mixing.
"""

import math

import numpy as np
import pytest
from scipy import integrate

from kilncore.artwork.gradient import KINDS, REPEATS, fill, plane_of
from kilncore.pixels.colour import hex_to_rgb
from kilncore.pixels.ramps import painted, ramp_of
from tests.checks.chromium import drawn  # noqa: F401

WIDE, TALL = 240, 160
MIDDLE = (130.0, 70.0)
PLAIN = [(0, "#1d2c45", 1.0), (0.3, "#c2451a", 1.0), (1, "#f1e6cc", 1.0)]
CLEAR = [(0, "#1d2c45", 1.0), (0.4, "#c2451a", 0.2), (1, "#f1e6cc", 0.7)]
CLOSE = [(0, "#1d2c45", 1.0), (0.1, "#c2451a", 0.5), (0.2, "#1d2c45", 1.0)]
FEW = 2 / 255


def colours(stops, unit="%", times=100.0):
    return ", ".join(
        f"rgb({int(hexed[1:3], 16)} {int(hexed[3:5], 16)} {int(hexed[5:], 16)} / {alpha})"
        f" {at * times}{unit}"
        for at, hexed, alpha in stops
    )


def css(kind, stops, repeat):
    begin = "repeating-" if repeat == "repeat" else ""
    x, y = MIDDLE
    if kind == "linear":  # its own line, whose length is what the corners ask for
        return f"{begin}linear-gradient(120deg, {colours(stops)})"
    if kind == "round":
        return f"{begin}radial-gradient(circle 90px at {x}px {y}px, {colours(stops)})"
    return f"{begin}conic-gradient(from 40deg at {x}px {y}px, {colours(stops)})"


def points(kind):
    x, y = MIDDLE
    if kind == "round":
        return (x, y), (x + 90, y)
    if kind == "conic":
        turn = math.radians(40)
        return (x, y), (x + math.sin(turn), y - math.cos(turn))
    turn = math.radians(120)
    way = np.array([math.sin(turn), -math.cos(turn)])
    half = (abs(WIDE * way[0]) + abs(TALL * way[1])) / 2
    middle = np.array([WIDE, TALL]) / 2
    return tuple(middle - half * way), tuple(middle + half * way)


@pytest.mark.parametrize("kind", ["linear", "round", "conic"])
@pytest.mark.parametrize(
    ("stops", "repeat"), [(PLAIN, "none"), (CLEAR, "none"), (CLOSE, "repeat"), (CLOSE, "none")]
)
def test_gradients_against_chromium(drawn, kind, stops, repeat):  # noqa: F811
    style = f"width:{WIDE}px;height:{TALL}px;background:{css(kind, stops, repeat)}"
    theirs = drawn(f'<div style="{style}"></div>', WIDE, TALL)
    mine = fill(kind, stops, points(kind), WIDE, TALL, repeat)
    mine[..., :3] *= mine[..., 3:]
    away = np.abs(mine - theirs).max(2)
    if kind == "conic":  # where the circle closes a pixel's middle lies on either side
        y, x = np.mgrid[:TALL, :WIDE] + 0.5
        (cx, cy), (px, py) = points(kind)
        across = (x - cx) * (py - cy) - (y - cy) * (px - cx)
        ahead = (x - cx) * (px - cx) + (y - cy) * (py - cy) > -2
        away[(np.abs(across) < 1) & ahead] = 0
    assert away.max() <= FEW, (away.max() * 255, np.unravel_index(away.argmax(), away.shape))


@pytest.mark.parametrize("repeat", ["none", "repeat", "mirror"])
@pytest.mark.parametrize("kind", ["linear", "round"])
def test_a_pixel_is_the_mean_of_what_it_covers(kind, repeat):
    """By SciPy's quadrature of the ramp as CSS defines it, along the gradient, with a hard stop."""
    stops = [(0.1, "#000000", 1.0), (0.5, "#ffffff", 1.0), (0.5, "#404040", 1.0)]
    stops += [(0.9, "#c0c0c0", 1.0)]
    at, tones = [0.1, 0.5, 0.5, 0.9], np.array([0, 255, 64, 192]) / 255

    def ramp(t):
        turn = (t - 0.1) / 0.8
        if repeat != "none":
            whole, turn = divmod(turn, 1)
            turn = 1 - turn if repeat == "mirror" and whole % 2 else turn
        place = 0.1 + 0.8 * turn
        if place < 0.5:
            return np.interp(place, at[:2], tones[:2])
        return np.interp(place, at[2:], tones[2:])

    span = 7.3  # px: every pixel covers a good part of it
    ends = ((3.0, 0.0), (3.0 + span, 0.0)) if kind == "linear" else ((0.0, 0.5), (span, 0.5))
    rgba = [(place, (*hex_to_rgb(colour), alpha)) for place, colour, alpha in stops]
    plane = plane_of(*ends)
    found = painted(ramp_of(rgba), KINDS[kind], plane, (24, 1), REPEATS[repeat])[0, 0]
    for x in range(24):
        first = x - 3.0 if kind == "linear" else float(x)
        edges = first / span, (first + 1) / span
        breaks = sorted(
            one
            for n in range(-8, 8)
            for one in (0.1 + 0.8 * n, 0.5 + 0.8 * n)
            if edges[0] < one < edges[1]
        )
        value = integrate.quad(ramp, *edges, points=breaks or None, limit=200)[0] * span
        assert found[x] == pytest.approx(value, abs=1e-4), x


@pytest.mark.parametrize(
    ("kind", "stops", "ends", "size", "repeat"),
    [
        ("square", PLAIN, ((0, 0), (1, 0)), (4, 4), "none"),
        ("linear", PLAIN, ((0, 0), (1, 0)), (4, 4), "often"),
        ("linear", [], ((0, 0), (1, 0)), (4, 4), "none"),
        ("linear", [(0, "#12", 1)], ((0, 0), (1, 0)), (4, 4), "none"),
        ("linear", [(0, "#123456", 2)], ((0, 0), (1, 0)), (4, 4), "none"),
        ("linear", [(float("nan"), "#123456", 1)], ((0, 0), (1, 0)), (4, 4), "none"),
        ("linear", PLAIN, ((2, 2), (2, 2)), (4, 4), "none"),
        ("linear", PLAIN, ((0, 0), (float("inf"), 2)), (4, 4), "none"),
        ("linear", PLAIN, ((0, 0), (1, 0)), (0, 4), "none"),
        ("linear", PLAIN, ((0, 0), (1, 0)), (4, 10**6), "none"),
    ],
)
def test_what_is_no_gradient_is_refused(kind, stops, ends, size, repeat):
    with pytest.raises(ValueError):
        fill(kind, stops, ends, *size, repeat)


def test_one_stop_is_its_colour_and_all_on_one_place_the_last():
    one = fill("round", [(0.4, "#336699", 0.5)], ((0, 0), (3, 0)), 5, 3)
    np.testing.assert_allclose(one, np.broadcast_to([0.2, 0.4, 0.6, 0.5], (3, 5, 4)), atol=1e-6)
    same = [(0.5, "#000000", 1.0), (0.5, "#ffffff", 1.0)]
    two = fill("linear", same, ((0, 0), (10, 0)), 10, 1, "repeat")
    np.testing.assert_allclose(two[0, :, 0], [0] * 5 + [1] * 5, atol=1e-6)
