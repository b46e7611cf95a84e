"""Lettering, coverage, and SVGs: shaped right, filled right, and safe."""

import numpy as np
import pytest
from PIL import Image, ImageDraw

from kilncore.artwork.coverage import coverage
from kilncore.artwork.lettering import Lettering
from kilncore.artwork.vector import rasterised
from kilncore.errors import UnusableFile
from kilncore.model.units import px
from kilncore.svg.sanitising import sanitise
from kilncore.svg.weight import MAX_DRAWN
from kilncore.typesetting.fonts import FONTS, face


def edges_of(*points):
    return np.array([(*a, *b) for a, b in zip(points, points[1:] + points[:1], strict=True)], float)


def test_coverage_of_a_box_is_exact():
    cover = coverage(edges_of((1.25, 1.5), (4.5, 1.5), (4.5, 3.75), (1.25, 3.75)), 6, 5)
    np.testing.assert_allclose(cover[2], [0, 0.75, 1, 1, 0.5, 0], atol=1e-6)
    assert cover.sum() == pytest.approx(3.25 * 2.25, abs=1e-5)


def test_coverage_of_any_triangle_is_its_area(rng):
    for _ in range(50):
        points = [tuple(p) for p in rng.random((3, 2)) * 20]
        (ax, ay), (bx, by), (cx, cy) = points
        area = abs((bx - ax) * (cy - ay) - (cx - ax) * (by - ay)) / 2
        assert coverage(edges_of(*points), 20, 20).sum() == pytest.approx(area, abs=1e-3)


def test_coverage_of_a_crop_is_the_crop(rng):
    edges = edges_of(*[tuple(p) for p in rng.random((3, 2)) * 60 - 10])
    whole = coverage(edges, 40, 40)
    np.testing.assert_allclose(
        coverage(edges - [11, 7, 11, 7], 20, 25), whole[7:32, 11:31], atol=1e-6
    )


def test_coverage_against_pillow(rng):
    """Pillow fills the same shape at 16 times the size, made smaller by area."""
    points = [tuple(p) for p in rng.random((3, 2)) * 30 + 1]
    large = Image.new("L", (512, 512))
    ImageDraw.Draw(large).polygon([(16 * x, 16 * y) for x, y in points], fill=255)
    expected = np.asarray(large.resize((32, 32), Image.Resampling.BOX)) / 255
    assert (
        np.abs(coverage(edges_of(*points), 32, 32) - expected).max() < 0.15
    )  # Pillow's own edges are a pixel of 16 wide
    assert np.abs(coverage(edges_of(*points), 32, 32) - expected).mean() < 0.01


@pytest.mark.parametrize("font", FONTS)
def test_every_font_sets_words(font):
    art = Lettering(text="Åse & Gull 4", font=font, size=px(100))
    width, height = art.box_px(300, 1000)
    assert 200 < width < 1500 and 50 < height < 100
    assert len(art.outline().edges) > 100 and not art.notes()


def test_tracking_and_lines_as_set():
    """Tracking adds thousandths of the em after each letter but the last; a second line adds its
    spacing.
    """
    plain, spaced = (
        Lettering(text="OO", size=px(100), tracking=t).box_px(300, 1) for t in (1, 201)
    )
    assert spaced[0] - plain[0] == pytest.approx(20, abs=1e-6)
    two = Lettering(text="O\nO", size=px(100), line_spacing=1.5).box_px(300, 1)
    assert two[1] - plain[1] == pytest.approx(150, abs=1e-6)


def test_alignment_moves_the_shorter_line():
    lefts = []
    for align in ("left", "centre", "right"):
        art = Lettering(text="HHHH\nI", size=px(100), align=align)
        low = art.outline().edges[art.outline().edges[:, 1] > 0]
        lefts.append(low[:, 0].min())
    assert lefts[0] < lefts[1] < lefts[2]


def test_kerning_is_applied():
    """HarfBuzz kerns: AV is narrower than A and V apart (common practice)."""
    wide = sum(
        Lettering(text=t, font="josefin-sans-bold", size=px(100)).box_px(300, 1)[0] for t in "AV"
    )
    assert Lettering(text="AV", font="josefin-sans-bold", size=px(100)).box_px(300, 1)[0] < wide - 1


def test_missing_letters_are_named():
    (note,) = Lettering(text="Gull 海", font="anton", size=px(10)).notes()
    assert "海" in note and "room is left" in note


def test_empty_and_blank_words_draw_nothing():
    for text in ("", " ", "\n"):
        assert len(Lettering(text=text, size=px(100)).outline().edges) == 0


def test_cap_height_spans_the_box():
    art = Lettering(text="H", size=px(1000))
    ys = art.outline().edges[:, 1::2]
    used = face(art.font)
    assert np.ptp(ys) == pytest.approx(used.cap_height / used.units, rel=0.02)


def svg(body, head='viewBox="0 0 40 20"'):
    space = 'xmlns="http://www.w3.org/2000/svg" xmlns:xlink="http://www.w3.org/1999/xlink"'
    return f"<svg {space} {head}>{body}</svg>".encode()


RECT = '<rect width="10" height="10"/>'


def test_a_plain_drawing_stays_as_it_is():
    safe = sanitise(
        svg(
            '<style>.a{fill:#c00}</style><g transform="rotate(3)"><path class="a" d="M0 '
            '0h9v9z"/></g>'
        )
    )
    assert b"rotate(3)" in safe.data and b'fill="#cc0000"' in safe.data and not safe.left_out
    assert (safe.width, safe.height) == (40, 20)


@pytest.mark.parametrize(
    "body",
    [
        "<script>alert(1)</script>",
        '<rect onload="x()" width="1" height="1"/>',
        '<image href="file:///etc/passwd"/>',
        '<use href="http://127.0.0.1/a.svg#b"/>',
        '<foreignObject><b xmlns="http://www.w3.org/1999/xhtml">x</b></foreignObject>',
        '<style>@import url("http://127.0.0.1/a.css");</style>',
        '<rect style="fill:url(http://127.0.0.1/x)" width="1" height="1"/>',
        '<style>rect{fill:url("//127.0.0.1/x#a")}</style>',
        '<rect fill="u\\72l(http://127.0.0.1)" width="1" height="1"/>',
        '<a xlink:href="javascript:alert(1)"><rect width="1" height="1"/></a>',
        '<animate attributeName="x" onbegin="x()"/>',
        '<rect fill="url(data:image/svg+xml,x)" width="1" height="1"/>',
        '<filter id="f"><feImage href="file:///etc/passwd"/></filter>',
    ],
)
def test_what_reaches_out_or_runs_does_not_get_in(body):
    data = sanitise(svg(RECT + body)).data
    for forbidden in (
        b"script",
        b"onload",
        b"onbegin",
        b"file:",
        b"127.0.0.1",
        b"javascript",
        b"import",
        b"foreignObject",
        b"data:",
    ):
        assert forbidden not in data


def test_what_is_left_out_is_told():
    left_out = sanitise(svg(RECT + "<image/><filter/><video/>")).left_out
    assert any("placed pictures" in one for one in left_out) and "filter effects" in left_out
    assert "'video' parts" in left_out


BOMB = (
    "<defs><g id='a0'>"
    + RECT * 10
    + "</g>"
    + "".join(f"<g id='a{n}'>" + f"<use href='#a{n - 1}'/>" * 10 + "</g>" for n in range(1, 8))
    + "</defs><use href='#a7'/>"
)


@pytest.mark.parametrize(
    "data, reason",
    [
        (b"", "not an SVG"),
        (b"GIF89a", "not an SVG"),
        (b"<html></html>", "another name"),
        (svg(RECT)[:-8], "damaged"),
        (svg("<image/>"), "nothing to draw.*placed pictures"),
        (svg(""), "nothing to draw"),
        (svg(RECT, ""), "how large"),
        (svg(RECT, 'viewBox="0 0 0 0"'), "how large"),
        (svg("<g>" * 150 + RECT + "</g>" * 150), "levels deep"),
        (svg(BOMB), f"more than {MAX_DRAWN:,} parts"),
        (svg(RECT + "<g id='a'><use href='#a'/></g>"), "circle"),
        (
            svg(RECT + "<pattern id='p'><rect fill='url(#p)' width='1' height='1'/></pattern>"),
            "circle",
        ),
        (b" " * 9 * 2**20, "larger than 8 MB"),
    ],
)
def test_refusals_say_why(data, reason):
    with pytest.raises(UnusableFile, match=reason):
        sanitise(data)


def test_sizes_in_units():
    """CSS Values: 1 in is 96 px, 25.4 mm."""
    safe = sanitise(svg(RECT, 'width="25.4mm" height="0.5in"'))
    assert (safe.width, safe.height) == (pytest.approx(96), pytest.approx(48))


def test_a_drawing_is_placed_by_its_matrix():
    safe = sanitise(svg('<rect width="40" height="20" fill="#10c020"/>'))
    pixels = rasterised(safe.data, (40, 20), (2, 0, 0, 2, 60, 50), 120, 100)
    assert tuple(pixels[50, 60]) == (16, 192, 32, 255)
    assert pixels[..., 3].sum() / 255 == pytest.approx(80 * 40, rel=0.01)
    assert not pixels[:29].any() and not pixels[:, :19].any()


def test_one_crop_of_a_drawing_equals_that_of_the_whole():
    safe = sanitise(svg('<circle cx="20" cy="10" r="9" fill="#a0f"/>'))
    whole = rasterised(safe.data, (40, 20), (3, 1, -1, 3, 70, 60), 140, 120)
    part = rasterised(safe.data, (40, 20), (3, 1, -1, 3, 70 - 50, 60 - 30), 60, 70)
    np.testing.assert_array_equal(part, whole[30:100, 50:110])


def test_a_drawing_too_heavy_for_the_child_is_refused():
    safe = sanitise(svg('<rect width="40" height="20"/>'))
    with pytest.raises(UnusableFile, match="could not be drawn"):
        rasterised(safe.data, (40, 20), (1, 0, 0, 1, 0, 0), 40_000, 40_000)
