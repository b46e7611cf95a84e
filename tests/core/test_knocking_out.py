"""Knocking out a background, taking ink from paper: on pictures whose truth is known."""

import cv2
import numpy as np
import pytest
import pyvips

from kilncore.artwork.ink import ink_from_paper
from kilncore.artwork.knockout import knock_out
from kilncore.measure.background import holes_of
from kilncore.pixels import holes
from kilncore.pixels.likeness import near
from kilncore.pixels.oklab import distance, oklab
from kilncore.pixels.stored import of_floats, to_floats
from kilncore.prep.knock_out import knocked_out
from kilncore.prep.lighting import flattened

SIDE, FINER = 320, 8


def drawn(*layers) -> np.ndarray:
    """(H, W, 4) straight: antialiased shapes, ((kind, place), colour) from the bottom up."""
    rgb, alpha = np.zeros((SIDE, SIDE, 3)), np.zeros((SIDE, SIDE, 1))
    for (kind, *place), colour in layers:
        large = np.zeros((SIDE * FINER, SIDE * FINER), np.uint8)
        numbers = [round(number * FINER) for number in place]
        if kind == "disc":
            cv2.circle(large, numbers[:2], numbers[2], 255, -1)
        else:
            cv2.line(large, numbers[:2], numbers[2:4], 255, numbers[4])
        share = cv2.resize(large, (SIDE, SIDE), interpolation=cv2.INTER_AREA)[..., None] / 255
        rgb = rgb * (1 - share) + np.array(colour) * share
        alpha = alpha * (1 - share) + share
    straight = np.divide(rgb, alpha, out=np.zeros_like(rgb), where=alpha > 0)
    return np.dstack([straight, alpha])


SEAL = drawn(
    (("disc", 130, 130, 90), (0.75, 0.15, 0.1)),
    (("disc", 150, 140, 40), (0.95, 0.8, 0.2)),
    (("disc", 210, 120, 45), (0.1, 0.2, 0.5)),
    (("line", 20, 250, 300, 290, 6), (0.1, 0.45, 0.3)),
    (("line", 20, 280, 300, 312, 2), (0.1, 0.1, 0.1)),
)
RING = drawn((("disc", 160, 160, 120), (0.1, 0.1, 0.1)), (("disc", 160, 160, 114), (0.9, 0.3, 0.2)))


def on(truth, background) -> np.ndarray:
    """The truth on a plain background, in 8 bits."""
    flat = truth[..., :3] * truth[..., 3:] + np.array(background) * (1 - truth[..., 3:])
    return np.rint(flat * 255).astype(np.uint8)


def opaque(pixels) -> np.ndarray:
    return np.dstack([pixels / 255, np.ones(pixels.shape[:2])]).astype(np.float32)


def errors(found, truth) -> tuple[float, float]:
    """(alpha, fringe) in 255ths, rms, close to the edges: the fringe as it shows on other
    grounds.
    """
    edge = ((truth[..., 3] > 0.002) & (truth[..., 3] < 0.998)).astype(np.uint8)
    zone = cv2.dilate(edge, np.ones((7, 7))) > 0
    alpha = (found[..., 3] - truth[..., 3])[zone]
    fringe = [
        (found[..., :3] - ground) * found[..., 3:] - (truth[..., :3] - ground) * truth[..., 3:]
        for ground in (0, 1, np.array([0.2, 0.6, 0.3]))
    ]
    return tuple(
        255 * np.sqrt(np.mean(np.square(one))) for one in (alpha, [f[zone] for f in fringe])
    )


def colour(background) -> str:
    return "#" + "".join(f"{round(255 * c):02x}" for c in background)


@pytest.mark.parametrize("background", [(1, 1, 1), (0.93, 0.9, 0.85), (0.35, 0.75, 0.4)])
@pytest.mark.parametrize("truth", [SEAL, RING], ids=["seal", "ring"])
def test_a_clean_composite_is_taken_apart(truth, background):
    """Within 4 of 255 in alpha and 6 in fringe (rms): the bounds that the work was set."""
    found = knock_out(opaque(on(truth, background)), [colour(background)])
    alpha, fringe = errors(found, truth)
    assert alpha < 2 and fringe < 2, (alpha, fringe)


@pytest.mark.parametrize("truth", [SEAL, RING], ids=["seal", "ring"])
def test_a_jpeg_is_taken_apart(truth):
    """Within 4 and 10 (rms)."""
    pixels = on(truth, (1, 1, 1))
    image = pyvips.Image.new_from_memory(pixels.tobytes(), SIDE, SIDE, 3, "uchar")
    data = image.copy(interpretation="srgb").jpegsave_buffer(Q=90)
    read = np.frombuffer(pyvips.Image.new_from_buffer(data, "").write_to_memory(), np.uint8)
    found = knock_out(opaque(read.reshape(SIDE, SIDE, 3)), ["#ffffff"])
    alpha, fringe = errors(found, truth)
    assert alpha < 4.5 and fringe < 6, (alpha, fringe)
    whole = 255 * np.sqrt(np.mean((found[..., 3] - truth[..., 3]) ** 2))
    assert whole < 4


def test_without_unmixing_the_fringe_stays():
    """What un-mixing is for: the hard cut is many times further from the truth."""
    given = opaque(on(RING, (1, 1, 1)))
    hard, soft = (errors(knock_out(given, ["#ffffff"], unmix=un), RING)[1] for un in (False, True))
    assert hard > 10 * soft
    assert set(np.unique(knock_out(given, ["#ffffff"], unmix=False)[..., 3])) == {0, 1}


def test_holes_stay_unless_they_are_asked_for():
    ring = drawn((("disc", 160, 160, 120), (0.1, 0.1, 0.1)))
    pixels = on(ring, (1, 1, 1))
    pixels[120:200, 120:200] = 255
    border, all_ = (knock_out(opaque(pixels), ["#ffffff"], connected=c) for c in (True, False))
    assert border[160, 160, 3] == 1 and all_[160, 160, 3] == 0
    assert border[5, 5, 3] == 0 and all_[5, 5, 3] == 0


def test_several_colours_are_taken_out():
    pixels = on(RING, (1, 1, 1))
    pixels[:, :30] = (200, 220, 240)
    both = knock_out(opaque(pixels), ["#ffffff", "#c8dcf0"])
    one = knock_out(opaque(pixels), ["#ffffff"])
    assert both[:, :20, 3].max() == 0 and one[:, :20, 3].min() == 1


def test_the_tolerance_is_a_distance_in_oklab_with_a_and_b_doubled():
    """Ottosson's own example values of OKLab (2020) for white, and for the sRGB primaries (from
    memory: 0.6280, 0.2249, 0.1258 for red).
    """
    np.testing.assert_allclose(oklab(np.ones(3)), (1, 0, 0), atol=2e-4)
    np.testing.assert_allclose(oklab(np.array([1, 0, 0])), (0.6280, 0.2249, 0.1258), atol=5e-4)
    rng = np.random.default_rng(5)
    planes = rng.integers(0, 256, (3, 200, 200)).astype(np.uint8)
    for tolerance in (0.02, 0.1, 0.3):
        away = distance(np.moveaxis(planes, 0, 2) / 255, np.array([0.9, 0.85, 0.8]))
        found = near(planes, np.array([[0.9, 0.85, 0.8]]), tolerance)
        assert (found == (away <= tolerance)).all()


def test_the_edge_grows_shrinks_and_feathers():
    """A disc of radius r, its edge moved by d, has radius r + d: its area tells."""
    disc = drawn((("disc", 160, 160, 100), (0.2, 0.3, 0.6)))
    given = opaque(on(disc, (1, 1, 1)))
    for grow in (-5, -1.5, 2.5):
        found = knock_out(given, ["#ffffff"], grow_px=grow)
        radius = np.sqrt(found[..., 3].sum() / np.pi)
        assert radius == pytest.approx(100 + grow, abs=0.1)
    wide = knock_out(given, ["#ffffff"], grow_px=4)
    np.testing.assert_allclose(wide[160, 263, :3], (0.2, 0.3, 0.6), atol=0.02)  # not white
    soft = knock_out(given, ["#ffffff"], feather_px=8)[160, :, 3]
    assert 0.42 < soft[260] < 0.55 and 0.1 < soft[264] < 0.25 and soft[280] == 0


def test_alpha_that_a_picture_comes_with_stays():
    given = opaque(on(RING, (1, 1, 1)))
    given[:, 160:, 3] *= 0.5
    found = knock_out(given, ["#ffffff"])
    np.testing.assert_allclose(found[160, [100, 220], 3], (1, 0.5), atol=1e-4)


def test_no_colour_leaves_all_as_it_is():
    given = opaque(on(RING, (1, 1, 1)))
    np.testing.assert_allclose(knock_out(given, []), given, atol=1e-4)


@pytest.mark.parametrize(
    "change",
    [{"tolerance": -1}, {"tolerance": float("nan")}, {"grow_px": 99}, {"feather_px": -1}],
)
def test_numbers_out_of_bounds_are_refused(change):
    with pytest.raises(ValueError):
        knock_out(np.ones((4, 4, 4), np.float32), ["#ffffff"], **change)


@pytest.mark.parametrize("shape", [(4, 4), (4, 4, 3), (0, 4, 4)])
def test_what_is_no_image_is_refused(shape):
    for of in (lambda image: knock_out(image, ["#ffffff"]), ink_from_paper):
        with pytest.raises(ValueError):
            of(np.zeros(shape, np.float32))


@pytest.mark.parametrize("size", [(1, 1), (1, 9), (9, 1), (2, 3)])
def test_the_smallest_images_are_worked_on(size):
    image = np.ones((*size, 4), np.float32)
    assert knock_out(image, ["#ffffff"], grow_px=2, feather_px=1).shape == image.shape
    assert ink_from_paper(image)[..., 3].max() == 0


def test_ink_is_as_dense_as_it_is_dark():
    """A pixel half way between the points has half the ink."""
    grey = np.linspace(0, 1, 64)[None, :, None] * np.ones((4, 1, 3))
    found = ink_from_paper(np.dstack([grey, np.ones((4, 64))]), black=0.2, white=0.8)
    expected = np.clip((0.8 - grey[..., 0]) / 0.6, 0, 1)
    np.testing.assert_allclose(found[..., 3], expected, atol=1e-4)


def test_ink_laid_on_white_paper_is_the_drawing_again():
    """C = a F + (1 - a) W, for any colours: nothing is lost."""
    rng = np.random.default_rng(2)
    drawing = np.dstack([rng.random((40, 40, 3)), np.ones((40, 40))])
    found = ink_from_paper(drawing)
    again = found[..., :3] * found[..., 3:] + (1 - found[..., 3:])
    np.testing.assert_allclose(again, drawing[..., :3], atol=2e-4)
    light = ink_from_paper(drawing, inverted=True)
    np.testing.assert_allclose(light[..., :3] * light[..., 3:], drawing[..., :3], atol=2e-4)


def test_light_ink_is_dark_ink_in_the_negative():
    rng = np.random.default_rng(3)
    drawing = np.dstack([rng.random((20, 20, 3)), np.ones((20, 20))])
    negative = np.dstack([1 - drawing[..., :3], drawing[..., 3]])
    dark, light = (
        ink_from_paper(drawing, 0.1, 0.9),
        ink_from_paper(negative, 0.1, 0.9, inverted=True),
    )
    np.testing.assert_allclose(light[..., 3], dark[..., 3], atol=1e-4)


def test_uneven_light_is_evened_out():
    """Lines on paper under a known gradient: the paper comes out white, and the ink the same all
    over.
    """
    y, x = np.mgrid[:400, :600]
    light = 0.95 - 0.5 * (x / 600) * (y / 400)
    ink = ((x // 5 % 12 == 0) | (y // 5 % 14 == 0)).astype(float)
    paper = (1 - 0.8 * ink) * light
    planes = np.rint(np.repeat(paper[None], 3, 0) * 255).astype(np.uint8)
    found = flattened(planes)[0] / 255
    bare = cv2.erode((1 - ink).astype(np.uint8), np.ones((5, 5))) > 0
    assert np.abs(found[bare] - 1).mean() < 0.015 and np.abs(found[bare] - 1).max() < 0.09
    assert np.ptp(found[(ink > 0)]) < 0.05
    np.testing.assert_allclose(
        flattened(255 - planes, inverted=True), 255 - flattened(planes), atol=1
    )


def test_floats_and_planes_are_the_same_image():
    rng = np.random.default_rng(4)
    image = rng.random((9, 7, 4)).astype(np.float32)
    image[..., 3] = 0.3 + 0.7 * image[..., 3]
    np.testing.assert_allclose(to_floats(of_floats(image)), image, atol=1e-4)


def ringed(inside=255, noise=0.0):
    """A dark ring on white whose inside is a tone, with noise all over."""
    ring = drawn((("disc", 160, 160, 120), (0.1, 0.1, 0.1)))
    pixels = on(ring, (1, 1, 1)).astype(float)
    cv2.circle(pixels, (160, 160), 60, (inside,) * 3, -1, cv2.LINE_AA)
    pixels += np.random.default_rng(3).normal(0, noise, pixels.shape)
    return np.clip(np.rint(pixels), 0, 255).astype(np.uint8)


@pytest.mark.parametrize("inside, noise, goes", [(255, 0, 1), (254, 1.5, 1), (246, 0, 0)])
def test_holes_as_plain_as_the_border_go_too(inside, noise, goes):
    """A ring's inside of the background's own colour; not one that is shaded, though near it."""
    pixels = ringed(inside, noise)
    found = knocked_out(
        np.ascontiguousarray(np.moveaxis(pixels, 2, 0)),
        np.ones((1, 3)),
        0.1,
        True,
        0,
        0,
        True,
        True,
    )
    assert (found[3, 160, 160] == 0) == bool(goes) and found[3, 5, 5] == 0
    assert found[3, 160, 250] > 200, "the ring itself stays"
    assert holes_of(pixels, "#ffffff") == goes


def test_specks_are_no_holes_and_large_pictures_are_read_at_every_other_pixel(monkeypatch):
    pixels = ringed()
    pixels[100:102, 100:102] = 255
    planes = np.ascontiguousarray(np.moveaxis(pixels, 2, 0))
    cut = lambda: knocked_out(planes, np.ones((1, 3)), 0.1, True, 0, 0, True, True)[3]  # noqa: E731
    whole = cut()
    assert whole[100, 100] > 0
    monkeypatch.setattr(holes, "LABELLED", SIDE * SIDE // 4)
    assert np.abs(cut().astype(int) - whole).mean() < 0.5


@pytest.mark.parametrize("paper", [(1, 1, 1), (0.93, 0.9, 0.85)])
def test_dark_art_on_paper_from_a_jpeg_with_blurred_chroma(paper):
    """Within 4 of 255 in alpha (rms), at the quality below which JPEGs have half the chroma."""
    dark = drawn(
        (("disc", 130, 130, 90), (0.1, 0.12, 0.2)),
        (("disc", 240, 100, 50), (0.2, 0.1, 0.3)),
        (("line", 20, 250, 300, 290, 6), (0.15, 0.1, 0.1)),
    )
    pixels = on(dark, paper)
    image = pyvips.Image.new_from_memory(pixels.tobytes(), SIDE, SIDE, 3, "uchar")
    data = image.copy(interpretation="srgb").jpegsave_buffer(Q=88)
    read = np.frombuffer(pyvips.Image.new_from_buffer(data, "").write_to_memory(), np.uint8)
    found = knock_out(opaque(read.reshape(SIDE, SIDE, 3)), [colour(paper)])
    assert errors(found, dark)[0] < 4
