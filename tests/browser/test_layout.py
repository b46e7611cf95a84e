"""What the browser knows of where things lie (`controls/lib/layout.js`, and what the handles make
of it) against the core: the same boxes, the same ways into perspective and back, and edits after
which the core has an item exactly where the hand let it go. No server: the modules are given from
disk.
"""

import math
from dataclasses import asdict

import numpy as np
import pytest

from kilncore import edits
from kilncore.layout.layout import Layout, upright
from kilncore.model.frame import TexturePlacement
from kilncore.perspective.homography import convex
from kilnmark.bench.changes.snapshot import laid_of
from tests.browser.modules import Modules
from tests.documents import lettering, mark, piece, px

pytestmark = pytest.mark.browser
WORDS = lettering("Dock nine", 60)
MOVED = {"x": 31.5, "y": -17.25, "times": 1.37, "turn": 23.0}
NEAR = 0.25  # px: placements are kept to a thousandth of a px or mm, scales to 1 / 10,000
ROUND = {"kind": "round", "radius": px(160), "axis": px(12), "tilt_deg": 20}
MM = {"value": 12, "unit": "mm"}


def group(*members, **place):
    at = {"x": px(260), "y": px(180)} | place
    return {"kind": "group", "placement": at, "members": list(members)}


def laid(item_id_of):
    """The piece with one item's corners dragged."""
    plain = piece(mark(WORDS), group(mark(WORDS), mark(WORDS, 90, 40), scale=0.8, rotation_deg=9))
    ring = [[40.0, 60.0], [310.0, 30.0], [330.0, 210.0], [60.0, 180.0]]
    return edits.apply(plain, [{"op": "lay_corners", "mark": item_id_of(plain), "corners": ring}])


PIECES = {
    "flat": piece(mark(WORDS, rotation_deg=12.5, scale=1.3), mark(WORDS, 90, 80)),
    "in mm and %": piece(
        mark(WORDS) | {"placement": {"x": MM, "y": {"value": 40, "unit": "%"}, "scale": 0.7}}
    ),
    "in groups": piece(
        group(
            group(mark(WORDS, 10, 20, rotation_deg=-40), mark(WORDS, 60, 5), scale=1.6),
            mark(WORDS, -70, 30, scale=0.5),
            scale=0.8,
            rotation_deg=17,
        )
    ),
    "a mark in a plane": laid(lambda plain: plain.stack[0].id),
    "a group in a plane": laid(lambda plain: plain.stack[1].id),
    "round a cylinder": piece(mark(WORDS, 200, 150, perspective=ROUND, rotation_deg=8)),
}
EACH = pytest.mark.parametrize("document", PIECES.values(), ids=PIECES)


def known(document) -> dict:
    """What the browser is given of a piece."""
    layout = Layout(document)
    frames = {
        item_id: {
            "x": frame.x,
            "y": frame.y,
            "unit": frame.unit_px,
            "rotation_deg": math.degrees(frame.rotation),
            "laid": laid_of(frame.projection),
        }
        for item_id, frame in layout.frames().items()
    }
    boxes = {item_id: asdict(box) for item_id, box in layout.boxes().items()}
    return {
        "document": document.model_dump(mode="json"),
        "boxes": boxes,
        "frames": frames,
        "textures": {},
    }


@pytest.fixture
def asked(browser):
    """asked(body, *values): what a function body gives, with the modules under its own names."""
    modules = Modules(
        browser,
        layout="controls/lib/layout.js",
        marks="bench/hands/mark_target.js",
        several="bench/hands/several_target.js",
        textures="bench/hands/texture_target.js",
        shapes="bench/hands/shape.js",
        sessions="bench/changes/session.js",
    )
    modules.run(
        """
        window.sessionOf = (snapshot) =>
            Object.assign(Object.create(sessions.Session.prototype), { snapshot });
        window.pageOf = ({ size_px: [width, height], ppi }) => ({ width, height, ppi });
        """
    )
    yield modules.run
    modules.close()


def same_points(found, wanted, near):
    """Whichever comes first."""
    found, wanted = (np.array(sorted(map(tuple, np.round(one, 3)))) for one in (found, wanted))
    np.testing.assert_allclose(found, wanted, atol=near)


def points(seed: int, width: float, height: float, many: int = 40) -> list:
    return (np.random.default_rng(seed).random((many, 2)) * (width, height)).tolist()


def test_corners_and_upright_boxes(asked):
    for document in PIECES.values():
        for box in Layout(document).boxes().values():
            around, told = asked("return [layout.around(a), layout.upright(a)]", asdict(box))
            same_points(around, box.corners(), 1e-6)
            for side, value in asdict(upright(box)).items():
                assert told[side] == pytest.approx(value, abs=1e-6)


@pytest.mark.parametrize("name", ["a mark in a plane", "a group in a plane", "round a cylinder"])
def test_ways_into_perspective_and_back(asked, name):
    document = PIECES[name]
    layouts = Layout(document)
    projections = [found for item in document.items() if (found := layouts.projection(item))]
    assert projections
    for projection in projections:
        flat = np.array(points(3, 60, 60)) + (170, 120)
        there = projection.points(flat)
        body = "return b.map((point) => layout.toPiece(a, point))"
        np.testing.assert_allclose(
            asked(body, laid_of(projection), flat.tolist()), there, atol=1e-6
        )
        body = "return b.map((point) => layout.toFlat(a, point))"
        back = asked(body, laid_of(projection), there.tolist())
        np.testing.assert_allclose(back, projection.flat_of(there), atol=1e-6)
        np.testing.assert_allclose(back, flat, atol=1e-4)


def test_which_corners_go_round_in_order(asked):
    rings = np.random.default_rng(5).random((400, 4, 2)).tolist()
    rings.append([[0, 0], [1, 0], [1, 1], [0, 1]])
    rings.append([[0, 0], [1, 0], [0.5, 0.0001], [0, 1]])
    found = asked("return a.map((ring) => layout.convex(ring))", rings)
    assert found == [convex(ring) for ring in rings]
    assert {True, False} == set(found)


MOVE = """
    const session = sessionOf(a);
    const target = new marks.MarkTarget(session, b, pageOf(a.document));
    const { x, y, width, height, rotation_deg } = target.box;
    const live = { ...target.box, x: x + c.x, y: y + c.y, width: width * c.times,
        height: height * c.times, rotation_deg: rotation_deg + c.turn };
    const shape = shapes.shapeOf({ box: live, live, target, ring: null });
    return { edits: target.edits(live), live, outline: shape.outline };
"""


@EACH
def test_a_mark_lies_where_the_hand_let_it_go(asked, document):
    for item in document.items():
        found = asked(MOVE, known(document), item.id, MOVED)
        box = Layout(edits.apply(document, found["edits"])).boxes()[item.id]
        for side in ("x", "y", "width", "height"):
            assert getattr(box, side) == pytest.approx(found["live"][side], abs=NEAR), side
        assert math.remainder(box.rotation_deg - found["live"]["rotation_deg"], 360) == (
            pytest.approx(0, abs=0.06)
        )


@EACH
def test_the_outline_that_is_drawn_while_a_mark_is_dragged(asked, document):
    """Round a cylinder only while it is moved: turned or scaled it bends anew."""
    bends = document is PIECES["round a cylinder"]
    move = MOVED | ({"times": 1, "turn": 0} if bends else {})
    for item in document.items():
        found = asked(MOVE, known(document), item.id, move)
        box = Layout(edits.apply(document, found["edits"])).boxes()[item.id]
        if len(found["outline"]) == len(box.corners()):
            same_points(found["outline"], box.corners(), 2.0)
        np.testing.assert_allclose(
            np.mean(found["outline"], axis=0), np.mean(box.corners(), axis=0), atol=2.0
        )


def test_several_marks_lie_where_the_hand_let_them_go(asked):
    document = PIECES["flat"]
    ids = [item.id for item in document.stack]
    body = """
        const target = new several.SeveralTarget(sessionOf(a), b);
        const { x, y, width, height } = target.box;
        const live = { x: x + c.x, y: y + c.y, width: width * c.times, height: height * c.times,
            rotation_deg: c.turn };
        return { edits: target.edits(live), boxes: target.parts.map((part) =>
            layout.carried(layout.around(part), target.box, live)) };
    """
    found = asked(body, known(document), ids, MOVED)
    boxes = Layout(edits.apply(document, found["edits"])).boxes()
    for item_id, expected in zip(ids, found["boxes"], strict=True):
        same_points(expected, boxes[item_id].corners(), NEAR)


@EACH
def test_a_texture_lies_where_the_handles_show_it(asked, document):
    """The middle and the corners of a texture of 640 x 400 px, by the engine's own matrix."""
    item = next(document.items())
    place = {"x": MM, "y": px(-20), "scale": 0.4, "rotation_deg": 31}
    way = [*document.way_to(item.id), "treatment", "s1"]
    body = """
        const session = sessionOf(a);
        session.at = () => b.place;
        const target = new textures.TextureTarget(session, [...b.way, "params", "placement"],
            b.part, pageOf(a.document));
        Object.defineProperty(target, "size", { get: () => [640, 400] });
        Object.defineProperty(target, "frame", { get: () => a.frames[b.part] });
        const { box } = target;
        return { corners: layout.corners(box), values: target.values(box) };
    """
    found = asked(body, known(document), {"place": place, "way": way, "part": item.id})
    frame = Layout(document).frames()[item.id]
    matrix = frame.texture_matrix(TexturePlacement.model_validate(place))
    a, b, c, d, e, f = matrix
    inside = [(a * x + c * y + e, b * x + d * y + f) for x, y in found["corners"]]
    np.testing.assert_allclose(
        inside, [(-320, -200), (320, -200), (320, 200), (-320, 200)], atol=1e-3
    )
    assert found["values"]["scale"] == 0.4 and found["values"]["rotation_deg"] == 31
    assert found["values"]["x"]["value"] == pytest.approx(12, abs=1e-3)
