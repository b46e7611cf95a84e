"""Planes as nodes: distances, labels, whole-item values, colour areas, fades and regions."""

import math

import cv2
import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st
from scipy import ndimage

from kilncore import engine
from kilncore.compiled.program import Program
from kilncore.engine.plan import Plan
from kilncore.engine.reader import Reader
from kilncore.engine.wholes import prepare
from kilncore.geometry.box import Box
from kilncore.graph import plane as planes
from kilncore.graph.node import Node
from kilncore.model.base import Model
from kilncore.model.units import Length, px
from kilncore.pixels.distance import signed_distance
from kilncore.planes.coverage import Coverage
from kilncore.planes.distance import FarDistance, NearDistance, distance_to_edge
from kilncore.planes.fade import FadePlane
from kilncore.planes.labels import Labels
from kilncore.planes.region import RegionPlane
from kilncore.steps import STEPS
from kilncore.steps.base import Cover, Paint, Remake, setting, step
from kilncore.system.cache import ByteCache
from tests.documents import lettering, mark, piece
from tests.documents import px as length
from tests.documents import step as asked


def disc(radius, size=128, middle=(63.3, 64.8), finer=16):
    """The exact coverage of a disc, by many places in each pixel, and the true signed distance of
    pixel middles.
    """
    at = (np.arange(size * finer) + 0.5) / finer
    inside = (at[None] - middle[0]) ** 2 + (at[:, None] - middle[1]) ** 2 <= radius**2
    cover = inside.reshape(size, finer, size, finer).mean((1, 3)).astype(np.float32)
    middles = np.arange(size) + 0.5
    return cover, radius - np.hypot(middles[None] - middle[0], middles[:, None] - middle[1])


@pytest.mark.parametrize("radius", [3.4, 17.2, 41.7])
def test_the_distance_to_a_disc_is_right_to_a_fraction_of_a_pixel(radius):
    """Against the formula of a circle: within 0.06 px (root mean square) in the 8 px around its
    edge, as the method promises.
    """
    cover, true = disc(radius)
    found, near = signed_distance(cover, 60.0), np.abs(true) < 8
    error = (found - true)[near & (true > 1 - radius)]  # its very middle has no nearest edge
    assert math.sqrt((error**2).mean()) < 0.06 and np.abs(error).max() < 0.35


def test_the_distance_to_a_slanted_edge_and_a_two_pixel_stroke():
    y, x = np.mgrid[0:400, 0:400] / 4 + 0.125
    for half, turn in ((1.0, 0.3), (20.0, 1.1)):
        away = np.abs(np.cos(turn) * (x - 50) + np.sin(turn) * (y - 50))
        cover = (away <= half).reshape(100, 4, 100, 4).mean((1, 3)).astype(np.float32)
        middles = half - away.reshape(100, 4, 100, 4).mean((1, 3)) if half > 4 else None
        found = signed_distance(cover, 40.0)
        if middles is not None:
            inner = (slice(30, 70), slice(30, 70))
            assert np.abs(found - middles)[inner][np.abs(middles[inner]) < 8].max() < 0.3
        else:
            assert 0.6 < found[40:60, 40:60].max() <= 1.1


def test_far_from_the_edge_it_is_the_distance_of_scipy():
    """scipy.ndimage.distance_transform_edt of the same shape, cut at one half: exact for a binary
    mask, so within a pixel.
    """
    cover, _ = disc(30.0)
    hard = cover >= 0.5
    theirs = ndimage.distance_transform_edt(hard) - ndimage.distance_transform_edt(~hard)
    assert np.abs(signed_distance(cover, 100.0) - theirs).max() < 1.0


def test_a_picture_without_edges_is_far_from_every_edge():
    assert (signed_distance(np.zeros((5, 7), np.float32), 9.0) == -9).all() and (
        signed_distance(np.ones((5, 7), np.float32), 9.0) == 9
    ).all()
    with pytest.raises(ValueError, match="no coverage"):
        signed_distance(np.zeros((2, 3, 4), np.float32), 9.0)
    with pytest.raises(ValueError, match="no distance"):
        signed_distance(np.zeros((3, 4), np.float32), float("nan"))


def art_of(document):
    plan = Plan(document)
    return plan.art(document.stack[0])


def read(plane: Node, box: Box, cache=None):
    """(H, W) of a plane, by itself."""
    reader = Reader(None, cache or ByteCache())
    prepare(_Root(plane), reader=reader)
    program = Program(box)
    out = program.planes((reader.plane(plane, program),))
    program.run()
    return out[0]


class _Root(Node):
    def __init__(self, plane):
        self.key, self.sources, self.wholes = "root", ((plane, 0),), plane.wholes
        self.extent = plane.extent


@pytest.mark.parametrize("most", [20.0, 200.0])
def test_a_distance_plane_is_the_same_in_any_crop_and_outside_its_extent(most):
    document = piece(mark(lettering("OX", 150), 200, 150, rotation_deg=11), size=(400, 300))
    art = art_of(document)
    plane = distance_to_edge(art, art.extent, most)
    assert isinstance(plane, NearDistance if most == 20 else FarDistance)
    whole = read(plane, Box(-40, -30, 440, 330))
    for box in (Box(0, 0, 50, 40), Box(170, 90, 333, 201), Box(399, 0, 440, 330)):
        np.testing.assert_array_equal(
            read(plane, box), whole[box.top + 30 : box.bottom + 30, box.left + 40 : box.right + 40]
        )
    assert read(plane, Box(9000, 9000, 9003, 9003)).max() == -most
    alpha = engine.render(document.model_copy(update={"ground": type(document.ground)()}))[..., 3]
    inner = whole[30:330, 40:440]
    assert (inner[alpha == 1] > 0).all() and (inner[alpha == 0] < 0.05).all()


def test_a_large_item_is_measured_at_a_quarter_with_an_exact_band_at_its_edge(monkeypatch):
    """The rule depends on the extent alone; lowered here, so that a small item is a large one."""
    document = piece(mark(lettering("O", 260), 200, 150), size=(400, 300))
    art = art_of(document)
    exact = read(distance_to_edge(art, art.extent, 150.0), Box(0, 0, 400, 300))
    monkeypatch.setattr(planes, "WHOLE_PIXELS", 40_000)
    large = distance_to_edge(art, art.extent, 150.0)
    assert large.far.factor == 4
    found = read(large, Box(0, 0, 400, 300))
    np.testing.assert_allclose(found[np.abs(exact) < 11], exact[np.abs(exact) < 11], atol=1 / 32)
    assert (
        np.abs(found - exact).max() < 2.5
    )  # of the reduced shape: about half of one of its pixels
    np.testing.assert_array_equal(read(large, Box(100, 50, 160, 90)), found[50:90, 100:160])


def test_labels_tell_connected_parts_apart_as_opencv_does():
    document = piece(mark(lettering("i i", 120), 150, 100), size=(300, 200))
    art = art_of(document)
    found = read(Labels(art, art.extent), Box(0, 0, 300, 200))
    alpha = read(Coverage(art), Box(0, 0, 300, 200))
    count, _ = cv2.connectedComponents((alpha > 0.02).astype(np.uint8), connectivity=8)
    assert found.max() == count - 1 == 4 and ((found > 0) == (alpha > 0.02)).all()


def test_a_whole_plane_is_worked_out_once_and_held_whatever_the_budget(monkeypatch):
    made, solved = [], FarDistance.solved
    monkeypatch.setattr(
        FarDistance, "solved", lambda self, cover: made.append(1) or solved(self, cover)
    )
    with STEPS.with_more(_rims):
        document = piece(mark(lettering("OX", 150), 200, 150, [asked("rim")]), size=(400, 300))
        engine.render(document, cache=ByteCache(1000), seen=None, tile=(64, 64))
    assert len(made) == 1


def _rims():
    """A step that works by planes: a wear from the edge inwards."""

    class Rim(Model):
        width: Length = setting(px(150), "Width", "How far in.", "length")

    def planes_of(settings, sources):
        return {
            "edge": distance_to_edge(
                sources.input, sources.whole, sources.frame.length(settings.width)
            )
        }

    @step(
        "rim",
        title="Rim",
        sentence="Wears from the edge.",
        gives="cover",
        settings=Rim,
        summary=lambda s: "",
        planes=planes_of,
    )
    def rim(settings, view):
        return Cover(view.plane("edge").clamped(1 / view.frame.length(settings.width)))


@pytest.mark.parametrize("width", [12, 150])
def test_a_step_that_works_by_a_plane_is_the_same_in_any_crop(width):
    with STEPS.with_more(_rims):
        document = piece(
            mark(lettering("OX", 150), 200, 150, [asked("rim", width=length(width))]),
            size=(400, 300),
        )
        whole = engine.render(document, cache=ByteCache(), seen=None)
        part = engine.render(
            document, (130, 60, 90, 111), cache=ByteCache(), seen=None, tile=(40, 33), threads=1
        )
        np.testing.assert_array_equal(part, whole[60:171, 130:220])


def test_a_view_refuses_what_was_not_declared():
    class Greedy(Model):
        pass

    def register():
        @step(
            "greedy",
            title="Greedy",
            sentence="",
            gives="remake",
            settings=Greedy,
            summary=lambda s: "",
            reach=lambda s, f: 3,
            planes=lambda s, sources: {"edge": distance_to_edge(sources.input, sources.whole, 9)},
            reads_beneath=True,
        )
        def greedy(settings, view):
            asked_for.append(1)
            return Remake(ways[0](view))

    asked_for = []
    ways = [
        lambda view: view.input(4),
        lambda view: view.beneath_luma(4),
        lambda view: view.plane_array("edge", 4),
    ]
    with STEPS.with_more(register):
        while ways:
            with pytest.raises(ValueError, match="asks for 4 px around its .*declared 3"):
                engine.render(
                    piece(mark(treatment=[asked("greedy")])), cache=ByteCache(), seen=None
                )
            ways.pop(0)
    assert len(asked_for) >= 3


def test_a_step_that_changes_alpha_alone_keeps_one_plane():
    """It is given, and gives, the alpha of art of one colour; what is stored is one plane."""

    class Nothing(Model):
        pass

    given = []

    def register():
        @step(
            "fatten",
            title="Fatten",
            sentence="",
            gives="remake",
            settings=Nothing,
            summary=lambda s: "",
            changes={"alpha"},
            reach=lambda s, f: 2,
        )
        def fatten(settings, view):
            planes = view.input(2)
            given.append(planes.shape[0])
            return Remake(np.maximum(planes[:, 2:-2, 4:], planes[:, 2:-2, :-4]))

    with STEPS.with_more(register):
        document = piece(
            mark(
                lettering("I", 120, "#306090"),
                treatment=[asked("fatten"), asked("soften", radius=length(1))],
            ),
            ground={"kind": "none"},
        )
        found = engine.render(document, cache=ByteCache(), seen=None)
        node = Plan(document).item(document.stack[0].id).node
    assert set(given) == {1} and node.input.tint is not None
    there = found[..., 3] > 0.01
    np.testing.assert_allclose(
        found[there][:, :3],
        np.broadcast_to(np.array([0x30, 0x60, 0x90]) / 255, (there.sum(), 3)),
        atol=1e-3,
    )


def test_a_halo_has_a_finite_extent():
    class Halo(Model):
        pass

    def register():
        @step(
            "halo",
            title="Halo",
            sentence="",
            gives="paint",
            settings=Halo,
            summary=lambda s: "",
            spills=lambda s: True,
            extent=lambda s, frame, box: box.expanded(10),
            planes=lambda s, sources: {"edge": distance_to_edge(sources.bare, sources.whole, 20)},
        )
        def halo(settings, view):
            near = view.plane("edge").clamped(0.1, 1.0)
            return Paint((near, near, near, near), False)

    with STEPS.with_more(register):
        document = piece(
            mark(lettering("I", 120), treatment=[asked("halo")]), ground={"kind": "none"}
        )
        plan = Plan(document)
        node = plan.item(document.stack[0].id).node
        found = engine.render(document, cache=ByteCache(), seen=None)[..., 3]
    assert node.extent == node.input.extent.expanded(10)
    rows, columns = np.nonzero(found > 0)
    assert columns.min() >= node.extent.left and columns.max() < node.extent.right and len(rows) > 0


@pytest.mark.parametrize("shape", ["straight", "round"])
def test_a_fade_is_its_formula(shape):
    plane = FadePlane(shape, (30.0, 20.0), (130.0, 95.0), 0.9, 0.2)
    found = read(plane, Box(-10, -20, 170, 140))
    y, x = np.mgrid[-20:140, -10:170] + 0.5
    along = (
        ((x - 30) * 100 + (y - 20) * 75) / 125**2
        if shape == "straight"
        else np.hypot(x - 30, y - 20) / 125
    )
    np.testing.assert_allclose(found, 0.9 - 0.7 * np.clip(along, 0, 1), atol=2e-6)


def test_regions_are_their_formulas():
    y, x = np.mgrid[0:120, 0:160] + 0.5
    u, v = (
        math.cos(0.4) * (x - 80) + math.sin(0.4) * (y - 60),
        math.cos(0.4) * (y - 60) - math.sin(0.4) * (x - 80),
    )
    found = read(
        RegionPlane("rectangle", (80.0, 60.0), (70.0, 40.0), 0.4, 8.0), Box(0, 0, 160, 120)
    )
    np.testing.assert_allclose(
        found, np.clip(0.5 - np.maximum(abs(u) - 35, abs(v) - 20) / 8, 0, 1), atol=2e-5
    )
    found = read(RegionPlane("ellipse", (80.0, 60.0), (70.0, 40.0), 0.4, 1.0), Box(0, 0, 160, 120))
    assert abs(found.sum() - math.pi * 35 * 20) < 4 and found[60, 80] == 1


def test_a_register_is_a_place_a_distance_and_an_angle():
    program = Program(Box(-50, -40, 60, 50))
    x, y = program.grid(1, 0, -3.25), program.grid(0, 1, 2.5)
    out = program.planes(
        (
            x,
            y,
            program.op("distance", x, y),
            program.op("angle", x, y),
            program.op("repeat", x, numbers=(7.0, 1.0)),
        )
    )
    program.run()
    v, u = np.mgrid[-40:50, -50:60] + 0.5
    u, v = u - 3.25, v + 2.5
    for found, true in zip(out, (u, v, np.hypot(u, v), np.arctan2(v, u), (u + 1) % 7), strict=True):
        np.testing.assert_allclose(found, true, atol=2e-5)


def test_a_pattern_is_made_of_places_without_arrays():
    """Stripes from a step of registers alone: the proof that patterns need no arrays; the same in
    any tile.
    """

    class Stripes(Model):
        every: float = setting(9.0, "Every", "Px.", "number", ge=1)

    def register():
        @step(
            "stripes",
            title="Stripes",
            sentence="",
            gives="paint",
            settings=Stripes,
            summary=lambda s: "",
        )
        def stripes(settings, view):
            cos, sin = math.cos(0.5), math.sin(0.5)
            place = view.program.op(
                "repeat", view.program.grid(cos, sin, 0), numbers=(settings.every, 0.0)
            )
            return Paint((place.clamped(1.0, -settings.every / 2),))

    with STEPS.with_more(register):
        document = piece(
            ground={"kind": "colour", "colour": "#808080"},
            size=(200, 150),
            treatment=[asked("stripes")],
        )
        whole = engine.render(document, cache=ByteCache(), seen=None)
        np.testing.assert_array_equal(
            engine.render(document, (60, 30, 77, 50), cache=ByteCache(), seen=None, tile=(16, 16)),
            whole[30:80, 60:137],
        )
    assert 0.4 < whole[..., 0].mean() < 0.6 and whole[..., 0].std() > 0.3


@settings(max_examples=60, deadline=None)
@given(st.data())
def test_any_coverage_has_a_finite_distance(data):
    """Compiled code that indexes by what it finds: odd sizes, and values that are no numbers."""
    height, width = data.draw(st.integers(1, 9)), data.draw(st.integers(1, 9))
    value = st.floats(-2, 3, width=32) | st.sampled_from([0.0, 1.0, float("nan"), float("inf")])
    size = height * width
    cover = np.array(data.draw(st.lists(value, min_size=size, max_size=size)), np.float32)
    most = data.draw(st.floats(0.01, 1000))
    found = signed_distance(cover.reshape(height, width), most)
    assert found.shape == (height, width) and (np.abs(found) <= np.float32(most)).all()
