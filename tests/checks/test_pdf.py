"""Pages of PDFs beside a general reader's (Poppler), and geometry worked out by hand.

Source of the format: ISO 32000-1:2008, 8.3 (coordinates: points, y upward), 8.5 (paths).
"""

import subprocess

import numpy as np
import pytest

from kilncore import engine
from kilncore.artwork.intake import brought_in
from kilncore.artwork.page import PageArt
from kilncore.errors import UnusableFile
from kilncore.pdf.pages import page_drawn, pages_of
from kilncore.system.cache import ByteCache
from tests.documents import mark, piece
from tests.pdfs import ENDLESS, LOCKED, MOON, SIGN, TWO, pdf

TEXT = "BT /F 30 Tf 10 60 Td (NIGHT) Tj ET"
STROKES = "6 w 20 40 m 60 20 140 20 180 40 c S 1 J [14 9] 0 d 3 w 20 100 m 180 120 l S"
FONT = "/Font << /F << /Type /Font /Subtype /Type1 /BaseFont /Helvetica-Bold >> >>"


def theirs(data, page, ppi, tmp_path):
    """(H, W, 3) by Poppler, on white."""
    (tmp_path / "a.pdf").write_bytes(data)
    asked = ["pdftoppm", "-r", str(ppi), "-f", str(page + 1), "-l", str(page + 1), "a.pdf", "out"]
    subprocess.run(asked, cwd=tmp_path, check=True)
    (found,) = tmp_path.glob("out*.ppm")
    kind, size, most, pixels = found.read_bytes().split(b"\n", 3)
    width, height = map(int, size.split())
    assert (kind, most) == (b"P6", b"255")
    return np.frombuffer(pixels, np.uint8).reshape(height, width, 3).astype(float)


def on_white(pixels):
    alpha = pixels[..., 3:] / 255
    return pixels[..., :3] * alpha + 255 * (1 - alpha)


@pytest.mark.parametrize(
    "content", [SIGN, STROKES, "1 0 0 1 30 20 cm 0.5 0.2 -0.2 0.5 40 0 cm " + SIGN]
)
def test_a_page_against_poppler(tmp_path, content):
    data = pdf((200, 150, content))
    scale = 150 / 72
    wanted = theirs(data, 0, 150, tmp_path)
    height, width = wanted.shape[:2]
    found = on_white(page_drawn(data, 0, (scale, 0, 0, scale, 0, 0), width, height))
    away = np.abs(found - wanted).max(2)
    # their edges are antialiased otherwise
    assert (away > 96).mean() < 0.012 and away.mean() < 3


def test_a_rectangle_lies_where_its_numbers_say():
    """20 30 100 60 re, on a page 150 points tall: from (20, 60) to (120, 120) from its top."""
    data = pdf((200, 150, "0 0 0 rg 20 30 100 60 re f"))
    alpha = page_drawn(data, 0, (2.0, 0, 0, 2.0, 0.5, 0.25), 400, 300)[..., 3] / 255
    assert alpha.sum() == pytest.approx(200 * 120, rel=2e-3)
    columns, rows = alpha.max(0), alpha.max(1)
    assert [np.flatnonzero(columns > 0.4)[n] for n in (0, -1)] == [40, 240]
    assert [np.flatnonzero(rows > 0.4)[n] for n in (0, -1)] == [120, 239]


def test_words_without_a_font_in_the_file_are_set_in_one_that_is_built_in():
    data = pdf((200, 150, TEXT), resources=FONT)
    alpha = page_drawn(data, 0, (2.0, 0, 0, 2.0, 0, 0), 400, 300)[..., 3]
    rows, columns = np.nonzero(alpha > 128)
    assert 180 - 60 < rows.min() < 180 - 36 and rows.max() <= 181
    assert columns.min() < 30 and 190 < columns.max() < 240


def test_turned_and_by_blocks_it_is_the_same_page():
    scale = 3.0
    whole = page_drawn(TWO, 0, (scale, 0, 0, scale, 0, 0), 600, 450)
    part = page_drawn(TWO, 0, (scale, 0, 0, scale, -250, -130), 200, 150)
    assert np.abs(part.astype(int) - whole[130:280, 250:450]).max() <= 8
    turned = page_drawn(TWO, 0, (0, scale, -scale, 0, 450, 0), 450, 600)
    away = np.abs(np.rot90(turned, 1).astype(int) - whole).max(2)
    assert (away > 40).mean() < 0.004


def test_pages_are_told_with_their_sizes_at_300_ppi():
    found = pages_of(TWO)
    assert found.count == 2
    np.testing.assert_allclose(found.sizes[0][:2], (200 * 300 / 72, 150 * 300 / 72), atol=0.01)
    np.testing.assert_allclose(found.sizes[1][:2], (140 * 300 / 72, 140 * 300 / 72), atol=0.01)
    came = brought_in(TWO)
    assert came.kind == "page" and came.data == TWO and len(came.facts["pages"]) == 2


def test_a_huge_page_is_drawn_no_larger_than_a_piece():
    ((width, height, scale),) = pages_of(pdf((14_000_000, 7_000_000, MOON))).sizes
    assert (width, height) == pytest.approx((20_000, 10_000), rel=1e-3) and scale < 1


@pytest.mark.parametrize(
    ("data", "word"),
    [
        (LOCKED, "password"),
        (b"%PDF-1.6\n", "empty"),
        (TWO[:150], "damaged"),
        (b"%PDF-1.4" + bytes(range(256)) * 40, "damaged"),
        (pdf(), "pages"),
    ],
)
def test_what_cannot_be_read_is_refused_in_one_sentence(data, word):
    with pytest.raises(UnusableFile, match=word):
        brought_in(data)


@pytest.mark.long
def test_forms_that_call_themselves_end_within_their_limit():
    try:
        pages_of(ENDLESS)
    except UnusableFile as error:
        assert "too long" in error.message


def test_a_page_on_a_piece_and_any_crop_of_it(store):
    name = store.keep(TWO)
    width, height, scale = pages_of(TWO).sizes[1]
    told = {"kind": "page", "hash": name, "page": 1, "width": width, "height": height}
    art = PageArt.model_validate(told | {"scale": scale})
    document = piece(mark(art.model_dump(), 200, 150, scale=0.4, rotation_deg=30), size=(400, 300))

    def drawn(box=None):
        return engine.pixels(document, box, 1.0, store, truly=True, cache=ByteCache(), seen=None)

    whole = drawn()
    assert (np.abs(whole[150, 200, :3].astype(int) - [242, 194, 77]) <= 2).all()
    np.testing.assert_array_equal(drawn((90, 60, 200, 150)), whole[60:210, 90:290])
    half = engine.pixels(document, None, 0.5, store)
    mean = whole.reshape(150, 2, 200, 2, -1).mean((1, 3))
    assert np.abs(half - mean).mean() < 1
