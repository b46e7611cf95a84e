"""The strokes that the browser lays under the hand (`bench/drawing`) against the core's: the same
points, the same dabs, the same coverage. No server: the modules are given from disk.
"""

import numpy as np
import pytest

from kilncore.geometry.box import Box
from kilncore.strokes import Stroke, file_of, strokes_in
from kilncore.strokes.bending import bent
from kilncore.strokes.curves import reached
from kilncore.strokes.dabs import dabs_of
from kilncore.strokes.tip import SHIPPED, tip_named
from tests.browser.modules import Modules
from tests.strokes import drawn as covered_by

pytestmark = pytest.mark.browser
UNIT, WIDE, TALL = 120, 320, 200
OWN = (1 / UNIT, 0.0, 0.0, 1 / UNIT, (0.5 - WIDE / 2) / UNIT, (0.5 - TALL / 2) / UNIT)
DRAWN = """
const { Way } = dabs;
const { Covering } = covering;
const way = new Way(a);
const levels = b && halved(b);
const [wide, tall, unit] = c;
const over = new Covering(wide, tall, levels, way.told);
const px = ([x, y]) => [x * unit + wide / 2 - 0.5, y * unit + tall / 2 - 0.5];
const laid = [];
a.points.forEach((point, n) => {
  const pieces = way.add(point, a.pressures?.[n] ?? 1);
  if (!way.changesAtTheEnd) pieces.forEach(cover);
});
const whole = way.whole();
if (way.changesAtTheEnd) whole.forEach(cover);
function cover(one) {
  const radii = one.widths.map((width) => way.radius * unit * width);
  const cuts = one.cuts.map(({ before, end }) => ({ before: px(before), end: px(end) }));
  if (!levels) return over.sweep(px(one.from), px(one.to), radii, cuts);
  for (const dab of way.dabsOn(one)) {
    laid.push([dab.x, dab.y, dab.radius, dab.turn, dab.flip, dab.load]);
    const [x, y] = px([dab.x, dab.y]);
    over.stamp({ ...dab, x, y, radius: dab.radius * unit });
  }
}
function halved({ size, values }) {
  const level = { size, values: Float32Array.from(values) };
  if (size % 2) return [level];
  const half = size / 2;
  const small = [];
  for (let y = 0; y < half; y += 1) for (let x = 0; x < half; x += 1) {
    const at = 2 * y * size + 2 * x;
    small.push((values[at] + values[at + 1] + values[at + size] + values[at + size + 1]) / 4);
  }
  return [level, ...halved({ size: half, values: small })];
}
const points = [way.points[0], ...whole.map((one) => one.to)];
return { points, laid, cover: Array.from({ length: wide * tall }, (_, n) => over.at(n)) };
"""


@pytest.fixture(scope="module")
def scripts(browser):
    made = Modules(
        browser,
        dabs="bench/drawing/dabs.js",
        covering="bench/drawing/covering.js",
        pulling="bench/drawing/pulling.js",
    )
    yield made
    made.close()


def told(**more):
    along = np.linspace(-1, 1, 30)
    points = np.column_stack([along * 0.9, 0.35 * np.sin(along * 5)])
    return {"points": points.tolist(), "radius": 0.16, "seed": 2_000_000_017} | more


def both(scripts, asked):
    """(what the browser makes of it, the core's stroke, the core's coverage)."""
    known = Stroke.model_validate(asked)
    (drawn,), out = strokes_in(file_of(known)), covered_by(known, OWN, Box(0, 0, WIDE, TALL))
    tip = tip_named(asked.get("tip", ""))
    level = tip and {"size": len(tip.pixels), "values": (tip.pixels / 255).ravel().tolist()}
    given = known.model_dump(mode="json")
    return scripts.run(DRAWN, given, level, [WIDE, TALL, UNIT]), drawn, out


@pytest.mark.parametrize("name", SHIPPED)
def test_rough_tips_lay_the_same_dabs_and_cover_the_same(scripts, name):
    laid = SHIPPED[name]
    ways = ("gap", "follows", "turns", "sizes", "strays", "flips", "loaded")
    asked = told(tip=name, **{one: getattr(laid, one) for one in ways})
    made, drawn, cover = both(scripts, asked)
    np.testing.assert_allclose(made["points"], drawn.points, atol=1e-9)
    dabs = dabs_of(drawn)
    assert len(made["laid"]) == len(dabs)
    np.testing.assert_allclose(np.array(made["laid"]), dabs, atol=1e-9)
    np.testing.assert_allclose(np.array(made["cover"]).reshape(TALL, WIDE), cover, atol=1e-4)


def test_smooth_strokes_and_pens_cover_the_same(scripts):
    pressures = np.linspace(0.2, 1, 30).tolist()
    for more in ({}, {"hardness": 0.9}, {"pressures": pressures, "thins": 0.8}):
        made, _, cover = both(scripts, told(**more))
        found = np.array(made["cover"]).reshape(TALL, WIDE)
        np.testing.assert_allclose(found, cover, atol=1e-4)


SET = [[-0.9, 0.3], [-0.4, -0.4], [0.1, 0.4], [0.5, -0.3], [0.9, 0.2]]
WAYS = (
    {},
    {"corners": [2]},
    {"closed": True, "corners": [0, 3]},
    {"taper_in": 0.3, "taper_out": 0.9},
    {"ends": "flat", "hardness": 0.9},
    {"radius": 2.5, "taper_out": 0.4},
    {"curved": False, "taper_in": 9, "taper_out": 9, "ends": "flat"},
    {"curved": False, "pressures": [0.2, 0.9, 1, 0.5, 0.3], "thins": 0.8, "taper_out": 0.5},
)


@pytest.mark.parametrize("more", WAYS)
@pytest.mark.parametrize("tip", ["", "chalk"])
def test_curves_tapers_and_ends_are_the_same(scripts, more, tip):
    laid = {"gap": 0.3, "sizes": 0.4, "turns": 0.2} if tip else {}
    asked = {"points": SET, "radius": 0.12, "curved": True, "tip": tip, "seed": 5} | laid | more
    made, drawn, cover = both(scripts, asked)
    np.testing.assert_allclose(made["points"], drawn.points, atol=1e-9)
    if tip:
        np.testing.assert_allclose(np.array(made["laid"]), dabs_of(drawn), atol=1e-9)
    np.testing.assert_allclose(np.array(made["cover"]).reshape(TALL, WIDE), cover, atol=2e-4)


@pytest.mark.parametrize("place", [0, 0.25, 0.5, 1])
@pytest.mark.parametrize("spread", [0.05, 0.25, 2])
def test_a_way_is_pulled_as_the_core_bends_it(scripts, place, spread):
    stroke = Stroke.model_validate(told())
    by = [0.3, -0.2]
    body = "return pulling.pulled(a, ...b)"
    made = scripts.run(body, list(stroke.points), [place, spread, by])
    np.testing.assert_allclose(made, bent(stroke, place, spread, tuple(by)).points, atol=1e-12)


def test_handles_lie_evenly_along_a_way(scripts):
    points = told()["points"]
    found = np.array(scripts.run("return pulling.alongPlaces(a, b)", points, 5))
    far = reached(np.array(points))
    for share, place in zip(np.linspace(0, 1, 5), found, strict=True):
        exact = [np.interp(share * far[-1], far, np.array(points)[:, axis]) for axis in (0, 1)]
        np.testing.assert_allclose(place, exact, atol=1e-12)
